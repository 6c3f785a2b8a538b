#include "plan/steps/steps.h"

#include <algorithm>
#include <limits>

namespace alder {

std::size_t indexOf(const Steps& steps, StepId id) {
  const auto found =
      std::find_if(steps.begin(), steps.end(), [&](const RoutineStep& s) { return s.id == id; });
  return static_cast<std::size_t>(found - steps.begin());
}

std::size_t endOf(const Steps& steps, std::size_t index) {
  std::size_t end = index + 1;
  while (end < steps.size() && steps[end].depth > steps[index].depth)
    ++end;
  return end;
}

namespace {

auto* pictureOf(auto& body) {
  using Picture = std::conditional_t<std::is_const_v<std::remove_reference_t<decltype(body)>>,
                                     const std::string, std::string>;
  return std::visit(
      [](auto& s) -> Picture* {
        if constexpr (requires { s.picture; }) return &*s.picture;
        return nullptr;
      },
      body);
}

} // namespace

const std::string* pictureIn(const StepBody& body) {
  return pictureOf(body);
}

std::string* pictureIn(StepBody& body) {
  return pictureOf(body);
}

const std::string* clampIn(const StepBody& body) {
  return std::visit(
      [](const auto& s) -> const std::string* {
        if constexpr (requires { s.clamp; }) return s.clamp->empty() ? nullptr : &*s.clamp;
        return nullptr;
      },
      body);
}

const Question* questionIn(const StepBody& body) {
  return std::visit(
      [](const auto& s) -> const Question* {
        if constexpr (std::is_convertible_v<decltype(&s), const Question*>) return &s;
        return nullptr;
      },
      body);
}

bool needsGroup(const StepBody& body) {
  return std::visit(
      [](const auto& s) {
        if constexpr (requires { s.needsGroup(); }) return s.needsGroup();
        return false;
      },
      body);
}

bool mayHold(const StepBody& outer, const StepBody& inner) {
  switch (traitsOf(outer).holds) {
  case StepTraits::Holds::Nothing:
    return false;
  case StepTraits::Holds::BetweenTouches:
    return traitsOf(inner).between_touches;
  case StepTraits::Holds::All:
    return true;
  case StepTraits::Holds::AllButItsKind:
    return inner.index() != outer.index();
  }
  return false;
}

std::size_t nextActive(const Steps& steps, std::size_t index) {
  while (index < steps.size() && !steps[index].enabled)
    index = endOf(steps, index);
  return index;
}

namespace {

// The originals and then their copies; index of the last step within.
std::size_t addRepeated(const Steps& steps, std::size_t index, bool left_out_too,
                        std::vector<FeatureId>& order) {
  const auto& repeat = *repeatIn(steps[index].body);
  const std::size_t end = endOf(steps, index);
  std::vector<FeatureId> originals;
  for (std::size_t i = left_out_too ? index + 1 : nextActive(steps, index + 1); i < end;
       i = left_out_too ? i + 1 : nextActive(steps, i + 1))
    if (const FeatureId id = measuredIn(steps[i].body); id.valid()) originals.push_back(id);
  order.insert(order.end(), originals.begin(), originals.end());
  for (const RepeatCopy& copy : repeat.copies)
    for (FeatureId original : originals)
      if (const FeatureId id = copy.of(original); id.valid() && !copy.skipped) order.push_back(id);
  return end - 1;
}

} // namespace

std::vector<FeatureId> measuringOrder(const Steps& steps, bool left_out_too) {
  std::vector<FeatureId> order;
  for (std::size_t i = left_out_too ? 0 : nextActive(steps, 0); i < steps.size();
       i = left_out_too ? i + 1 : nextActive(steps, i + 1))
    if (const FeatureId id = measuredIn(steps[i].body); id.valid())
      order.push_back(id);
    else if (repeatIn(steps[i].body))
      i = addRepeated(steps, i, left_out_too, order);
  return order;
}

Steps measureSteps(const std::vector<FeatureId>& features) {
  Steps steps;
  steps.resize(features.size());
  for (std::size_t i = 0; i < features.size(); ++i) {
    steps[i].id = StepId{static_cast<int>(i)};
    steps[i].body = MeasureStep{features[i]};
  }
  return steps;
}

StepId freeId(const Steps& steps) {
  int most = -1;
  for (const RoutineStep& s : steps)
    most = std::max(most, s.id.value);
  if (most < std::numeric_limits<int>::max()) return StepId{most + 1};
  int free = 0; // of a file that gives the last one there is
  while (indexOf(steps, StepId{free}) != steps.size())
    ++free;
  return StepId{free};
}

namespace {

bool anyTwice(std::vector<int> ids) {
  const int most = ids.empty() ? -1 : *std::max_element(ids.begin(), ids.end());
  const std::size_t room = static_cast<std::size_t>(most) + 1;
  if (room > 4 * ids.size()) { // thinly given: those of a file
    std::sort(ids.begin(), ids.end());
    return std::adjacent_find(ids.begin(), ids.end()) != ids.end();
  }
  std::vector<bool> seen(room);
  for (const int id : ids) {
    if (seen[static_cast<std::size_t>(id)]) return true;
    seen[static_cast<std::size_t>(id)] = true;
  }
  return false;
}

} // namespace

Done validate(const Steps& steps) {
  std::vector<int> ids;
  int repeats = 0;                 // of those that hold the next one
  std::vector<std::size_t> around; // indices of the steps that hold the next one
  for (std::size_t i = 0; i < steps.size(); ++i) {
    const RoutineStep& s = steps[i];
    if (!s.id.valid() || s.depth < 0) return fail("Step {} is not well formed.", i + 1);
    ids.push_back(s.id.value);
    if (static_cast<std::size_t>(s.depth) > around.size())
      return fail("Step {} lies deeper than what it could stand in.", i + 1);
    for (; around.size() > static_cast<std::size_t>(s.depth); around.pop_back())
      repeats -= repeatIn(steps[around.back()].body) != nullptr;
    const bool repeat = repeatIn(s.body) != nullptr;
    if (repeat && repeats > 0) return fail("A repeat cannot stand within another.");
    repeats += repeat;
    if (!around.empty() && !mayHold(steps[around.back()].body, s.body))
      return fail("Step {} cannot stand within the step that it is put in.", i + 1);
    around.push_back(i);
  }
  if (anyTwice(std::move(ids))) return fail("A step is there twice.");
  return {};
}

} // namespace alder
