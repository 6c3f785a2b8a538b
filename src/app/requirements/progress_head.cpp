#include "requirements/progress_head.h"

#include <QPainter>

namespace alder::app {

ProgressHead::ProgressHead(const QListView& list, const Theme& theme)
    : list_(list)
    , theme_(theme) {
  setObjectName("progressHead");
  setFixedHeight(sizeHint().height());
  setMinimumWidth(sizeHint().width());
  QSizePolicy policy = sizePolicy();
  policy.setRetainSizeWhenHidden(true); // the rows stay where they are in every desk
  setSizePolicy(policy);
  QString names;
  for (const ProgressCell& cell : kProgressCells)
    names += (names.isEmpty() ? "" : ", ") + QString(cell.head);
  setAccessibleName("Cells: " + names);
}

void ProgressHead::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setFont(theme_.text(7));
  p.setPen(theme_.color("second"));
  const QWidget& rows = *list_.viewport();
  const double right = mapFromGlobal(rows.mapToGlobal(QPoint(rows.width(), 0))).x();
  constexpr double kSlant = -58, kMiddle = 4; // degrees; half a cell
  for (std::size_t i = 0; i < kProgressCells.size(); ++i) {
    p.save();
    p.translate(right - kCellsFromRight + kCellPitch * static_cast<double>(i) + kMiddle, height() - 2);
    p.rotate(kSlant);
    p.drawText(QPointF(0, 4), kProgressCells[i].head);
    p.restore();
  }
}

} // namespace alder::app
