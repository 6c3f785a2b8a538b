#include "card/verdict/verdict_plot.h"

#include "base/units.h"
#include <QPainterPath>
#include <algorithm>
#include <cmath>
#include <optional>

namespace alder::app {
namespace {

constexpr int kPlotHeight = 214;
constexpr double kCaption = 20;

std::optional<VerdictPlot::Kind> kindFor(const Requirement& r, const Ideal& ideal) {
  using K = VerdictPlot::Kind;
  const bool round = hasAxis(ideal) || ideal.type == SurfaceType::Sphere;
  switch (r.kind) {
  case Characteristic::Roundness:
    return K::Polar;
  case Characteristic::Straightness: // of lines on the surface; a median line has no touches
    if (r.zone == Zone::Diametral || r.of == Extracted::MedianLine || r.of == Extracted::Axis)
      return {};
    return K::Strip;
  case Characteristic::CircularRunout:
    return round ? K::Polar : K::Map;
  case Characteristic::Cylindricity:
  case Characteristic::TotalRunout:
  case Characteristic::Flatness:
  case Characteristic::SurfaceProfile:
  case Characteristic::LineProfile:
    return round ? K::Unrolled : K::Map;
  case Characteristic::Parallelism:
  case Characteristic::Perpendicularity:
  case Characteristic::Angularity:
  case Characteristic::Position:
    if (ideal.type == SurfaceType::Plane) return K::Map;
    return {};
  default:
    return {};
  }
}

} // namespace

VerdictPlot* VerdictPlot::make(const Theme& theme, const Plan& plan, const Requirement& r,
                               const Evaluation& e, const Measurements& measured) {
  if (e.features.empty()) return nullptr;
  const FeatureResult& worst = e.features.front();
  const NominalFeature& f = plan.nominal(worst.feature);
  const auto m = measured.find(worst.feature);
  const auto kind = kindFor(r, f.ideal);
  if (!kind || m == measured.end() || worst.deviations.size() != m->second.points.size())
    return nullptr;
  auto* plot = new VerdictPlot(theme, *kind);
  plot->limits_ = !isForm(r.kind) && !isRunout(r.kind);
  plot->zone_ = worst.allowed;
  plot->middle_ = e.features.front().moved;
  plot->place(f, m->second, worst);
  if (*kind == Kind::Polar || *kind == Kind::Strip) plot->keepWorstRow();
  if (plot->marks_.size() < 2) {
    delete plot;
    return nullptr;
  }
  if (*kind == Kind::Strip) plot->level();
  plot->low_ = plot->high_ = plot->marks_.front().deviation;
  for (const Mark& mark : plot->marks_) {
    plot->low_ = std::min(plot->low_, mark.deviation);
    plot->high_ = std::max(plot->high_, mark.deviation);
  }
  const auto figureOf = [](double v) { return QString::fromStdString(figure(v, 4)); };
  plot->caption_ = QString("%1 … %2 mm, allowed %3")
                       .arg(figureOf(plot->low_), figureOf(plot->high_),
                            QString::fromStdString(shortFigure(worst.allowed)));
  return plot;
}

VerdictPlot::VerdictPlot(const Theme& theme, Kind kind)
    : theme_(theme)
    , kind_(kind) {
  setObjectName("verdictPlot");
  setFixedHeight(kPlotHeight);
  setAccessibleName("Plot of the deviations");
}

// Where each point is drawn, by its nominal place.
void VerdictPlot::place(const NominalFeature& f, const MeasuredFeature& m,
                        const FeatureResult& result) {
  const bool flat = kind_ == Kind::Map || (kind_ == Kind::Strip && !hasAxis(f.ideal));
  Vec3 normal = f.ideal.direction;
  if (f.ideal.type == SurfaceType::Freeform) // seen against the middle of its touches
    if (auto plane = fitLeastSquares(Shape::Plane, m.points)) normal = plane->direction;
  const Frame inverse = frameOf(flat ? centroid(m.points) : f.ideal.point, normal).inverse();
  for (std::size_t i = 0; i < m.points.size(); ++i) {
    const Vec3 q = inverse * (i < m.nominals.size() ? m.nominals[i] : m.points[i]);
    Mark mark;
    mark.u = flat ? q.x() : kind_ == Kind::Strip ? q.z() : std::atan2(q.y(), q.x());
    mark.v = flat ? q.y() : q.z();
    mark.deviation = result.deviations[i];
    for (const Contact& c : result.contacts)
      mark.contact |= c.point == i;
    if (!std::isfinite(mark.deviation)) continue; // left out as an outlier
    marks_.push_back(mark);
    // The lines of a round feature are its touches of one direction.
    const bool generators = kind_ == Kind::Strip && !flat;
    rows_.push_back(generators ? static_cast<int>(std::lround(degrees(std::atan2(q.y(), q.x()))))
                    : i < m.rows.size() ? m.rows[i]
                                        : 0);
  }
}

// The lean of a line is no error of its straightness.
void VerdictPlot::level() {
  double mean_u = 0, mean_d = 0, uu = 0, ud = 0;
  const auto n = static_cast<double>(marks_.size());
  for (const Mark& m : marks_)
    mean_u += m.u / n, mean_d += m.deviation / n;
  for (const Mark& m : marks_)
    uu += (m.u - mean_u) * (m.u - mean_u), ud += (m.u - mean_u) * (m.deviation - mean_d);
  for (Mark& m : marks_)
    m.deviation -= mean_d + (uu > 0 ? ud / uu : 0) * (m.u - mean_u);
}

// Of rings and lines the one with the widest range.
void VerdictPlot::keepWorstRow() {
  std::map<int, std::pair<double, double>> ranges;
  for (std::size_t i = 0; i < marks_.size(); ++i) {
    auto& [low, high] = ranges.try_emplace(rows_[i], 1e300, -1e300).first->second;
    low = std::min(low, marks_[i].deviation), high = std::max(high, marks_[i].deviation);
  }
  const auto widest = std::max_element(ranges.begin(), ranges.end(), [](auto& a, auto& b) {
    return a.second.second - a.second.first < b.second.second - b.second.first;
  });
  if (widest == ranges.end()) return;
  std::vector<Mark> kept;
  for (std::size_t i = 0; i < marks_.size(); ++i)
    if (rows_[i] == widest->first) kept.push_back(marks_[i]);
  std::sort(kept.begin(), kept.end(), [](const Mark& a, const Mark& b) { return a.u < b.u; });
  marks_ = std::move(kept);
}

void VerdictPlot::mark(QPainter& p, const QPointF& at, const Mark& m) const {
  const double half = std::max(zone_ / 2, 1e-9);
  const double centre = limits_ ? middle_ : (low_ + high_) / 2;
  const QColor color = theme_.deviationColor((m.deviation - centre) / half);
  p.setPen(QPen(theme_.color("second"), 0.7));
  p.setBrush(color);
  p.drawEllipse(at, 3.6, 3.6);
  if (!m.contact) return;
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(theme_.color("ink"), 1.3));
  p.drawEllipse(at, 6, 6);
}

void VerdictPlot::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  if (kind_ == Kind::Polar)
    paintPolar(p);
  else if (kind_ == Kind::Strip)
    paintStrip(p);
  else
    paintPlaces(p);
  p.setFont(theme_.figures(8));
  p.setPen(theme_.color("second"));
  p.drawText(QRectF(0, height() - kCaption, width(), kCaption), Qt::AlignCenter, caption_);
}

// Radius enlarged so that the allowed band is a third of it.
void VerdictPlot::paintPolar(QPainter& p) const {
  const QPointF c(width() / 2.0, (height() - kCaption) / 2);
  const double outer = (height() - kCaption) / 2 - 8;
  const double centre = (low_ + high_) / 2, base = 0.68 * outer;
  const double half = std::max({zone_ / 2, (high_ - low_) / 2, 1e-9});
  const auto radius = [&](double deviation) {
    return base + (outer - base) * (deviation - centre) / half;
  };
  QColor soft = theme_.color("within");
  soft.setAlphaF(0.09f);
  QPainterPath band;
  const double in = radius(centre - zone_ / 2), out = radius(centre + zone_ / 2);
  band.addEllipse(c, out, out);
  band.addEllipse(c, in, in);
  p.fillPath(band, soft);
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(theme_.color("line"), 1));
  p.drawEllipse(c, base, base);
  p.setPen(QPen(theme_.color("second"), 1, Qt::DashLine));
  for (const double d : {low_, high_})
    p.drawEllipse(c, radius(d), radius(d));
  const auto at = [&](const Mark& m) {
    return c + radius(m.deviation) * QPointF(std::cos(m.u), -std::sin(m.u));
  };
  QPolygonF line;
  for (const Mark& m : marks_)
    line << at(m);
  p.setPen(QPen(theme_.color("ink"), 1.2));
  p.drawPolygon(line);
  for (const Mark& m : marks_)
    if (marks_.size() < 200 || m.contact) mark(p, at(m), m);
}

void VerdictPlot::paintStrip(QPainter& p) const {
  const QRectF area(8, 8, width() - 16, height() - kCaption - 16);
  const double from = marks_.front().u, span = std::max(marks_.back().u - from, 1e-9);
  const double centre = (low_ + high_) / 2;
  const double half = 1.15 * std::max({zone_ / 2, (high_ - low_) / 2, 1e-9});
  const auto at = [&](const Mark& m) {
    return QPointF(area.left() + area.width() * (m.u - from) / span,
                   area.center().y() - area.height() / 2 * (m.deviation - centre) / half);
  };
  QColor soft = theme_.color("within");
  soft.setAlphaF(0.09f);
  const double band = area.height() * zone_ / 2 / half;
  p.fillRect(QRectF(area.left(), area.center().y() - band / 2, area.width(), band), soft);
  p.setPen(QPen(theme_.color("line"), 1));
  p.drawLine(QPointF(area.left(), area.center().y()), QPointF(area.right(), area.center().y()));
  QPolygonF line;
  for (const Mark& m : marks_)
    line << at(m);
  p.setPen(QPen(theme_.color("ink"), 1.2));
  p.drawPolyline(line);
  for (const Mark& m : marks_)
    if (marks_.size() < 200 || m.contact) mark(p, at(m), m);
}

void VerdictPlot::paintPlaces(QPainter& p) const {
  const QRectF area(10, 10, width() - 20, height() - kCaption - 20);
  double u0 = 1e300, u1 = -1e300, v0 = 1e300, v1 = -1e300;
  for (const Mark& m : marks_) {
    u0 = std::min(u0, m.u), u1 = std::max(u1, m.u);
    v0 = std::min(v0, m.v), v1 = std::max(v1, m.v);
  }
  if (kind_ == Kind::Unrolled) u0 = -kPi, u1 = kPi;
  const double du = std::max(u1 - u0, 1e-9), dv = std::max(v1 - v0, 1e-9);
  double su = area.width() / du, sv = area.height() / dv;
  if (kind_ == Kind::Map) su = sv = std::min(su, sv); // true to scale
  const auto at = [&](const Mark& m) {
    return area.center() + QPointF(su * (m.u - (u0 + u1) / 2), -sv * (m.v - (v0 + v1) / 2));
  };
  p.setPen(QPen(theme_.color("line"), 1));
  p.setBrush(Qt::NoBrush);
  p.drawRect(area.adjusted(-6, -6, 6, 6));
  if (kind_ == Kind::Unrolled) { // quarters of a turn
    for (int k = 1; k < 4; ++k)
      p.drawLine(QPointF(area.left() + k * area.width() / 4, area.top() - 6),
                 QPointF(area.left() + k * area.width() / 4, area.bottom() + 6));
  }
  for (const Mark& m : marks_)
    mark(p, at(m), m);
  p.setFont(theme_.figures(7.5));
  p.setPen(theme_.color("ink"));
  const auto worst = std::max_element(marks_.begin(), marks_.end(), [](auto& a, auto& b) {
    return std::abs(a.deviation) < std::abs(b.deviation);
  });
  const QString label = QString::fromStdString(figure(worst->deviation, 4));
  const QPointF place = at(*worst);
  const double w = QFontMetricsF(p.font()).horizontalAdvance(label) + 8;
  QRectF chip(place.x() - w / 2, place.y() - 24, w, 15);
  if (chip.top() < 0) chip.moveTop(place.y() + 9);
  chip.moveLeft(std::clamp(chip.left(), 0.0, width() - w));
  p.setPen(QPen(theme_.color("line"), 1));
  p.setBrush(theme_.color("field"));
  p.drawRoundedRect(chip, 3, 3);
  p.setPen(theme_.color("ink"));
  p.drawText(chip, Qt::AlignCenter, label);
}

} // namespace alder::app
