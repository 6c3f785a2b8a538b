#include "plan/steps.h"

#include <algorithm>
#include <array>
#include <cctype>

namespace alder {

std::string_view name(CountFrom from) {
  static constexpr std::array<std::string_view, 3> kNames{"machine", "part", "feature"};
  return kNames[static_cast<std::size_t>(from)];
}

std::string_view name(BranchWhen when) {
  static constexpr std::array<std::string_view, 3> kNames{"outside", "near or outside", "within"};
  return kNames[static_cast<std::size_t>(when)];
}

std::string_view name(BranchDoes does) {
  static constexpr std::array<std::string_view, 3> kNames{"warn", "leave the group", "stop"};
  return kNames[static_cast<std::size_t>(does)];
}

std::string_view name(OutputKind kind) {
  static constexpr std::array<std::string_view, 3> kNames{"points", "verdicts", "report"};
  return kNames[static_cast<std::size_t>(kind)];
}

std::string_view name(QuestionRole role) {
  constexpr std::array<std::string_view, 3> kNames{"other", "serial number", "operator"};
  return kNames[static_cast<std::size_t>(role)];
}

std::optional<QuestionRole> questionRoleNamed(std::string_view wanted) {
  for (const auto role : {QuestionRole::Other, QuestionRole::SerialNumber, QuestionRole::Operator})
    if (wanted == name(role)) return role;
  return {};
}

QuestionRole likelyRole(std::string_view what) {
  constexpr std::string_view kSerial = "serial";
  const auto same = [](char a, char b) { return std::tolower(static_cast<unsigned char>(a)) == b; };
  const bool serial =
      std::search(what.begin(), what.end(), kSerial.begin(), kSerial.end(), same) != what.end();
  return serial ? QuestionRole::SerialNumber : QuestionRole::Other;
}

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

bool mayHold(const StepBody& outer, const StepBody& inner) {
  if (std::holds_alternative<GroupStep>(outer)) return true;
  if (std::holds_alternative<RepeatStep>(outer)) return !std::holds_alternative<RepeatStep>(inner);
  return std::holds_alternative<MeasureStep>(outer) &&
         (std::holds_alternative<WaitStep>(inner) || std::holds_alternative<AskStep>(inner) ||
          std::holds_alternative<NoteStep>(inner));
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
  const auto& repeat = std::get<RepeatStep>(steps[index].body);
  const std::size_t end = endOf(steps, index);
  std::vector<FeatureId> originals;
  for (std::size_t i = left_out_too ? index + 1 : nextActive(steps, index + 1); i < end;
       i = left_out_too ? i + 1 : nextActive(steps, i + 1))
    if (const auto* m = std::get_if<MeasureStep>(&steps[i].body)) originals.push_back(m->feature);
  order.insert(order.end(), originals.begin(), originals.end());
  for (const RepeatCopy& copy : repeat.copies)
    for (FeatureId original : originals)
      if (const FeatureId id = copy.of(original); id.valid() && !copy.skipped) order.push_back(id);
  return end - 1;
}

} // namespace

FeatureId RepeatCopy::of(FeatureId original) const {
  const auto found =
      std::lower_bound(features.begin(), features.end(), original,
                       [](const auto& pair, FeatureId id) { return pair.first < id; });
  return found != features.end() && found->first == original ? found->second : FeatureId{};
}

std::vector<FeatureId> measuringOrder(const Steps& steps, bool left_out_too) {
  std::vector<FeatureId> order;
  for (std::size_t i = left_out_too ? 0 : nextActive(steps, 0); i < steps.size();
       i = left_out_too ? i + 1 : nextActive(steps, i + 1))
    if (const auto* m = std::get_if<MeasureStep>(&steps[i].body))
      order.push_back(m->feature);
    else if (std::holds_alternative<RepeatStep>(steps[i].body))
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
  return StepId{most + 1};
}

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
      repeats -= std::holds_alternative<RepeatStep>(steps[around.back()].body);
    const bool repeat = std::holds_alternative<RepeatStep>(s.body);
    if (repeat && repeats > 0) return fail("A repeat cannot stand within another.");
    repeats += repeat;
    if (!around.empty() && !mayHold(steps[around.back()].body, s.body))
      return fail("Step {} cannot stand within the step that it is put in.", i + 1);
    around.push_back(i);
  }
  std::sort(ids.begin(), ids.end());
  if (std::adjacent_find(ids.begin(), ids.end()) != ids.end())
    return fail("A step is there twice.");
  return {};
}

} // namespace alder
