#include "theme/symbols.h"

#include "base/units.h"
#include "requirement/modifiers.h"
#include "requirement/plane_indicator.h"
#include <QPainterPath>

namespace alder::app {
namespace {

QString geometricalFigure(const Requirement& r) {
  QString text;
  if (r.zone == Zone::Diametral) text = "⌀";
  if (r.zone == Zone::Spherical) text = "S⌀";
  text += QString::fromStdString(shortFigure(r.tolerance));
  for (const ModifierSign& sign : signsBehindValue(r, r.standard.value_or(ToleranceStandard::Iso)))
    text += " " + QString::fromStdString(sign.drawn);
  return text;
}

QString dimensionText(const Requirement& r) {
  QString text = QString::fromStdString(describe(r));
  return text.replace("ø", "⌀");
}

QString modifierLetter(MaterialModifier m) {
  return m == MaterialModifier::Maximum ? "M" : m == MaterialModifier::Least ? "L" : "";
}

// One box of the indicator: text, and modifiers in circles.
double boxWidth(const QFontMetricsF& m, const QString& text, const QString& modifiers,
                double height) {
  return m.horizontalAdvance(text) + (0.8 * static_cast<double>(modifiers.size()) + 0.55) * height;
}

} // namespace

void drawSymbol(QPainter& p, const QPointF& c, double size, Characteristic kind) {
  const double s = size / 2;
  const auto at = [&](double x, double y) { return c + QPointF(x * s, y * s); };
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  p.setBrush(Qt::NoBrush);
  const auto arrow = [&](double dx) {
    p.drawLine(at(-0.6 + dx, 0.7), at(0.3 + dx, -0.65));
    QPainterPath head;
    head.moveTo(at(0.42 + dx, -0.82));
    head.lineTo(at(0.0 + dx, -0.5));
    head.lineTo(at(0.32 + dx, -0.28));
    head.closeSubpath();
    p.fillPath(head, p.pen().color());
  };
  switch (kind) {
  case Characteristic::Straightness:
    p.drawLine(at(-0.85, 0), at(0.85, 0));
    break;
  case Characteristic::Flatness:
    p.drawPolygon(QPolygonF({at(-0.9, 0.5), at(0.35, 0.5), at(0.9, -0.5), at(-0.35, -0.5)}));
    break;
  case Characteristic::Roundness:
    p.drawEllipse(c, 0.72 * s, 0.72 * s);
    break;
  case Characteristic::Cylindricity:
    p.drawEllipse(c, 0.46 * s, 0.46 * s);
    p.drawLine(at(-0.95, 0.75), at(-0.2, -0.8));
    p.drawLine(at(0.2, 0.8), at(0.95, -0.75));
    break;
  case Characteristic::LineProfile:
  case Characteristic::SurfaceProfile: {
    QPainterPath path;
    path.moveTo(at(-0.85, 0.45));
    path.arcTo(QRectF(at(-0.85, -0.4), at(0.85, 1.3)), 180, -180);
    if (kind == Characteristic::SurfaceProfile) path.closeSubpath();
    p.drawPath(path);
    break;
  }
  case Characteristic::Parallelism:
    p.drawLine(at(-0.75, 0.75), at(0.05, -0.75));
    p.drawLine(at(-0.05, 0.75), at(0.75, -0.75));
    break;
  case Characteristic::Perpendicularity:
    p.drawLine(at(-0.8, 0.7), at(0.8, 0.7));
    p.drawLine(at(0, 0.7), at(0, -0.75));
    break;
  case Characteristic::Angularity:
    p.drawLine(at(-0.85, 0.55), at(0.85, 0.55));
    p.drawLine(at(-0.85, 0.55), at(0.7, -0.6));
    break;
  case Characteristic::Position:
    p.drawEllipse(c, 0.55 * s, 0.55 * s);
    p.drawLine(at(-0.95, 0), at(0.95, 0));
    p.drawLine(at(0, -0.95), at(0, 0.95));
    break;
  case Characteristic::Coaxiality:
    p.drawEllipse(c, 0.8 * s, 0.8 * s);
    p.drawEllipse(c, 0.4 * s, 0.4 * s);
    break;
  case Characteristic::Symmetry:
    p.drawLine(at(-0.85, 0), at(0.85, 0));
    p.drawLine(at(-0.5, -0.42), at(0.5, -0.42));
    p.drawLine(at(-0.5, 0.42), at(0.5, 0.42));
    break;
  case Characteristic::CircularRunout:
    arrow(0.05);
    break;
  case Characteristic::TotalRunout:
    arrow(-0.3);
    arrow(0.4);
    break;
  default:
    break;
  }
  p.restore();
}

double drawCallout(QPainter& p, const Theme& theme, const QPointF& origin, const Requirement& r,
                   double h, std::vector<QRectF>* cells) {
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  p.setFont(theme.figures(h > 20 ? 10.5 : 8.8));
  const QFontMetricsF metrics(p.font());
  const QColor ink = theme.color("ink");
  double x = origin.x();
  const double top = origin.y() - h / 2;
  p.setPen(QPen(ink, 1));
  if (isDimension(r.kind)) {
    const QString text = dimensionText(r);
    p.drawText(QRectF(x, top, 400, h), Qt::AlignVCenter | Qt::AlignLeft, text);
    p.restore();
    return x + metrics.horizontalAdvance(text);
  }
  const auto box = [&](double w) {
    p.setBrush(theme.color("field"));
    p.drawRect(QRectF(x, top, w, h));
    p.setBrush(Qt::NoBrush);
    if (cells) cells->push_back(QRectF(x, top, w, h));
  };
  box(1.35 * h);
  p.setPen(QPen(ink, 1.25));
  drawSymbol(p, {x + 0.675 * h, origin.y()}, 0.74 * h, r.kind);
  p.setPen(QPen(ink, 1));
  x += 1.35 * h;
  const auto cell = [&](const QString& text, const QString& modifiers) {
    const double w = boxWidth(metrics, text, modifiers, h);
    box(w);
    p.drawText(QRectF(x + 0.27 * h, top, w, h), Qt::AlignVCenter | Qt::AlignLeft, text);
    QPointF c(x + w - (0.8 * static_cast<double>(modifiers.size()) - 0.22) * h, origin.y());
    for (const QChar letter : modifiers) {
      p.drawEllipse(c, 0.36 * h, 0.36 * h);
      p.save();
      p.setFont(theme.figures(h > 20 ? 8.5 : 7.2));
      p.drawText(QRectF(c.x() - h, c.y() - h, 2 * h, 2 * h), Qt::AlignCenter, letter);
      p.restore();
      c.rx() += 0.8 * h;
    }
    x += w;
  };
  cell(geometricalFigure(r), QString::fromStdString(circledSigns(r)));
  for (const DatumReference& d : r.datums) {
    QString letters;
    for (const auto& l : d.letters)
      letters += (letters.isEmpty() ? "" : "-") + QString::fromStdString(l);
    cell(letters, modifierLetter(d.material));
  }
  // Pointed at the left: an intersection plane; at both ends: an orientation plane.
  const auto planes = [&](const PlaneIndicator& indicator, bool both) {
    const auto point = [&](double at, double out) {
      p.setBrush(theme.color("field"));
      p.drawPolygon(QPolygonF{{at, top}, {at + out, origin.y()}, {at, top + h}});
      p.setBrush(Qt::NoBrush);
    };
    x += 0.75 * h;
    point(x, -0.5 * h);
    const QString text = QString::fromStdString(symbol(indicator));
    const double w = boxWidth(metrics, text, {}, h);
    p.drawRect(QRectF(x, top, w, h));
    p.drawText(QRectF(x + 0.27 * h, top, w, h), Qt::AlignVCenter | Qt::AlignLeft, text);
    x += w;
    if (!both) return;
    point(x, 0.5 * h);
    x += 0.5 * h;
  };
  const std::vector<NamedIndicator> indicated = planeIndicators(r);
  for (const bool orientation : {false, true})
    for (const NamedIndicator& named : indicated)
      if (named.orientation == orientation) planes(named.planes, orientation);
  p.restore();
  return x;
}

} // namespace alder::app
