// The drawing beside the stage: its page, and below it what holds for the whole of it.
#pragma once

#include "drawing/drawing_view.h"
#include <QComboBox>
#include <QLabel>
#include <QPushButton>

namespace alder::app {

class DrawingPane : public QWidget {
  Q_OBJECT

 public:
  DrawingPane(Document& document, OpenDrawings& drawings, const Theme& theme);
  DrawingView& view() { return *view_; }

 private:
  void refresh();
  QString words() const;

  Document& document_;
  OpenDrawings& drawings_;
  const Theme& theme_;
  DrawingView* view_;
  QLabel *says_, *page_;
  QComboBox *unit_, *file_;
  QPushButton *back_, *forth_, *take_all_;
};

} // namespace alder::app
