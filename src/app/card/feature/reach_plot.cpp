#include "card/feature/reach_plot.h"

#include "base/units.h"
#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace alder::app {
namespace {

constexpr int kReachHeight = 196;
constexpr double kReachLeft = 30, kReachBottom = 48, kReachTop = 4;

QString degreesText(double angle) {
  return QString::number(std::lround(degrees(angle)));
}

} // namespace

ReachPlot::ReachPlot(const Theme& theme, const Access& now, QWidget* parent)
    : QWidget(parent)
    , theme_(theme)
    , now_(now) {
  setObjectName("reachPlot");
  setAccessibleName("Head angles that reach the feature");
  setFixedHeight(kReachHeight);
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
}

void ReachPlot::setMap(const ReachMap& map) {
  map_ = map;
  row_ = column_ = -1;
  for (int r = 0; r < map_.rows; ++r)
    for (int c = 0; c < map_.columns; ++c)
      if (std::abs(map_.at(r, c).a - now_.a) < 1e-6 && std::abs(map_.at(r, c).b - now_.b) < 1e-6)
        row_ = r, column_ = c;
  update();
}

QRectF ReachPlot::field() const {
  return {kReachLeft, kReachTop, width() - kReachLeft - 1, height() - kReachBottom - kReachTop};
}

QRectF ReachPlot::cellRect(int row, int column) const {
  const QRectF f = field();
  const double w = f.width() / map_.columns, h = f.height() / map_.rows;
  return {f.left() + column * w, f.bottom() - (row + 1) * h, w, h};
}

QPoint ReachPlot::centreOf(int row, int column) const {
  return cellRect(row, column).center().toPoint();
}

bool ReachPlot::cellAt(const QPointF& at, int& row, int& column) const {
  if (map_.cells.empty() || !field().contains(at)) return false;
  const QRectF f = field();
  column = std::clamp(static_cast<int>((at.x() - f.left()) / f.width() * map_.columns), 0,
                      map_.columns - 1);
  row = std::clamp(static_cast<int>((f.bottom() - at.y()) / f.height() * map_.rows), 0,
                   map_.rows - 1);
  return true;
}

QString ReachPlot::wordsAt(int row, int column) const {
  const ReachCell& c = map_.at(row, column);
  QString text = QString("A%1 B%2: ").arg(degreesText(c.a), degreesText(c.b));
  if (c.reach == Reach::Free) return text + "free";
  if (c.reach == Reach::Away) return text + "comes through the surface";
  text += QString("%1 %2 %3")
              .arg(QString::fromStdString(c.blocked.moving),
                   c.reach == Reach::Beyond ? QString("beyond the") : QString("meets"),
                   QString::fromStdString(c.blocked.still));
  if (c.reach == Reach::Some)
    text += QString(", %1 of %2 touches").arg(c.reached).arg(map_.touches);
  return text;
}

void ReachPlot::paintEvent(QPaintEvent*) {
  QPainter p(this);
  const QRectF f = field();
  p.fillRect(f, theme_.color("field"));
  p.setFont(theme_.text(8));
  p.setPen(theme_.color("second"));
  if (map_.cells.empty()) {
    p.drawText(f, Qt::AlignCenter, "trying the head angles …");
    return;
  }
  const QColor free = theme_.color("within"), clash = theme_.color("outside"),
               away = theme_.color("line");
  QColor some = free;
  some.setAlphaF(0.35f);
  QColor faint = clash;
  faint.setAlphaF(0.15f);
  for (int r = 0; r < map_.rows; ++r)
    for (int c = 0; c < map_.columns; ++c) {
      const QRectF cell = cellRect(r, c);
      switch (map_.at(r, c).reach) {
      case Reach::Free:
        p.fillRect(cell, free);
        break;
      case Reach::Some:
        p.fillRect(cell, some);
        break;
      case Reach::Clash: // told by its hatching too
        p.fillRect(cell, faint);
        p.fillRect(cell, QBrush(clash, Qt::BDiagPattern));
        break;
      case Reach::Beyond:
      case Reach::Away:
        p.fillRect(cell, away);
        break;
      }
    }
  p.setPen(QPen(theme_.color("line"), 1));
  p.drawRect(f);
  p.setPen(theme_.color("second"));
  p.setFont(theme_.figures(7.5));
  const ReachCell &first = map_.cells.front(), &last = map_.cells.back();
  for (const double share : {0.0, 0.5, 1.0}) {
    const double a = first.a + share * (last.a - first.a), b = first.b + share * (last.b - first.b);
    p.drawText(QRectF(0, f.bottom() - share * f.height() - 8, kReachLeft - 4, 16),
               Qt::AlignRight | Qt::AlignVCenter, "A" + degreesText(a));
    const double x = f.left() + share * f.width();
    p.drawText(QRectF(x - (share > 0.9   ? 46
                           : share < 0.1 ? 0
                                         : 24),
                      f.bottom() + 3, 48, 16),
               share > 0.9   ? Qt::AlignRight
               : share < 0.1 ? Qt::AlignLeft
                             : Qt::AlignHCenter,
               "B" + degreesText(b));
  }
  p.setRenderHint(QPainter::Antialiasing);
  for (int r = 0; r < map_.rows; ++r)
    for (int c = 0; c < map_.columns; ++c)
      if (const ReachCell& x = map_.at(r, c);
          std::abs(x.a - now_.a) < 1e-6 && std::abs(x.b - now_.b) < 1e-6) {
        p.setPen(QPen(theme_.color("ink"), 2));
        p.drawEllipse(cellRect(r, c).center(), 6, 6);
      }
  if (row_ < 0) return;
  p.setPen(QPen(theme_.color("accent"), 1.5));
  p.drawRect(cellRect(row_, column_).adjusted(-1.5, -1.5, 1.5, 1.5));
  p.setFont(theme_.text(8));
  p.setPen(theme_.color("ink"));
  p.drawText(QRectF(0, f.bottom() + 20, width(), kReachBottom - 20),
             Qt::AlignLeft | Qt::TextWordWrap, wordsAt(row_, column_));
}

void ReachPlot::mouseMoveEvent(QMouseEvent* e) {
  int row = 0, column = 0;
  if (!cellAt(e->position(), row, column)) return;
  row_ = row, column_ = column;
  update();
}

void ReachPlot::pick(int row, int column) {
  emit picked(map_.at(row, column).a, map_.at(row, column).b);
}

void ReachPlot::mousePressEvent(QMouseEvent* e) {
  int row = 0, column = 0;
  if (e->button() == Qt::LeftButton && cellAt(e->position(), row, column)) pick(row, column);
}

bool ReachPlot::event(QEvent* e) {
  if (e->type() == QEvent::ShortcutOverride) {
    const int key = static_cast<QKeyEvent*>(e)->key();
    if (key == Qt::Key_Left || key == Qt::Key_Right || key == Qt::Key_Up || key == Qt::Key_Down) {
      e->accept();
      return true;
    }
  }
  return QWidget::event(e);
}

void ReachPlot::keyPressEvent(QKeyEvent* e) {
  if (map_.cells.empty()) return QWidget::keyPressEvent(e);
  if (row_ < 0) row_ = column_ = 0;
  const int right = (e->key() == Qt::Key_Right) - (e->key() == Qt::Key_Left),
            up = (e->key() == Qt::Key_Up) - (e->key() == Qt::Key_Down);
  if (right != 0 || up != 0) {
    column_ = (column_ + right + map_.columns) % map_.columns; // B goes round
    row_ = std::clamp(row_ + up, 0, map_.rows - 1);
    update();
  } else if (e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter) {
    pick(row_, column_);
  } else {
    QWidget::keyPressEvent(e);
  }
}

} // namespace alder::app
