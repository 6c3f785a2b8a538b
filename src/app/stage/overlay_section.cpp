// The section in words, and its frame, with what it is dragged by.
#include "base/units.h"
#include "stage/overlay.h"
#include <cmath>

namespace alder::app {

QString StageOverlay::sectionWords() const {
  const auto& section = document_.section();
  const auto plane = stage_.cutNow();
  if (!section || !plane) return {};
  const QString at = QString::fromStdString(figure(plane->at, 3)) + " mm";
  const QString feature =
      section->feature.valid()
          ? QString::fromStdString(document_.plan().nominal(section->feature).name)
          : QString();
  if (!section->way) return " · section of the view";
  switch (*section->way) {
  case SectionWay::AcrossX:
    return " · section at X " + at;
  case SectionWay::AcrossY:
    return " · section at Y " + at;
  case SectionWay::AcrossZ:
    return " · section at Z " + at;
  case SectionWay::AcrossFeature:
    return " · section across " + feature;
  case SectionWay::AlongFeature:
    return " · section along " + feature;
  }
  return {};
}

void StageOverlay::paintSection(QPainter& p) const {
  const auto frame = stage_.sectionFrame();
  if (!frame) return;
  QColor line = theme_.color("accent");
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(line, 1.2, Qt::DashDotLine)); // as drawings show a cutting plane
  QPolygonF around;
  for (const QPointF& corner : frame->corners)
    around << corner;
  p.drawPolygon(around);
  p.setPen(QPen(line, 2));
  p.setBrush(theme_.color("panel"));
  p.drawEllipse(frame->handle, 7, 7);
  // Two arrows along the way it is dragged.
  QPointF along = frame->along;
  if (std::hypot(along.x(), along.y()) < 0.1 * frame->scale) along = {0, 1};
  along /= std::max(1e-9, std::hypot(along.x(), along.y()));
  const QPointF aside(-along.y(), along.x());
  for (const double side : {-1.0, 1.0}) {
    const QPointF tip = frame->handle + 20 * side * along;
    p.drawLine(frame->handle + 8 * side * along, tip);
    p.drawLine(tip, tip - 6 * side * along + 5 * aside);
    p.drawLine(tip, tip - 6 * side * along - 5 * aside);
  }
}

} // namespace alder::app
