#include "report/deviation_plot.h"

#include "base/units.h"
#include <algorithm>
#include <cmath>
#include <map>

namespace alder {
namespace {

using Kind = DeviationPlot::Kind;
constexpr double kDot = 0.75, kRing = 1.25, kCaptionSize = 2.3, kCaptionHeight = 4; // mm
constexpr std::size_t kDotsUpTo = 200; // beyond, a line shows only the points that hold the zone

std::optional<Kind> plotKind(const Requirement& r, const Ideal& ideal) {
  const bool round = hasAxis(ideal) || ideal.type == SurfaceType::Sphere;
  switch (r.kind) {
  case Characteristic::Roundness:
    return Kind::Polar;
  case Characteristic::Straightness: // of lines on the surface; a median line has no touches
    if (r.zone == Zone::Diametral || r.of == Extracted::MedianLine || r.of == Extracted::Axis)
      return {};
    return Kind::Strip;
  case Characteristic::CircularRunout:
    return round ? Kind::Polar : Kind::Map;
  case Characteristic::Cylindricity:
  case Characteristic::TotalRunout:
  case Characteristic::Flatness:
  case Characteristic::SurfaceProfile:
  case Characteristic::LineProfile:
    return round ? Kind::Unrolled : Kind::Map;
  case Characteristic::Parallelism:
  case Characteristic::Perpendicularity:
  case Characteristic::Angularity:
  case Characteristic::Position:
    if (ideal.type == SurfaceType::Plane) return Kind::Map;
    return {};
  default:
    return {};
  }
}

struct Placed {
  DeviationPlot::Point point;
  int row = 0;
};

// Where each point is drawn, by its nominal place.
std::vector<Placed> placed(Kind kind, const NominalFeature& f, const MeasuredFeature& m,
                           const FeatureResult& result) {
  const bool flat = kind == Kind::Map || (kind == Kind::Strip && !hasAxis(f.ideal));
  Vec3 normal = f.ideal.direction;
  if (f.ideal.type == SurfaceType::Freeform) // seen against the middle of its touches
    if (auto plane = fitLeastSquares(Shape::Plane, m.points)) normal = plane->direction;
  const Frame inverse = frameOf(flat ? centroid(m.points) : f.ideal.point, normal).inverse();
  std::vector<Placed> all;
  for (std::size_t i = 0; i < m.points.size(); ++i) {
    if (!std::isfinite(result.deviations[i])) continue; // left out as an outlier
    const Vec3 q = inverse * (i < m.nominals.size() ? m.nominals[i] : m.points[i]);
    Placed p;
    p.point.u = flat ? q.x() : kind == Kind::Strip ? q.z() : std::atan2(q.y(), q.x());
    p.point.v = flat ? q.y() : q.z();
    p.point.deviation = result.deviations[i];
    for (const Contact& c : result.contacts)
      p.point.contact |= c.point == i;
    // The lines of a round feature are its touches of one direction.
    const bool generatrices = kind == Kind::Strip && !flat;
    p.row = generatrices        ? static_cast<int>(std::lround(degrees(std::atan2(q.y(), q.x()))))
            : i < m.rows.size() ? m.rows[i]
                                : 0;
    all.push_back(p);
  }
  return all;
}

// Of sections and lines the one with the widest range.
void keepWorstRow(std::vector<Placed>& all) {
  std::map<int, std::pair<double, double>> ranges;
  for (const Placed& p : all) {
    auto& [low, high] = ranges.try_emplace(p.row, 1e300, -1e300).first->second;
    low = std::min(low, p.point.deviation), high = std::max(high, p.point.deviation);
  }
  const auto widest = std::max_element(ranges.begin(), ranges.end(), [](auto& a, auto& b) {
    return a.second.second - a.second.first < b.second.second - b.second.first;
  });
  if (widest == ranges.end()) return;
  std::erase_if(all, [&](const Placed& p) { return p.row != widest->first; });
  std::sort(all.begin(), all.end(),
            [](const Placed& a, const Placed& b) { return a.point.u < b.point.u; });
}

// The lean of a line is no error of its straightness.
void level(std::vector<Placed>& all) {
  double mean_u = 0, mean_d = 0, uu = 0, ud = 0;
  const auto n = static_cast<double>(all.size());
  for (const Placed& p : all)
    mean_u += p.point.u / n, mean_d += p.point.deviation / n;
  for (const Placed& p : all) {
    uu += (p.point.u - mean_u) * (p.point.u - mean_u);
    ud += (p.point.u - mean_u) * (p.point.deviation - mean_d);
  }
  for (Placed& p : all)
    p.point.deviation -= mean_d + (uu > 0 ? ud / uu : 0) * (p.point.u - mean_u);
}

Ink mixedInk(const Ink& a, const Ink& b, double t) {
  return {a.r + t * (b.r - a.r), a.g + t * (b.g - a.g), a.b + t * (b.b - a.b), 1};
}

class PlotDrawing {
 public:
  PlotDrawing(const DeviationPlot& plot, const Area& area, const PlotInks& inks,
              const TextSetter& setter)
      : plot_(plot)
      , area_{area.x, area.y, area.w, area.h - kCaptionHeight}
      , inks_(inks)
      , setter_(setter) {
    if (plot.kind == Kind::Polar)
      polar();
    else if (plot.kind == Kind::Strip)
      strip();
    else
      places();
    text({area.x, area.bottom() - kCaptionHeight + 0.6, area.w, kCaptionHeight}, captionOf(plot_),
         inks_.second);
  }
  std::vector<Mark> take() { return std::move(marks_); }

 private:
  void text(const Area& area, const std::string& words, const Ink& ink) {
    marks_.push_back(TextMark{area, words, {Typeface::Figures, kCaptionSize, ink, Align::Middle}});
  }

  void dot(const Vec2& at, const DeviationPlot::Point& p) {
    const double half = std::max(plot_.zone / 2, 1e-9);
    const double centre = plot_.about_nominal ? plot_.middle : (plot_.low + plot_.high) / 2;
    marks_.push_back(RoundMark{at, kDot, 0.12, inks_.second,
                               deviationInk(inks_, (p.deviation - centre) / half)});
    if (p.contact) marks_.push_back(RoundMark{at, kRing, 0.28, inks_.ink, {}});
  }

  void dots(const std::vector<Vec2>& at) {
    for (std::size_t i = 0; i < at.size(); ++i)
      if (at.size() < kDotsUpTo || plot_.points[i].contact) dot(at[i], plot_.points[i]);
  }

  // Radius enlarged so that the allowed band is a third of it.
  void polar() {
    const Vec2 c = area_.middle();
    const double outer = std::min(area_.w, area_.h) / 2 - 1.5, base = 0.68 * outer;
    const double centre = (plot_.low + plot_.high) / 2;
    const double half = std::max({plot_.zone / 2, (plot_.high - plot_.low) / 2, 1e-9});
    const auto radius = [&](double d) { return base + (outer - base) * (d - centre) / half; };
    const double in = radius(centre - plot_.zone / 2), out = radius(centre + plot_.zone / 2);
    marks_.push_back(
        RoundMark{c, (in + out) / 2, std::max(out - in, 0.05), withAlpha(inks_.within, 0.1), {}});
    marks_.push_back(RoundMark{c, base, 0.2, inks_.line, {}});
    for (const double d : {plot_.low, plot_.high})
      marks_.push_back(RoundMark{c, radius(d), 0.2, inks_.second, {}, true});
    std::vector<Vec2> line;
    for (const auto& p : plot_.points)
      line.push_back(c + radius(p.deviation) * Vec2(std::cos(p.u), -std::sin(p.u)));
    marks_.push_back(LineMark{line, 0.25, inks_.ink, {}, true});
    dots(line);
  }

  void strip() {
    const Area a = area_.inner(1.8);
    const double from = plot_.points.front().u, span = std::max(plot_.points.back().u - from, 1e-9);
    const double centre = (plot_.low + plot_.high) / 2;
    const double half = 1.15 * std::max({plot_.zone / 2, (plot_.high - plot_.low) / 2, 1e-9});
    const double middle = a.middle().y(), band = a.h * plot_.zone / 2 / half;
    box({a.x, middle - band / 2, a.w, band}, 0, withAlpha(inks_.within, 0.1));
    marks_.push_back(LineMark{{{a.x, middle}, {a.right(), middle}}, 0.2, inks_.line});
    std::vector<Vec2> line;
    for (const auto& p : plot_.points)
      line.emplace_back(a.x + a.w * (p.u - from) / span,
                        middle - a.h / 2 * (p.deviation - centre) / half);
    marks_.push_back(LineMark{line, 0.25, inks_.ink});
    dots(line);
  }

  void box(const Area& a, double width, std::optional<Ink> fill) {
    marks_.push_back(
        LineMark{{{a.x, a.y}, {a.right(), a.y}, {a.right(), a.bottom()}, {a.x, a.bottom()}},
                 width,
                 inks_.line,
                 fill,
                 true});
  }

  void places() { // unrolled and map
    const Area a = area_.inner(3);
    double u0 = 1e300, u1 = -1e300, v0 = 1e300, v1 = -1e300;
    for (const auto& p : plot_.points) {
      u0 = std::min(u0, p.u), u1 = std::max(u1, p.u);
      v0 = std::min(v0, p.v), v1 = std::max(v1, p.v);
    }
    if (plot_.kind == Kind::Unrolled) u0 = -kPi, u1 = kPi;
    double su = a.w / std::max(u1 - u0, 1e-9), sv = a.h / std::max(v1 - v0, 1e-9);
    if (plot_.kind == Kind::Map) su = sv = std::min(su, sv); // true to scale
    const Area frame = a.inner(-1.4);
    box(frame, 0.2, {});
    for (int k = 1; k < 4 && plot_.kind == Kind::Unrolled; ++k) { // quarters of a turn
      const double x = a.x + k * a.w / 4;
      marks_.push_back(LineMark{{{x, frame.y}, {x, frame.bottom()}}, 0.2, inks_.line});
    }
    std::vector<Vec2> at;
    for (const auto& p : plot_.points)
      at.push_back(a.middle() + Vec2(su * (p.u - (u0 + u1) / 2), -sv * (p.v - (v0 + v1) / 2)));
    for (std::size_t i = 0; i < at.size(); ++i)
      dot(at[i], plot_.points[i]);
    const auto worst =
        std::max_element(plot_.points.begin(), plot_.points.end(), [](auto& x, auto& y) {
          return std::abs(x.deviation) < std::abs(y.deviation);
        });
    chip(at[static_cast<std::size_t>(worst - plot_.points.begin())], figure(worst->deviation, 4));
  }

  // The figure of a place, above it or, where there is no room, below.
  void chip(const Vec2& at, const std::string& words) {
    const TextExtent e =
        setter_.measure(words, {Typeface::Figures, kCaptionSize, inks_.ink, Align::Middle});
    Area chip{at.x() - e.width / 2 - 1, at.y() - e.height - 2.2, e.width + 2, e.height + 0.8};
    if (chip.y < area_.y) chip.y = at.y() + 1.6;
    chip.x = std::clamp(chip.x, area_.x, std::max(area_.x, area_.right() - chip.w));
    box(chip, 0.2, inks_.field);
    text({chip.x, chip.y + 0.4, chip.w, e.height}, words, inks_.ink);
  }

  const DeviationPlot& plot_;
  Area area_; // without the caption
  const PlotInks& inks_;
  const TextSetter& setter_;
  std::vector<Mark> marks_;
};

} // namespace

std::optional<DeviationPlot> deviationPlot(const Plan& plan, const Requirement& r,
                                           const Evaluation& e, const Measurements& measured) {
  if (e.features.empty()) return {};
  const FeatureResult& worst = e.features.front();
  const NominalFeature& f = plan.nominal(worst.feature);
  const auto m = measured.find(worst.feature);
  const auto kind = plotKind(r, f.ideal);
  if (!kind || m == measured.end() || worst.deviations.size() != m->second.points.size()) return {};
  DeviationPlot plot;
  plot.kind = *kind;
  plot.about_nominal = !isForm(r.kind) && !isRunout(r.kind);
  plot.zone = worst.allowed;
  plot.middle = worst.moved;
  auto all = placed(*kind, f, m->second, worst);
  if (*kind == Kind::Polar || *kind == Kind::Strip) keepWorstRow(all);
  if (all.size() < 2) return {};
  if (*kind == Kind::Strip) level(all);
  plot.low = plot.high = all.front().point.deviation;
  for (const Placed& p : all) {
    plot.low = std::min(plot.low, p.point.deviation);
    plot.high = std::max(plot.high, p.point.deviation);
    plot.points.push_back(p.point);
  }
  return plot;
}

std::string captionOf(const DeviationPlot& plot) {
  return figure(plot.low, 4) + " … " + figure(plot.high, 4) + " mm, allowed " +
         shortFigure(plot.zone);
}

Ink deviationInk(const PlotInks& inks, double share) {
  const double s = std::clamp(share, -1.0, 1.0);
  return mixedInk(inks.middle, s < 0 ? inks.low : inks.high, std::abs(s));
}

std::vector<Mark> drawPlot(const DeviationPlot& plot, const Area& area, const PlotInks& inks,
                           const TextSetter& setter) {
  return PlotDrawing(plot, area, inks, setter).take();
}

} // namespace alder
