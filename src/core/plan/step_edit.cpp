#include "plan/step_edit.h"

#include "base/units.h"
#include <algorithm>
#include <map>
#include <set>

namespace alder {
namespace {

// Indices of those steps that no other of them holds, in order.
std::vector<std::size_t> outermost(const Steps& steps, const std::vector<StepId>& ids) {
  const std::set<StepId> wanted(ids.begin(), ids.end());
  std::vector<std::size_t> found;
  for (std::size_t i = 0; i < steps.size();) {
    if (wanted.count(steps[i].id)) {
      found.push_back(i);
      i = endOf(steps, i);
    } else {
      ++i;
    }
  }
  return found;
}

void shift(Steps::iterator first, Steps::iterator last, int by) {
  for (; first != last; ++first)
    first->depth += by;
}

// Takes them out of the list, each with its depth counted from its own.
Steps takeOut(Steps& steps, const std::vector<std::size_t>& indices) {
  Steps taken;
  for (std::size_t i : indices) {
    const auto begin = static_cast<std::ptrdiff_t>(taken.size());
    taken.insert(taken.end(), steps.begin() + static_cast<std::ptrdiff_t>(i),
                 steps.begin() + static_cast<std::ptrdiff_t>(endOf(steps, i)));
    shift(taken.begin() + begin, taken.end(), -steps[i].depth);
  }
  for (auto i = indices.rbegin(); i != indices.rend(); ++i)
    steps.erase(steps.begin() + static_cast<std::ptrdiff_t>(*i),
                steps.begin() + static_cast<std::ptrdiff_t>(endOf(steps, *i)));
  return taken;
}

std::string described(const Plan& plan, const StepBody& body) {
  if (const auto* m = std::get_if<MeasureStep>(&body))
    return "Measure " + plan.nominal(m->feature).name;
  if (const auto* m = std::get_if<MoveStep>(&body)) {
    const std::string from =
        m->from == CountFrom::Feature ? plan.nominal(m->feature).name : std::string(name(m->from));
    return fmt::format("Go to {:g}, {:g}, {:g} from the {}", m->place.x(), m->place.y(),
                       m->place.z(), from);
  }
  if (const auto* t = std::get_if<TurnStep>(&body))
    return fmt::format("Turn to A{:g} B{:g}", shownDegrees(t->a), shownDegrees(t->b));
  if (const auto* s = std::get_if<SwapStep>(&body)) return "Swap to " + s->stylus;
  if (const auto* w = std::get_if<WaitStep>(&body)) {
    const std::string does =
        w->clamp.empty() ? "" : fmt::format("{} {}", w->opens ? "open" : "close", w->clamp);
    const std::string text =
        w->text.empty() ? does : w->text + (does.empty() ? "" : " (" + does + ")");
    return text.empty() ? "Wait for the operator" : "Wait: " + text;
  }
  if (const auto* a = std::get_if<AskStep>(&body)) return "Ask: " + a->what;
  if (const auto* n = std::get_if<NoteStep>(&body)) return "Note: " + n->text;
  return std::get<GroupStep>(body).name;
}

} // namespace

Result<Edit> stepsBecome(const Plan& plan, const Steps& steps) {
  const Steps& now = plan.steps;
  std::size_t front = 0, back = 0;
  while (front < now.size() && front < steps.size() && now[front] == steps[front])
    ++front;
  while (back + front < now.size() && back + front < steps.size() &&
         now[now.size() - 1 - back] == steps[steps.size() - 1 - back])
    ++back;
  if (front == now.size() && front == steps.size()) return fail("Nothing would change.");
  return SpliceSteps{front, now.size() - front - back,
                     Steps(steps.begin() + static_cast<std::ptrdiff_t>(front),
                           steps.end() - static_cast<std::ptrdiff_t>(back))};
}

Result<Edit> insertSteps(const Plan& plan, Steps fresh, std::size_t at, int depth) {
  Steps steps = plan.steps;
  int next = freeId(steps).value;
  for (RoutineStep& s : fresh)
    s.id = StepId{next++}, s.depth += depth;
  steps.insert(steps.begin() + static_cast<std::ptrdiff_t>(std::min(at, steps.size())),
               fresh.begin(), fresh.end());
  return stepsBecome(plan, steps);
}

Result<Edit> removeSteps(const Plan& plan, const std::vector<StepId>& ids) {
  Steps steps = plan.steps;
  takeOut(steps, outermost(steps, ids));
  return stepsBecome(plan, steps);
}

Result<Edit> moveSteps(const Plan& plan, const std::vector<StepId>& ids,
                       std::optional<StepId> before) {
  Steps steps = plan.steps;
  const auto indices = outermost(steps, ids);
  if (before) {
    const std::size_t target = indexOf(steps, *before);
    for (std::size_t i : indices)
      if (target >= i && target < endOf(steps, i)) {
        if (target != i) return fail("A step cannot be moved into itself.");
        // To before itself: to before what follows it.
        const std::size_t next = endOf(steps, i);
        return moveSteps(plan, ids,
                         next < steps.size() ? std::optional(steps[next].id) : std::nullopt);
      }
  }
  Steps taken = takeOut(steps, indices);
  const std::size_t at = before ? indexOf(steps, *before) : steps.size();
  shift(taken.begin(), taken.end(), at < steps.size() ? steps[at].depth : 0);
  steps.insert(steps.begin() + static_cast<std::ptrdiff_t>(at), taken.begin(), taken.end());
  return stepsBecome(plan, steps);
}

Result<Edit> enableSteps(const Plan& plan, const std::vector<StepId>& ids, bool enabled) {
  Steps steps = plan.steps;
  const std::set<StepId> wanted(ids.begin(), ids.end());
  for (RoutineStep& s : steps)
    if (wanted.count(s.id)) s.enabled = enabled;
  return stepsBecome(plan, steps);
}

Result<Edit> changeStep(const Plan& plan, StepId id, StepBody body) {
  const std::size_t i = indexOf(plan.steps, id);
  if (i == plan.steps.size()) return fail("The step is not in this routine.");
  RoutineStep changed = plan.steps[i];
  changed.body = std::move(body);
  if (changed == plan.steps[i]) return fail("Nothing would change.");
  return SpliceSteps{i, 1, {std::move(changed)}};
}

Result<Edit> putWithinNext(const Plan& plan, StepId id) {
  Steps steps = plan.steps;
  const std::size_t i = indexOf(steps, id);
  if (i == steps.size()) return fail("The step is not in this routine.");
  const std::size_t next = endOf(steps, i);
  if (next >= steps.size() || steps[next].depth != steps[i].depth ||
      !std::holds_alternative<MeasureStep>(steps[next].body))
    return fail("Only what stands right before a measure step can go between its touches.");
  if (!mayHold(steps[next].body, steps[i].body))
    return fail("Only waits, questions and notes can stand between the touches of a feature.");
  ++steps[i].depth;
  std::rotate(steps.begin() + static_cast<std::ptrdiff_t>(i),
              steps.begin() + static_cast<std::ptrdiff_t>(next),
              steps.begin() + static_cast<std::ptrdiff_t>(next) + 1);
  return stepsBecome(plan, steps);
}

Result<Edit> putOutside(const Plan& plan, StepId id) {
  const std::size_t i = indexOf(plan.steps, id);
  if (i == plan.steps.size() || plan.steps[i].depth == 0)
    return fail("The step stands in no other.");
  std::size_t outer = i;
  while (plan.steps[outer].depth >= plan.steps[i].depth)
    --outer;
  return moveSteps(plan, {id}, plan.steps[outer].id);
}

Result<Edit> groupSteps(const Plan& plan, const std::vector<StepId>& ids,
                        const std::string& group_name) {
  Steps steps = plan.steps;
  const auto indices = outermost(steps, ids);
  if (indices.empty()) return fail("Select the steps that are to be a group.");
  const std::size_t at = indices.front();
  const int depth = steps[at].depth;
  Steps taken = takeOut(steps, indices);
  shift(taken.begin(), taken.end(), depth + 1);
  taken.insert(taken.begin(), {freeId(plan.steps), depth, true, 0, GroupStep{group_name}});
  steps.insert(steps.begin() + static_cast<std::ptrdiff_t>(at), taken.begin(), taken.end());
  return stepsBecome(plan, steps);
}

Result<Edit> ungroupSteps(const Plan& plan, const std::vector<StepId>& ids) {
  Steps steps = plan.steps;
  for (StepId id : ids) {
    const std::size_t i = indexOf(steps, id);
    if (i == steps.size() || !std::holds_alternative<GroupStep>(steps[i].body)) continue;
    const auto at = steps.begin() + static_cast<std::ptrdiff_t>(i);
    shift(at + 1, steps.begin() + static_cast<std::ptrdiff_t>(endOf(steps, i)), -1);
    steps.erase(at);
  }
  return stepsBecome(plan, steps);
}

Result<Edit> orderFeatures(const Plan& plan, const std::vector<FeatureId>& order) {
  const auto now = measuringOrder(plan.steps);
  if (!std::is_permutation(order.begin(), order.end(), now.begin(), now.end()))
    return fail("A new order must hold the same features.");
  // What stands within a measure step goes with its feature.
  std::map<FeatureId, std::size_t> places;
  for (std::size_t i = 0; i < plan.steps.size(); ++i)
    if (const auto* m = std::get_if<MeasureStep>(&plan.steps[i].body)) places[m->feature] = i;
  Steps steps;
  std::size_t next = 0;
  for (std::size_t i = 0; i < plan.steps.size();) {
    if (!std::holds_alternative<MeasureStep>(plan.steps[i].body)) {
      steps.push_back(plan.steps[i++]);
      continue;
    }
    const std::size_t from = places[order[next++]], end = endOf(plan.steps, from);
    for (std::size_t k = from; k < end; ++k) {
      steps.push_back(plan.steps[k]);
      steps.back().depth += plan.steps[i].depth - plan.steps[from].depth;
    }
    i = endOf(plan.steps, i);
  }
  return stepsBecome(plan, steps);
}

std::string describe(const Plan& plan, const RoutineStep& step) {
  return described(plan, step.body);
}

StepId stepOf(const Steps& steps, FeatureId feature) {
  for (const RoutineStep& s : steps)
    if (const auto* m = std::get_if<MeasureStep>(&s.body); m && m->feature == feature) return s.id;
  return {};
}

} // namespace alder
