#include "theme/symbols.h"

#include "base/units.h"
#include "report/report_marks.h"
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
  const auto symbol = symbolOf(kind);
  if (!symbol) return;
  const double s = size / 2;
  const auto at = [&](const Vec2& v) { return c + QPointF(v.x() * s, v.y() * s); };
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  p.setBrush(Qt::NoBrush);
  for (const SymbolLine& line : linesOf(*symbol)) {
    if (line.circle) {
      const double radius = s * (line.points[1] - line.points[0]).norm();
      p.drawEllipse(at(line.points[0]), radius, radius);
      continue;
    }
    QPolygonF points;
    for (const Vec2& v : line.points)
      points << at(v);
    QPainterPath path;
    path.addPolygon(points);
    if (line.closed) path.closeSubpath();
    if (line.filled)
      p.fillPath(path, p.pen().color());
    else
      p.drawPath(path);
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
