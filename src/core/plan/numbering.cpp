#include "plan/numbering.h"

#include "requirement/formula.h"
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

// Formulas go on speaking of the same requirements.
Specification withNumbers(const Specification& spec, const std::map<RequirementId, int>& numbers) {
  std::map<int, int> became;
  for (const Requirement& r : spec.requirements)
    became.emplace(r.balloon, numbers.at(r.id));
  Specification with = spec;
  for (Requirement& r : with.requirements) {
    r.balloon = numbers.at(r.id);
    if (!r.formula.empty())
      r.formula = renumberedFormula(r.formula, [&](int was) {
        const auto is = became.find(was);
        return is == became.end() ? was : is->second;
      });
  }
  return with;
}

Specification inThisOrder(const Specification& spec, const std::vector<RequirementId>& order) {
  std::vector<int> numbers;
  for (const Requirement& r : spec.requirements)
    numbers.push_back(r.balloon);
  std::sort(numbers.begin(), numbers.end());
  std::map<RequirementId, int> of;
  for (std::size_t i = 0; i < order.size(); ++i)
    of.emplace(order[i], numbers[i]);
  return withNumbers(spec, of);
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
  std::map<RequirementId, int> numbers;
  for (const auto& [place, id] : order)
    numbers.emplace(id, static_cast<int>(numbers.size()) + 1);
  return withNumbers(plan.spec, numbers);
}

std::vector<RequirementId> inOrder(const Specification& spec) {
  std::vector<const Requirement*> all;
  for (const Requirement& r : spec.requirements)
    all.push_back(&r);
  std::stable_sort(all.begin(), all.end(), [](const Requirement* a, const Requirement* b) {
    return a->balloon < b->balloon;
  });
  std::vector<RequirementId> ids;
  for (const Requirement* r : all)
    ids.push_back(r->id);
  return ids;
}

Specification movedBefore(const Specification& spec, const std::vector<RequirementId>& moved,
                          RequirementId before) {
  const auto holds = [&](RequirementId id) {
    return std::find(moved.begin(), moved.end(), id) != moved.end();
  };
  const std::vector<RequirementId> was = inOrder(spec);
  std::vector<RequirementId> block, rest;
  for (const RequirementId id : was)
    (holds(id) ? block : rest).push_back(id);
  // Dropped among themselves they stand before the next that stays.
  auto next = std::find(was.begin(), was.end(), before);
  while (next != was.end() && holds(*next))
    ++next;
  const auto at = next == was.end() ? rest.end() : std::find(rest.begin(), rest.end(), *next);
  rest.insert(at, block.begin(), block.end());
  return inThisOrder(spec, rest);
}

Specification shifted(const Specification& spec, const std::vector<RequirementId>& moved, int by) {
  std::vector<RequirementId> order = inOrder(spec);
  const auto holds = [&](RequirementId id) {
    return std::find(moved.begin(), moved.end(), id) != moved.end();
  };
  const auto pass = [&](auto begin, auto end) {
    for (auto at = begin; at != end; ++at)
      if (at != begin && holds(*at) && !holds(*std::prev(at))) std::iter_swap(at, std::prev(at));
  };
  if (by < 0)
    pass(order.begin(), order.end());
  else
    pass(order.rbegin(), order.rend());
  return inThisOrder(spec, order);
}

} // namespace alder
