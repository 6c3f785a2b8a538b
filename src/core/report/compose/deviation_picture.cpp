#include "report/compose/deviation_picture.h"

#include "base/units.h"
#include "geometry/place_grid.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

using namespace inks;

constexpr double kWhiskerLong = 7;   // mm of paper for the largest deviation
constexpr double kRunTogether = 1.6; // mm of paper between points: a map is seen better
constexpr std::size_t kForMap = 60;  // points, at least
constexpr double kSeen = 0.4;        // mm behind what the picture shows
constexpr std::size_t kWorstNamed = 3;
const TextStyle kFigureStyle{Typeface::Figures, 2.4, kInk, Align::Left};
const TextStyle kSmallStyle{Typeface::Text, 2.3, kSecond, Align::Left};

// 1, 2 or 5 times a power of ten.
double roundedDown(double v) {
  const double power = std::pow(10, std::floor(std::log10(v)));
  const double lead = v / power;
  return power * (lead >= 5 ? 5 : lead >= 2 ? 2 : 1);
}

Points placesOf(const ReportRow& row) {
  Points places;
  for (const SeenPoint& p : row.points)
    places.push_back(p.place);
  return places;
}

// From limit to limit of the zone at one place.
void zoneBar(const Vec2& lower, const Vec2& upper, std::vector<Mark>& marks) {
  marks.push_back(LineMark{{lower, upper}, 0.9, withAlpha(kNone, 0.35), {}});
  for (const Vec2& limit : {lower, upper})
    marks.push_back(RoundMark{limit, 0.3, 0, kSecond, kSecond});
}

// Shares of half the zone about a place of a feature.
struct ShareMap {
  std::set<FaceId> faces;
  std::vector<double> shares;
  double spacing;
  PlaceGrid grid;

  ShareMap(const Plan& plan, const ReportRow& row, double half)
      : spacing(spacingOf(placesOf(row)))
      , grid(2 * spacing) {
    const auto& of = plan.nominal(row.worst).faces;
    faces.insert(of.begin(), of.end());
    for (const SeenPoint& p : row.points)
      grid.add(p.place), shares.push_back(p.deviation / half);
  }
  std::optional<double> at(const Vec3& place) const {
    const double reach = 1.4 * spacing;
    NearMean mean(reach);
    grid.near(place, reach, [&](std::size_t i, double distance) {
      mean.add(shares[i], distance);
      return false;
    });
    if (mean.empty() || mean.nearest() > spacing) return {};
    return mean.value();
  }
};

} // namespace

DeviationPicture::DeviationPicture(const std::vector<const ReportRow*>& rows, DeviationsAs as,
                                   const Place& place, ComposeContext& context)
    : place_(place)
    , as_(as)
    , c_(context) {
  const double scale = paperScale();
  double shown = 0;
  for (const ReportRow* row : rows) {
    const double half = std::max(row->zone_width / 2, 1e-9);
    double largest = 0;
    for (const SeenPoint& p : row->points)
      largest = std::max(largest, std::abs(p.deviation));
    for (const SeenDerived& d : row->derived)
      for (const Vec3& off : d.off)
        largest = std::max(largest, off.norm());
    if (largest <= 0) continue;
    const bool derived = !row->derived.empty();
    const bool zone = derived || as == DeviationsAs::Zone;
    // Those that are small beside the tolerance are not blown up to look large.
    shown = std::max({shown, largest, zone ? half : half / 5});
    const bool close =
        row->points.size() >= kForMap && spacingOf(placesOf(*row)) * scale < kRunTogether;
    const bool faces = !derived && row->worst.valid() && !c_.plan.nominal(row->worst).faces.empty();
    drawn_.push_back({row, half,
                      faces && (as == DeviationsAs::Map || (as == DeviationsAs::Suitable && close)),
                      derived});
  }
  magnified_ = roundedDown(kWhiskerLong / std::max(shown * scale, 1e-12));
}

double DeviationPicture::paperScale() const {
  const PartView& view = place_.view;
  const Vec3 up = view.up - view.up.dot(view.toward) * view.toward / view.toward.squaredNorm();
  return (onPaper(up.normalized()) - onPaper(Vec3::Zero())).norm();
}

Vec2 DeviationPicture::onPaper(const Vec3& p) const {
  return Vec2(place_.area.x, place_.area.y) + place_.picture.project(p) / place_.dots;
}

PartPicture::Tint DeviationPicture::tint() const {
  auto maps = std::make_shared<std::vector<ShareMap>>();
  for (const Drawn& d : drawn_)
    if (d.map) maps->emplace_back(c_.plan, *d.row, d.half);
  if (maps->empty()) return {};
  return [maps, inks = paperInks()](
             const PartPicture::Shown& shown) -> std::optional<std::array<float, 3>> {
    for (const ShareMap& map : *maps) {
      if (map.faces.count(shown.face) == 0) continue;
      const auto share = map.at(shown.place);
      if (!share) continue;
      const Ink color = deviationInk(inks, std::clamp(*share, -1.0, 1.0));
      return std::array{static_cast<float>(color.r), static_cast<float>(color.g),
                        static_cast<float>(color.b)};
    }
    return {};
  };
}

void DeviationPicture::whiskers(const Drawn& d, std::vector<Mark>& marks) const {
  const PlotInks inks = paperInks();
  const bool zone = as_ == DeviationsAs::Zone, points = as_ == DeviationsAs::Dots;
  for (const SeenPoint& p : d.row->points) {
    if (!place_.picture.visible(p.place, kSeen)) continue;
    const auto out = [&](double by) -> Vec2 {
      return onPaper(p.place + magnified_ * by * p.outward);
    };
    const Vec2 from = onPaper(p.place);
    const Ink color = deviationInk(inks, p.deviation / d.half);
    if (zone) zoneBar(out(-d.half), out(d.half), marks);
    if (!points) marks.push_back(LineMark{{from, out(p.deviation)}, 0.35, color, {}});
    marks.push_back(RoundMark{from, p.contact ? 0.75 : points ? 0.65 : 0.5, 0.12, kInk, color});
  }
}

// Of an axis in a round zone the cylinder, of a centre the ball, of a middle plane its width at
// each place; a planar zone of an axis lies as the datums say, and is not drawn.
void DeviationPicture::zoneOf(const SeenDerived& d, std::vector<Mark>& marks) const {
  const double radius = magnified_ * d.allowed / 2, on_paper = radius * paperScale();
  if (!d.round) {
    if (d.across)
      for (const Vec3& place : d.nominal)
        zoneBar(onPaper(place - radius * *d.across), onPaper(place + radius * *d.across), marks);
    return;
  }
  const Vec2 from = onPaper(d.nominal.front()), to = onPaper(d.nominal.back());
  if (!d.axis) {
    marks.push_back(RoundMark{from, on_paper, 0.15, kSecond, {}, true});
    return;
  }
  const Vec3 axis = (d.nominal.back() - d.nominal.front()).normalized(), u = anyPerpendicular(axis),
             v = axis.cross(u);
  for (const Vec3& end : {d.nominal.front(), d.nominal.back()}) {
    constexpr int kCorners = 40;
    LineMark ring{{}, 0.15, kSecond, {}, true, true};
    for (int k = 0; k < kCorners; ++k) {
      const double t = 2 * kPi * k / kCorners;
      ring.points.push_back(onPaper(end + radius * (std::cos(t) * u + std::sin(t) * v)));
    }
    marks.push_back(std::move(ring));
  }
  const Vec2 along = to - from;
  if (along.norm() < 0.5) return; // seen along it
  const Vec2 aside = on_paper * Vec2(-along.y(), along.x()).normalized();
  for (const Vec2& side : {aside, Vec2(-aside)})
    marks.push_back(LineMark{{from + side, to + side}, 0.15, kSecond, {}, false, true});
}

void DeviationPicture::chip(const Area& at, const std::string& words, const Ink& color,
                            std::vector<Mark>& marks) const {
  TextStyle style = kFigureStyle;
  style.ink = color;
  marks.push_back(
      LineMark{{{at.x, at.y}, {at.right(), at.y}, {at.right(), at.bottom()}, {at.x, at.bottom()}},
               0.15,
               kLine,
               kWhite,
               true});
  marks.push_back(TextMark{{at.x + 0.8, at.y + 0.3, 0, at.h - 0.6}, words, style});
}

// They lie inside the part, and are drawn over it.
void DeviationPicture::derived(const Drawn& drawn, std::vector<Mark>& marks) const {
  for (const SeenDerived& d : drawn.row->derived) {
    zoneOf(d, marks);
    const Ink color = inkOf(d.verdict);
    std::vector<Vec2> nominal, actual;
    for (std::size_t i = 0; i < d.nominal.size(); ++i) {
      nominal.push_back(onPaper(d.nominal[i]));
      actual.push_back(onPaper(d.nominal[i] + magnified_ * d.off[i]));
      if (!d.axis) marks.push_back(LineMark{{nominal[i], actual[i]}, 0.35, color, {}});
    }
    if (d.axis) {
      marks.push_back(LineMark{{nominal.front(), nominal.back()}, 0.2, kInk, {}, false, true});
      marks.push_back(LineMark{actual, 0.6, color, {}});
    }
    for (const Vec2& end : {actual.front(), actual.back()})
      marks.push_back(RoundMark{end, 0.6, 0.12, kInk, color});
    if (d.number.empty()) continue;
    const TextExtent e = c_.setter.measure(d.number, kFigureStyle);
    const Vec2& at = actual.back();
    chip({at.x() + 1.2, at.y() - e.height - 1, e.width + 1.6, e.height + 0.6}, d.number, color,
         marks);
  }
}

// The worst ones that are seen, well apart from each other, by their share of the tolerance.
void DeviationPicture::labels(std::vector<Mark>& marks) const {
  const Vec3 eye = place_.view.toward.normalized();
  const Area& all = place_.area;
  struct Candidate {
    const SeenPoint* point;
    double share;
    bool map;
  };
  std::vector<Candidate> order;
  for (const Drawn& d : drawn_)
    if (!d.derived)
      for (const SeenPoint& p : d.row->points)
        order.push_back({&p, std::abs(p.deviation) / d.half, d.map});
  std::stable_sort(order.begin(), order.end(),
                   [](const Candidate& a, const Candidate& b) { return a.share > b.share; });
  std::vector<Area> taken;
  for (const auto& [p, share, map] : order) {
    if (taken.size() == kWorstNamed) break;
    if (!place_.picture.visible(p->place, kSeen) || p->outward.dot(eye) < -0.2) continue;
    const bool drawn_out = !map && as_ != DeviationsAs::Dots;
    const Vec2 at = onPaper(p->place + (drawn_out ? magnified_ * p->deviation : 0.0) * p->outward);
    const std::string words = figure(p->deviation, 4);
    const TextExtent e = c_.setter.measure(words, kFigureStyle);
    Area label{at.x() + 1.2, at.y() - e.height - 1, e.width + 1.6, e.height + 0.6};
    label.x = std::clamp(label.x, all.x, std::max(all.x, all.right() - label.w));
    label.y = std::clamp(label.y, all.y, std::max(all.y, all.bottom() - label.h));
    if (std::any_of(taken.begin(), taken.end(),
                    [&](const Area& other) { return other.overlaps(label.inner(-4)); }))
      continue;
    taken.push_back(label);
    if (!drawn_out) marks.push_back(RoundMark{at, 0.5, 0.2, kInk, kWhite});
    chip(label, words, kInk, marks);
  }
}

std::vector<Mark> DeviationPicture::marks() const {
  std::vector<Mark> marks;
  for (const Drawn& d : drawn_)
    if (d.derived)
      derived(d, marks);
    else if (!d.map)
      whiskers(d, marks);
  labels(marks);
  return marks;
}

std::vector<Mark> DeviationPicture::scale(const Area& strip) const {
  std::vector<Mark> marks;
  const std::string times = "deviations × " + shortFigure(magnified_, 3);
  if (std::all_of(drawn_.begin(), drawn_.end(), [](const Drawn& d) { return d.derived; })) {
    TextStyle style = kSmallStyle;
    style.align = Align::Middle;
    const bool zone = std::any_of(drawn_.begin(), drawn_.end(), [](const Drawn& d) {
      return std::any_of(d.row->derived.begin(), d.row->derived.end(),
                         [](const SeenDerived& one) { return one.round || one.across; });
    });
    marks.push_back(TextMark{{strip.x, strip.y + 1.2, strip.w, 3},
                             times + (zone ? ", in the tolerance zone" : ""),
                             style});
    return marks;
  }
  const double y = strip.y + 1.2, wide = std::min(60.0, 0.5 * strip.w),
               x = strip.middle().x() - wide / 2;
  constexpr int kSteps = 24;
  const PlotInks inks = paperInks();
  for (int i = 0; i < kSteps; ++i) {
    const double a = x + wide * i / kSteps, b = x + wide * (i + 1) / kSteps;
    const Ink color = deviationInk(inks, 2.0 * (i + 0.5) / kSteps - 1);
    marks.push_back(LineMark{{{a, y}, {b, y}, {b, y + 1.6}, {a, y + 1.6}}, 0, color, color, true});
  }
  // Of several requirements each is coloured by its own tolerance.
  const double half = drawn_.front().half;
  const bool one = std::all_of(drawn_.begin(), drawn_.end(),
                               [&](const Drawn& d) { return std::abs(d.half - half) < 1e-9; });
  const std::pair<double, double> ends[]{{0, -half}, {0.5, 0}, {1, half}};
  for (const auto& [at, value] : ends) {
    const double tick = x + wide * at;
    marks.push_back(LineMark{{{tick, y - 0.4}, {tick, y + 2}}, 0.15, kInk, {}});
    TextStyle style = kFigureStyle;
    style.align = Align::Middle, style.size = 2.2;
    const std::string words = at == 0.5  ? (one ? "0 mm" : "0")
                              : one      ? shortFigure(value, 5)
                              : at < 0.5 ? "lower limit"
                                         : "upper limit";
    marks.push_back(TextMark{{tick - 12, y + 2, 24, 3}, words, style});
  }
  const bool drawn_out =
      as_ != DeviationsAs::Dots &&
      std::any_of(drawn_.begin(), drawn_.end(), [](const Drawn& d) { return !d.map; });
  if (drawn_out)
    marks.push_back(TextMark{
        {x + wide + 10, y - 0.6, 0, 3}, "deviations × " + shortFigure(magnified_, 3), kSmallStyle});
  return marks;
}

} // namespace alder
