// Small painted parts of the card: a callout, and the target picture of positions in their zone.
#pragma once

#include "document/document.h"
#include "theme/theme.h"
#include <QWidget>

namespace alder::app {

class CalloutLabel : public QWidget {
 public:
  CalloutLabel(const Theme& theme, Requirement requirement, std::optional<Verdict> verdict);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  const Theme& theme_;
  Requirement requirement_;
  std::optional<Verdict> verdict_;
  bool wide_ = false; // the verdict then stands below
};

// Where the axes of a pattern lie in a zone, with the zone and the zone with bonus.
class ZonePicture : public QWidget {
 public:
  ZonePicture(const Theme& theme, const Plan& plan, const Requirement& requirement,
              const Evaluation& evaluation);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  struct Mark {
    QPointF at;
    QString label;
    QPointF unshifted; // before a datum shift
    Verdict verdict;
  };
  const Theme& theme_;
  std::vector<Mark> marks_;
  double zone_, allowed_;
};

} // namespace alder::app
