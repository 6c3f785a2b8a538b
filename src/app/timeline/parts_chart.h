// The parts measured so far, one mark a part, for the selected requirement. Lives where the
// timeline is, in the Verdict desk.
#pragma once

#include "document/document.h"
#include "theme/empty_hint.h"
#include "theme/theme.h"
#include <QWidget>

namespace alder::app {

class PartsChart : public QWidget {
  Q_OBJECT

 public:
  PartsChart(Document& document, const Theme& theme, QWidget* parent = nullptr);

 signals:
  void wanted(const QString& action); // of the window, by its name

 protected:
  void resizeEvent(QResizeEvent* event) override;
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  double pitch() const; // from one part to the next
  QPointF place(std::size_t index, double value) const;
  double stepsHeight() const; // of the lane of moving ranges, none for few parts
  void drawSteps(QPainter& p, const Requirement& r, const PartHistory& history) const;
  struct Range {
    double low = 0, high = 1, lower = 0, upper = 0;
    bool two_sided = false;
  };
  Range rangeOf(const Requirement& r) const;
  void drawParts(QPainter& p, const Requirement& r, const Range& range) const;
  void drawNames(QPainter& p) const;
  void refreshEmpty();

  Document& document_;
  const Theme& theme_;
  EmptyHint* empty_;
};

} // namespace alder::app
