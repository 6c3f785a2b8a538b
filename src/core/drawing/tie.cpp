#include "drawing/tie.h"

#include "base/units.h"
#include "drawing/pointed.h"
#include "requirement/limits.h"
#include <algorithm>
#include <cmath>
#include <map>
#include <set>

namespace alder {
namespace {

using K = Characteristic;

constexpr double kSameFigure = 0.006; // mm between a drawing's figure and the model's
constexpr double kSameTurn = 1e-3;    // rad
constexpr double kOnOutline = 0.6;    // mm on the sheet
constexpr double kOnLevel = 0.35;     // mm on the sheet
constexpr double kBesideView = 90;    // mm on the sheet that a dimension stands off its view
constexpr std::size_t kMostOffered = 6;

bool alikeSurfaces(const Ideal& a, const Ideal& b) {
  return a.type == b.type && a.hole == b.hole && std::abs(a.diameter - b.diameter) < 1e-3 &&
         std::abs(a.length - b.length) < 1e-3;
}

bool suits(const Requirement& r, const Ideal& i) {
  const bool plane = i.type == SurfaceType::Plane, axis = hasAxis(i),
             sphere = i.type == SurfaceType::Sphere;
  if (r.zone == Zone::Diametral && !axis && !sphere) return false;
  if (r.zone == Zone::Spherical && !sphere) return false;
  switch (r.kind) {
  case K::Flatness:
    return plane;
  case K::Cylindricity:
    return i.type == SurfaceType::Cylinder;
  case K::Roundness:
  case K::CircularRunout:
  case K::TotalRunout:
    return axis || sphere || (plane && isRunout(r.kind));
  case K::Coaxiality:
    return axis || sphere;
  case K::LineProfile:
  case K::SurfaceProfile:
    return true;
  default:
    return plane || axis || sphere;
  }
}

class Tier {
 public:
  Tier(const DrawingReading& reading, const std::vector<DrawingSheet>& sheets,
       const PartModel& part)
      : reading_(reading)
      , part_(part) {
    std::vector<double> scales = reading.scales;
    if (scales.empty()) scales = {1, 2, 0.5};
    for (const DrawingSheet& sheet : sheets) {
      ties_.views.push_back(viewsOn(strokesOf(sheet), sheet.size, part, scales));
      pointed_.emplace_back();
      for (const DrawnView& v : ties_.views.back())
        pointed_.back().emplace_back(part, v);
    }
    ties_.suggestions.resize(reading.proposals.size());
  }

  DrawingTies tie() {
    if (!reading_.proposals.empty()) first_page_ = reading_.proposals.front().page;
    std::map<int, std::vector<std::size_t>> callouts;
    for (std::size_t i = 0; i < reading_.proposals.size(); ++i) {
      const DrawingProposal& p = reading_.proposals[i];
      if (p.as != ProposedAs::Requirement && p.as != ProposedAs::Datum) continue;
      if (p.callout > 0)
        callouts[p.callout].push_back(i);
      else
        callout({i});
    }
    for (const auto& [number, members] : callouts)
      callout(members);
    return std::move(ties_);
  }

 private:
  using Suggestions = std::vector<FeatureSuggestion>;
  const Ideal& ideal(std::size_t s) const { return part_.surfaces[s].ideal; }

  FeatureSuggestion suggest(const std::vector<std::size_t>& surfaces, std::string why,
                            bool sure) const {
    FeatureSuggestion s;
    for (const std::size_t i : inLine(surfaces))
      s.faces.insert(s.faces.end(), part_.surfaces[i].faces.begin(), part_.surfaces[i].faces.end());
    std::sort(s.faces.begin(), s.faces.end());
    s.why = std::move(why), s.sure = sure;
    return s;
  }

  // With the planes that lie in one with them: a groove parts a face, and not what is asked of it.
  std::vector<std::size_t> inLine(const std::vector<std::size_t>& surfaces) const {
    std::set<std::size_t> all(surfaces.begin(), surfaces.end());
    for (const std::size_t i : surfaces) {
      if (ideal(i).type != SurfaceType::Plane) continue;
      for (std::size_t k = 0; k < part_.surfaces.size(); ++k)
        if (ideal(k).type == SurfaceType::Plane &&
            (ideal(k).direction - ideal(i).direction).norm() < 1e-6 &&
            std::abs(ideal(i).direction.dot(ideal(k).point - ideal(i).point)) < 1e-4)
          all.insert(k);
    }
    return {all.begin(), all.end()};
  }

  // The dimension tells the feature; what stands below it is of the same.
  void callout(const std::vector<std::size_t>& members) {
    Suggestions of_dimension;
    for (const std::size_t i : members) {
      const DrawingProposal& p = reading_.proposals[i];
      if (p.as != ProposedAs::Requirement || !isDimension(p.typed.back().requirement.kind))
        continue;
      ties_.suggestions[i] = ofDimension(p);
      if (of_dimension.empty()) of_dimension = ties_.suggestions[i];
    }
    for (FeatureSuggestion& s : of_dimension)
      if (s.sure) s.why = "below the dimension of it";
    Suggestions of_indicator = of_dimension;
    for (const std::size_t i : members) {
      const DrawingProposal& p = reading_.proposals[i];
      if (p.as != ProposedAs::Requirement || isDimension(p.typed.back().requirement.kind)) continue;
      ties_.suggestions[i] = of_dimension.empty() ? ofIndicator(p) : of_dimension;
      if (of_indicator.empty()) {
        of_indicator = ties_.suggestions[i];
        for (FeatureSuggestion& s : of_indicator)
          if (s.sure) s.why = "below the indicator of it";
      }
    }
    for (const std::size_t i : members) {
      const DrawingProposal& p = reading_.proposals[i];
      if (p.as != ProposedAs::Datum) continue;
      ties_.suggestions[i] = ofDatum(p);
      if (ties_.suggestions[i].empty()) ties_.suggestions[i] = of_indicator;
    }
  }

  // Views of the page, those nearest to the place first.
  std::vector<std::size_t> viewsNear(int page, const Vec2& place, double within) const {
    const auto at = static_cast<std::size_t>(page - first_page_);
    std::vector<std::pair<double, std::size_t>> order;
    if (at < ties_.views.size())
      for (std::size_t v = 0; v < ties_.views[at].size(); ++v) {
        const double off = std::sqrt(ties_.views[at][v].area.squaredExteriorDistance(place));
        if (off <= within) order.emplace_back(off, v);
      }
    std::sort(order.begin(), order.end());
    std::vector<std::size_t> views;
    for (const auto& [off, v] : order)
      views.push_back(v);
    return views;
  }
  const PointedSurfaces& pointed(int page, std::size_t view) const {
    return pointed_[static_cast<std::size_t>(page - first_page_)][view];
  }
  const DrawnView& view(int page, std::size_t v) const {
    return ties_.views[static_cast<std::size_t>(page - first_page_)][v];
  }

  std::vector<PointedSurface> at(int page, const Vec2& tip) const {
    for (const std::size_t v : viewsNear(page, tip, 2)) {
      auto found = pointed(page, v).at(tip, kOnOutline);
      if (!found.empty()) return found;
    }
    return {};
  }

  Suggestions ofDimension(const DrawingProposal& p) {
    const Typed& t = p.typed.back();
    if (t.requirement.kind == K::Angle) return ofAngle(p, t.requirement.nominal);
    if (!t.kind_open && t.requirement.kind == K::Size) return ofSize(p, t);
    Suggestions found = ofDistance(p, t);
    if (found.empty()) found = ofSize(p, t);
    if (found.empty()) found = planesApart(t);
    return found;
  }

  bool hasFigure(const Typed& t, double model) const {
    const Requirement& r = t.requirement;
    if (std::abs(model - r.nominal) < kSameFigure) return true;
    // A single limit is not the model's figure; that lies within it, and not far off.
    constexpr double kFar = 3;
    if (hasSingleLimit(r))
      return hasUpper(r) ? model < r.upper + 1e-6 && kFar * model > r.upper
                         : model > r.lower - 1e-6 && model < kFar * r.lower;
    // Of limits the middle is no figure of the drawing.
    const bool limits =
        !t.limits_open && r.fit.empty() && std::abs((r.lower + r.upper) / 2 - r.nominal) < 1e-9;
    return limits && model > r.lower - 1e-6 && model < r.upper + 1e-6;
  }

  // Both ends of a dimension line lie on the outline, to the left and right of its axis.
  bool spans(const DrawingProposal& p, std::size_t surface) const {
    const Ideal& i = ideal(surface);
    for (const Pointer& pointer : p.pointers) {
      if (pointer.kind != PointerKind::DimensionLine || !pointer.other) continue;
      const Vec2 middle = (pointer.tip + *pointer.other) / 2;
      const Vec2 along = (*pointer.other - pointer.tip).normalized();
      for (const std::size_t v : viewsNear(p.page, middle, kBesideView)) {
        const DrawnView& seen = view(p.page, v);
        const double apart = (*pointer.other - pointer.tip).norm() / seen.scale;
        if (std::abs(apart - i.diameter) > kOnLevel / seen.scale) continue;
        const Vec3 direction = along.x() * seen.right + along.y() * seen.up;
        if (hasAxis(i) && std::abs(i.direction.dot(direction)) > 1e-4) continue;
        const double off = std::abs(along.dot(seen.onSheet(i.point) - middle));
        if (off < kOnLevel) return true;
      }
    }
    return false;
  }

  std::string figure(const Typed& t) const {
    const Requirement& r = t.requirement;
    const std::string sign = r.radius                    ? "R"
                             : r.zone == Zone::Spherical ? "Sø"
                             : r.zone == Zone::Diametral ? "ø"
                                                         : "";
    return sign + shortFigure(r.nominal);
  }

  Suggestions ofSize(const DrawingProposal& p, const Typed& t) {
    std::vector<std::size_t> candidates, pointed;
    for (std::size_t s = 0; s < part_.surfaces.size(); ++s) {
      const Ideal& i = ideal(s);
      const bool fits = i.type == SurfaceType::Cylinder
                            ? t.requirement.zone != Zone::Spherical
                            : i.type == SurfaceType::Sphere &&
                                  (t.requirement.zone != Zone::Diametral || t.requirement.radius);
      if (fits && hasFigure(t, t.requirement.radius ? i.diameter / 2 : i.diameter))
        candidates.push_back(s);
    }
    if (candidates.empty()) return {};
    for (const Pointer& pointer : p.pointers)
      for (const PointedSurface& hit : at(p.page, pointer.tip))
        if (std::find(candidates.begin(), candidates.end(), hit.surface) != candidates.end() &&
            std::find(pointed.begin(), pointed.end(), hit.surface) == pointed.end())
          pointed.push_back(hit.surface);
    if (pointed.empty())
      for (const std::size_t s : candidates)
        if (spans(p, s)) pointed.push_back(s);
    const auto count = static_cast<std::size_t>(t.count);
    if (candidates.size() == count)
      return {suggest(candidates,
                      count == 1 ? "the only " + figure(t)
                                 : fmt::format("the only {} {} there are", count, figure(t)),
                      // without a sign of a diameter it may be any length
                      !t.kind_open || !pointed.empty())};
    std::vector<std::vector<std::size_t>> groups;
    for (const std::size_t s : candidates) {
      const auto group = std::find_if(groups.begin(), groups.end(), [&](const auto& g) {
        return alikeSurfaces(ideal(g.front()), ideal(s));
      });
      if (group == groups.end())
        groups.push_back({s});
      else
        group->push_back(s);
    }
    if (!pointed.empty()) return pointedSizes(t, pointed, groups, count);
    Suggestions all;
    std::stable_sort(groups.begin(), groups.end(), [&](const auto& a, const auto& b) {
      return (a.size() == count) > (b.size() == count);
    });
    const auto exact = std::count_if(groups.begin(), groups.end(),
                                     [&](const auto& g) { return g.size() == count; });
    for (const auto& g : groups) {
      if (all.size() == kMostOffered) break;
      const bool only = exact == 1 && g.size() == count && count > 1 && !t.kind_open;
      all.push_back(
          suggest(g,
                  only ? fmt::format("the only {} {} that are alike", count, figure(t))
                       : fmt::format("{} of {} with {}", g.size(), candidates.size(), figure(t)),
                  only));
    }
    return all;
  }

  Suggestions pointedSizes(const Typed& t, const std::vector<std::size_t>& pointed,
                           const std::vector<std::vector<std::size_t>>& groups,
                           std::size_t count) const {
    if (count == 1 || pointed.size() == count) {
      const bool one = pointed.size() == count;
      return {suggest(one ? pointed : std::vector{pointed.front()}, "its leader ends there", one)};
    }
    for (const auto& g : groups) {
      if (std::find(g.begin(), g.end(), pointed.front()) == g.end()) continue;
      const bool exact = g.size() == count;
      return {suggest(g,
                      exact ? fmt::format("its leader ends on one of {} that are alike", count)
                            : fmt::format("its leader ends on one of {} {}, not {}", g.size(),
                                          figure(t), count),
                      exact)};
    }
    return {};
  }

  // Where the ends of the dimension line are in a view.
  Suggestions ofDistance(const DrawingProposal& p, const Typed& t) const {
    Suggestions found;
    for (const Pointer& pointer : p.pointers) {
      if (pointer.kind != PointerKind::DimensionLine || !pointer.other) continue;
      const Vec2 along = (*pointer.other - pointer.tip).normalized();
      const Vec2 middle = (pointer.tip + *pointer.other) / 2;
      for (const std::size_t v : viewsNear(p.page, middle, kBesideView)) {
        const DrawnView& seen = view(p.page, v);
        const Vec3 direction = along.x() * seen.right + along.y() * seen.up;
        for (const PointedSurface& a : pointed(p.page, v).level(pointer.tip, along, kOnLevel))
          for (const PointedSurface& b :
               pointed(p.page, v).level(*pointer.other, along, kOnLevel)) {
            if (a.surface == b.surface) continue;
            const double apart =
                std::abs(direction.dot(ideal(b.surface).point - ideal(a.surface).point));
            if (!hasFigure(t, apart)) continue;
            if (found.size() < kMostOffered)
              found.push_back(
                  suggest({a.surface, b.surface}, "its dimension line ends there", found.empty()));
          }
        if (!found.empty()) return found;
      }
    }
    return found;
  }

  // By figure alone: two planes that are so far apart. Never sure, as many lengths lie between
  // planes.
  Suggestions planesApart(const Typed& t) const {
    Suggestions found;
    for (std::size_t a = 0; a < part_.surfaces.size(); ++a)
      for (std::size_t b = a + 1; b < part_.surfaces.size(); ++b) {
        const Ideal &p = ideal(a), &q = ideal(b);
        if (p.type != SurfaceType::Plane || q.type != SurfaceType::Plane) continue;
        if (p.direction.cross(q.direction).norm() > 1e-6) continue;
        if (!hasFigure(t, std::abs(p.direction.dot(q.point - p.point)))) continue;
        found.push_back(suggest({a, b}, "planes that are " + figure(t) + " apart", false));
      }
    if (found.size() > kMostOffered) found.resize(kMostOffered);
    return found;
  }

  static bool sameTurn(double a, double b) { return std::abs(a - b) < kSameTurn; }
  bool isCone(std::size_t s, double nominal) const {
    const Ideal& i = ideal(s);
    return i.type == SurfaceType::Cone &&
           (sameTurn(2 * i.half_angle, nominal) || sameTurn(i.half_angle, nominal));
  }
  bool arePlanes(std::size_t a, std::size_t b, double nominal) const {
    const Ideal &p = ideal(a), &q = ideal(b);
    if (p.type != SurfaceType::Plane || q.type != SurfaceType::Plane) return false;
    const double turn = std::acos(std::clamp(p.direction.dot(q.direction), -1., 1.));
    return sameTurn(turn, nominal) || sameTurn(radians(180) - turn, nominal);
  }

  Suggestions ofAngle(const DrawingProposal& p, double nominal) const {
    for (const Pointer& pointer : p.pointers) {
      if (pointer.kind != PointerKind::Arc || !pointer.other) continue;
      for (const std::size_t v : viewsNear(p.page, pointer.tip, kBesideView)) {
        const auto from = pointed(p.page, v).drawnOut(pointer.tip, kOnOutline),
                   to = pointed(p.page, v).drawnOut(*pointer.other, kOnOutline);
        for (const PointedSurface& a : from)
          for (const PointedSurface& b : to)
            if (a.surface == b.surface && isCone(a.surface, nominal))
              return {suggest({a.surface}, "its arc ends on the lines of this cone", true)};
        // Planes that reach to the arc before those that would if they were larger.
        const auto real = [&](std::size_t s, const Vec2& tip) {
          const auto here = pointed(p.page, v).at(tip, kOnOutline);
          return std::any_of(here.begin(), here.end(),
                             [&](const PointedSurface& h) { return h.surface == s; });
        };
        Suggestions found;
        for (const bool reach : {true, false})
          for (const PointedSurface& a : from)
            for (const PointedSurface& b : to) {
              if (a.surface == b.surface || !arePlanes(a.surface, b.surface, nominal)) continue;
              const bool both = real(a.surface, pointer.tip) && real(b.surface, *pointer.other);
              if (both != reach) continue;
              found.push_back(
                  suggest({a.surface, b.surface}, "its arc ends on these planes", found.empty()));
            }
        if (found.size() > kMostOffered) found.resize(kMostOffered);
        if (!found.empty()) return found;
      }
    }
    Suggestions cones;
    for (std::size_t s = 0; s < part_.surfaces.size(); ++s)
      if (isCone(s, nominal))
        cones.push_back(
            suggest({s}, fmt::format("a cone of {}°", shortFigure(degrees(nominal))), true));
    for (FeatureSuggestion& s : cones)
      s.sure = cones.size() == 1;
    if (cones.size() > kMostOffered) cones.resize(kMostOffered);
    return cones;
  }

  Suggestions ofIndicator(const DrawingProposal& p) const {
    const Requirement& r = p.typed.front().requirement;
    Suggestions found;
    std::vector<PointedSurface> hits;
    for (const Pointer& pointer : p.pointers) {
      if (pointer.kind == PointerKind::DatumFoot) continue;
      for (const PointedSurface& hit : at(p.page, pointer.tip))
        if (suits(r, ideal(hit.surface))) hits.push_back(hit);
    }
    // Not where another outline is as near.
    constexpr double kClear = 0.15;
    for (std::size_t i = 0; i < hits.size() && found.size() < kMostOffered; ++i) {
      const bool clear = i == 0 && (hits.size() == 1 || hits[1].off - hits[0].off > kClear ||
                                    hits[1].surface == hits[0].surface);
      found.push_back(suggest({hits[i].surface}, "its leader ends there", clear));
    }
    return found;
  }

  Suggestions ofDatum(const DrawingProposal& p) const {
    Suggestions found;
    for (const Pointer& pointer : p.pointers) {
      if (pointer.kind != PointerKind::DatumFoot) continue;
      for (const PointedSurface& hit : at(p.page, pointer.tip))
        if (found.size() < kMostOffered)
          found.push_back(suggest({hit.surface}, "its triangle stands there", found.empty()));
    }
    return found;
  }

  const DrawingReading& reading_;
  const PartModel& part_;
  int first_page_ = 1;
  DrawingTies ties_;
  std::vector<std::vector<PointedSurfaces>> pointed_;
};

} // namespace

DrawingTies tiesOf(const DrawingReading& reading, const std::vector<DrawingSheet>& sheets,
                   const PartModel& part) {
  return Tier(reading, sheets, part).tie();
}

} // namespace alder
