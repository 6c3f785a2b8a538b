#include "plan/steps/step_edit.h"

#include "plan/repeats/repeat.h"
#include <algorithm>
#include <map>

namespace alder {
namespace {

// A set of steps, asked for each of very many.
class Wanted {
 public:
  explicit Wanted(const std::vector<StepId>& ids) {
    for (StepId id : ids) {
      if (!id.valid()) continue;
      const auto at = static_cast<std::size_t>(id.value);
      if (at >= in_.size()) in_.resize(at + 1);
      in_[at] = true;
    }
  }
  bool has(StepId id) const {
    return id.valid() && static_cast<std::size_t>(id.value) < in_.size() &&
           in_[static_cast<std::size_t>(id.value)];
  }

 private:
  std::vector<bool> in_;
};

// Indices of those steps that no other of them holds, in order.
std::vector<std::size_t> outermost(const Steps& steps, const std::vector<StepId>& ids) {
  const Wanted wanted(ids);
  std::vector<std::size_t> found;
  for (std::size_t i = 0; i < steps.size();) {
    if (wanted.has(steps[i].id)) {
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
  Steps taken, kept;
  kept.reserve(steps.size());
  std::size_t i = 0;
  for (const std::size_t index : indices) {
    for (; i < index; ++i)
      kept.push_back(std::move(steps[i]));
    const std::size_t end = endOf(steps, index);
    const int depth = steps[index].depth;
    for (; i < end; ++i) {
      taken.push_back(std::move(steps[i]));
      taken.back().depth -= depth;
    }
  }
  for (; i < steps.size(); ++i)
    kept.push_back(std::move(steps[i]));
  steps = std::move(kept);
  return taken;
}

// The smallest splice by which the steps from `low` to `high` become others.
Result<Edit> rangeBecomes(const Plan& plan, std::size_t low, std::size_t high, Steps steps) {
  const auto now = plan.steps.begin() + static_cast<std::ptrdiff_t>(low);
  const std::size_t count = high - low;
  const auto at = [](auto it, std::size_t i) { return it + static_cast<std::ptrdiff_t>(i); };
  std::size_t front = 0, back = 0;
  while (front < count && front < steps.size() && *at(now, front) == steps[front])
    ++front;
  while (back + front < count && back + front < steps.size() &&
         *at(now, count - 1 - back) == steps[steps.size() - 1 - back])
    ++back;
  if (front == count && front == steps.size()) return nothingChanges();
  return SpliceSteps{low + front, count - front - back,
                     Steps(std::make_move_iterator(at(steps.begin(), front)),
                           std::make_move_iterator(at(steps.begin(), steps.size() - back)))};
}

// What a repeat does stands in its place, copies as steps of their own.
void writeOutCopies(const Plan& plan, StepId repeat, Steps& steps) {
  StepsDone done = stepsDone(plan);
  const std::size_t at = indexOf(steps, repeat), end = endOf(steps, at);
  Steps out(std::make_move_iterator(steps.begin() + static_cast<std::ptrdiff_t>(at) + 1),
            std::make_move_iterator(steps.begin() + static_cast<std::ptrdiff_t>(end)));
  int next = freeId(steps).value;
  for (std::size_t i = 0; i < done.steps.size(); ++i)
    if (done.origin[i] == repeat && done.steps[i].id != repeat) {
      out.push_back(std::move(done.steps[i]));
      out.back().id = StepId{next++};
    }
  shift(out.begin(), out.end(), -1);
  steps.erase(steps.begin() + static_cast<std::ptrdiff_t>(at),
              steps.begin() + static_cast<std::ptrdiff_t>(end));
  steps.insert(steps.begin() + static_cast<std::ptrdiff_t>(at), out.begin(), out.end());
}

} // namespace

Result<Edit> stepsBecome(const Plan& plan, Steps steps) {
  return rangeBecomes(plan, 0, plan.steps.size(), std::move(steps));
}

Result<Edit> insertSteps(const Plan& plan, Steps fresh, std::size_t at, int depth) {
  Steps steps = plan.steps;
  int next = freeId(steps).value;
  for (RoutineStep& s : fresh)
    s.id = StepId{next++}, s.depth += depth;
  steps.insert(steps.begin() + static_cast<std::ptrdiff_t>(std::min(at, steps.size())),
               fresh.begin(), fresh.end());
  return stepsBecome(plan, std::move(steps));
}

Result<Edit> removeSteps(const Plan& plan, const std::vector<StepId>& ids) {
  Steps steps = plan.steps;
  takeOut(steps, outermost(steps, ids));
  return stepsBecome(plan, std::move(steps));
}

Result<Edit> moveSteps(const Plan& plan, const std::vector<StepId>& ids,
                       std::optional<StepId> before) {
  const Steps& now = plan.steps;
  auto indices = outermost(now, ids);
  if (indices.empty()) return fail("Select the steps that are to be moved.");
  const std::size_t target = before ? indexOf(now, *before) : now.size();
  for (std::size_t i : indices)
    if (target >= i && target < endOf(now, i)) {
      if (target != i) return fail("A step cannot be moved into itself.");
      // To before itself: to before what follows it.
      const std::size_t next = endOf(now, i);
      return moveSteps(plan, ids, next < now.size() ? std::optional(now[next].id) : std::nullopt);
    }
  // Only what lies between is touched.
  const std::size_t low = std::min(indices.front(), target),
                    high = std::max(endOf(now, indices.back()), target);
  const int depth = target < now.size() ? now[target].depth : 0;
  Steps window(now.begin() + static_cast<std::ptrdiff_t>(low),
               now.begin() + static_cast<std::ptrdiff_t>(high));
  std::size_t at = target - low;
  for (std::size_t& i : indices) {
    if (i < target) at -= endOf(now, i) - i;
    i -= low;
  }
  Steps taken = takeOut(window, indices);
  shift(taken.begin(), taken.end(), depth);
  window.insert(window.begin() + static_cast<std::ptrdiff_t>(at),
                std::make_move_iterator(taken.begin()), std::make_move_iterator(taken.end()));
  return rangeBecomes(plan, low, high, std::move(window));
}

Result<Edit> enableSteps(const Plan& plan, const std::vector<StepId>& ids, bool enabled) {
  Steps steps = plan.steps;
  const Wanted wanted(ids);
  for (RoutineStep& s : steps)
    if (wanted.has(s.id)) s.enabled = enabled;
  return stepsBecome(plan, std::move(steps));
}

Result<Edit> changeStep(const Plan& plan, StepId id, StepBody body) {
  const std::size_t i = indexOf(plan.steps, id);
  if (i == plan.steps.size()) return fail("The step is not in this routine.");
  RoutineStep changed = plan.steps[i];
  changed.body = std::move(body);
  if (changed == plan.steps[i]) return nothingChanges();
  return SpliceSteps{i, 1, {std::move(changed)}};
}

Result<Edit> putWithinNext(const Plan& plan, StepId id) {
  Steps steps = plan.steps;
  const std::size_t i = indexOf(steps, id);
  if (i == steps.size()) return fail("The step is not in this routine.");
  const std::size_t next = endOf(steps, i);
  if (next >= steps.size() || steps[next].depth != steps[i].depth ||
      !measuredIn(steps[next].body).valid())
    return fail("Only what stands right before a measure step can go between its touches.");
  if (!mayHold(steps[next].body, steps[i].body))
    return fail("Only waits, questions and notes can stand between the touches of a feature.");
  ++steps[i].depth;
  std::rotate(steps.begin() + static_cast<std::ptrdiff_t>(i),
              steps.begin() + static_cast<std::ptrdiff_t>(next),
              steps.begin() + static_cast<std::ptrdiff_t>(next) + 1);
  return stepsBecome(plan, std::move(steps));
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
  steps.insert(steps.begin() + static_cast<std::ptrdiff_t>(at),
               std::make_move_iterator(taken.begin()), std::make_move_iterator(taken.end()));
  return stepsBecome(plan, std::move(steps));
}

Result<Edit> ungroupSteps(const Plan& plan, const std::vector<StepId>& ids) {
  Steps steps = plan.steps;
  for (StepId id : ids) {
    const std::size_t i = indexOf(steps, id);
    if (i < steps.size() && repeatIn(steps[i].body)) {
      writeOutCopies(plan, id, steps);
      continue;
    }
    if (i == steps.size() || !std::holds_alternative<GroupStep>(steps[i].body)) continue;
    const auto at = steps.begin() + static_cast<std::ptrdiff_t>(i);
    shift(at + 1, steps.begin() + static_cast<std::ptrdiff_t>(endOf(steps, i)), -1);
    steps.erase(at);
  }
  return stepsBecome(plan, std::move(steps));
}

Result<Edit> orderFeatures(const Plan& plan, const std::vector<FeatureId>& order) {
  const auto now = measuringOrder(plan.steps);
  if (!std::is_permutation(order.begin(), order.end(), now.begin(), now.end()))
    return fail("A new order must hold the same features.");
  // What stands within a measure step goes with its feature.
  std::map<FeatureId, std::size_t> places;
  for (std::size_t i = 0; i < plan.steps.size(); ++i)
    if (const FeatureId id = measuredIn(plan.steps[i].body); id.valid()) places[id] = i;
  Steps steps;
  std::size_t next = 0;
  for (std::size_t i = 0; i < plan.steps.size();) {
    if (!measuredIn(plan.steps[i].body).valid()) {
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
  return stepsBecome(plan, std::move(steps));
}

std::string describe(const Plan& plan, const RoutineStep& step) {
  return std::visit([&](const auto& body) { return words(plan, body); }, step.body);
}

StepId stepOf(const Steps& steps, FeatureId feature) {
  for (const RoutineStep& s : steps)
    if (feature.valid() && measuredIn(s.body) == feature) return s.id;
  return {};
}

} // namespace alder
