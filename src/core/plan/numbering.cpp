#include "plan/numbering.h"

#include <algorithm>
#include <map>
#include <numbers>
#include <tuple>

namespace alder {
namespace {

constexpr double kNone = 1e9;

using Place = std::tuple<double, double, int>; // the last: the number so far

Vec2 markOf(const DrawingSpot& s) {
  return s.balloon ? Vec2(s.balloon->x, s.balloon->y) : Vec2(s.x, s.y);
}

} // namespace

Specification numbered(const Plan& plan, Numbering by) {
  std::map<FeatureId, double> touched;
  for (const FeatureId id : measuringOrder(plan.steps))
    touched.emplace(id, static_cast<double>(touched.size()));
  std::map<std::pair<std::string, int>, std::pair<Vec2, int>> pages; // sum of marks, how many
  for (const Requirement& r : plan.spec.requirements)
    if (r.spot) {
      auto& [sum, count] =
          pages.try_emplace({r.spot->drawing, r.spot->page}, Vec2::Zero(), 0).first->second;
      sum += markOf(*r.spot), ++count;
    }
  const auto placeOf = [&](const Requirement& r) -> Place {
    if (by == Numbering::AsMeasured) {
      double last = r.features.empty() ? kNone : -1;
      for (const FeatureId id : touchedFor(plan.spec, r.features))
        last = std::max(last, touched.count(id) ? touched.at(id) : kNone);
      return {last, 0, r.balloon};
    }
    if (!r.spot) return {kNone, 0, r.balloon};
    const auto page = pages.find({r.spot->drawing, r.spot->page});
    const Vec2 d = markOf(*r.spot) - page->second.first / page->second.second;
    const double turn = std::numbers::pi - std::atan2(d.y(), d.x()); // clockwise from the left
    return {static_cast<double>(std::distance(pages.begin(), page)), turn, r.balloon};
  };
  std::vector<std::pair<Place, RequirementId>> order;
  for (const Requirement& r : plan.spec.requirements)
    order.emplace_back(placeOf(r), r.id);
  std::sort(order.begin(), order.end());
  Specification spec = plan.spec;
  int number = 0;
  for (const auto& [place, id] : order)
    spec.requirements.at(id).balloon = ++number;
  return spec;
}

} // namespace alder
