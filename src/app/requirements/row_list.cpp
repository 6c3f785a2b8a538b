#include "requirements/row_list.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollBar>

namespace alder::app {

RowList::RowList(const Theme& theme, QWidget* parent)
    : QListView(parent)
    , theme_(theme) {
  setDragEnabled(true);
}

// The place between two rows that is nearest.
int RowList::rowBefore(int y) const {
  const int rows = model()->rowCount();
  for (int row = 0; row < rows; ++row)
    if (y < visualRect(model()->index(row, 0)).center().y()) return row;
  return rows;
}

// Within this list alone: nothing is handed to other programs.
void RowList::startDrag(Qt::DropActions) {
  if (model() && !selectionModel()->selectedIndexes().empty())
    target_ = rowBefore(viewport()->mapFromGlobal(QCursor::pos()).y());
}

void RowList::mouseMoveEvent(QMouseEvent* event) {
  if (!target_) QListView::mouseMoveEvent(event); // may begin it
  if (!target_) return;
  if (!(event->buttons() & Qt::LeftButton)) return stop();
  const int y = event->position().toPoint().y();
  constexpr int kEdge = 24;
  if (y < kEdge || y > viewport()->height() - kEdge)
    verticalScrollBar()->setValue(verticalScrollBar()->value() + (y < kEdge ? -kEdge : kEdge));
  target_ = rowBefore(y);
  viewport()->setCursor(Qt::ClosedHandCursor);
  viewport()->update();
}

void RowList::mouseReleaseEvent(QMouseEvent* event) {
  if (!target_) return QListView::mouseReleaseEvent(event);
  const int row = *target_;
  stop();
  emit dropped(row);
}

void RowList::keyPressEvent(QKeyEvent* event) {
  if (target_ && event->key() == Qt::Key_Escape) return stop();
  const int by = event->key() == Qt::Key_Up ? -1 : event->key() == Qt::Key_Down ? 1 : 0;
  if (by != 0 && event->modifiers() & Qt::AltModifier) {
    emit shifted(by);
    return;
  }
  QListView::keyPressEvent(event);
}

void RowList::stop() {
  target_.reset();
  setState(NoState);
  viewport()->unsetCursor();
  viewport()->update();
}

void RowList::paintEvent(QPaintEvent* event) {
  QListView::paintEvent(event);
  if (!target_) return;
  const int rows = model()->rowCount();
  const QRect last = visualRect(model()->index(std::min(*target_, rows - 1), 0));
  const int y = *target_ < rows ? last.top() : last.bottom() + 1;
  QPainter p(viewport());
  p.setPen(QPen(theme_.color("accent"), 2));
  p.drawLine(8, y, viewport()->width() - 8, y);
}

} // namespace alder::app
