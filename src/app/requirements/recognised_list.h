// Under the requirements of a part whose model carries none: what is recognised on it and not asked
// for yet. What is selected there is picked, and typed on at once.
#pragma once

#include "document/document.h"
#include "requirement/typed/surface_groups.h"
#include "theme/theme.h"
#include <QLabel>
#include <QListWidget>

namespace alder::app {

class RecognisedList : public QWidget {
  Q_OBJECT

 public:
  RecognisedList(Document& document, const Theme& theme, QWidget* parent = nullptr);
  QListWidget& list() { return *list_; }
  void refresh(bool wanted); // shows itself where there is something to show
  void syncSelection();

 signals:
  void typeWanted();

 private:
  void pick();
  bool isPicked(const SurfaceGroup& group) const;

  Document& document_;
  QLabel* title_;
  QListWidget* list_;
  std::vector<SurfaceGroup> groups_;
  PartPtr part_; // that they are of, and what was asked for then
  Specification spec_;
};

} // namespace alder::app
