#include "made_routine.h"

#include "base/random.h"
#include "plan/constructions/constructed_feature.h"
#include "plan/repeats/repeat.h"
#include "plan/steps/step_edit.h"
#include <cstdlib>

namespace alder::test {
namespace {

// A group within a group, with a way out of it.
void addGroups(Plan& plan) {
  std::vector<StepId> last;
  for (const RoutineStep& s : plan.steps)
    if (s.depth == 0) last.push_back(s.id);
  if (last.size() > plan.alignment.size() + 3) {
    const auto take = [&](std::size_t count) {
      return std::vector<StepId>(last.end() - static_cast<std::ptrdiff_t>(count), last.end());
    };
    for (const auto& [ids, name] : {std::pair(take(2), "outer \"ø\""), {take(1), "inner"}})
      if (auto edit = groupSteps(plan, ids, name)) (void)applyEdit(plan, *edit);
    RoutineStep leave;
    leave.id = freeId(plan.steps);
    leave.depth = 1;
    leave.body = BranchStep{test::balloon(plan, 2).id, BranchWhen::Outside, BranchDoes::LeaveGroup};
    const std::size_t outer = plan.steps.size() - 1;
    for (std::size_t i = outer; i-- > 0;)
      if (std::holds_alternative<GroupStep>(plan.steps[i].body) && plan.steps[i].depth == 0) {
        plan.steps.insert(plan.steps.begin() + static_cast<std::ptrdiff_t>(i) + 1, leave);
        break;
      }
  }
}

template <class T> void mustHold(const Result<T>& done) {
  if (!done) qFatal("%s", done.error().message.c_str());
}

} // namespace

Plan routineByLot(unsigned seed) {
  Plan plan = test::heronPlan();
  Random random(seed);
  const auto pick = [&](std::size_t count) {
    return static_cast<std::size_t>(random.uniform() * static_cast<double>(count));
  };
  // Fewer features in another order behind the part frame.
  std::vector<FeatureId> order = test::orderOf(plan);
  for (std::size_t i = order.size(); i-- > plan.alignment.size() + 1;)
    std::swap(order[i], order[plan.alignment.size() + pick(i + 1 - plan.alignment.size())]);
  order.resize(plan.alignment.size() + 1 + pick(order.size() - plan.alignment.size()));
  plan.steps = measureSteps(order);
  int id = 1000;
  for (int k = 0; k < 6; ++k) {
    RoutineStep step;
    step.id = StepId{id++};
    switch (pick(8)) {
    case 3:
      step.body = EvaluateStep{{test::balloon(plan, 2).id, test::balloon(plan, 3).id}};
      break;
    case 4:
      step.body = BranchStep{test::balloon(plan, 2).id, BranchWhen::NearOrOutside,
                             k % 2 ? BranchDoes::Warn : BranchDoes::Stop};
      break;
    case 5:
      step.body = OutputStep{OutputKind::Verdicts, "{routine} ø \"x\".csv"};
      break;
    case 6:
      step.body = QualifyStep{k % 2 == 0, false, k % 3 == 0};
      break;
    case 0:
      step.body = WaitStep{"Look at 'it', twice", "", true, 20};
      break;
    case 1:
      step.body = WaitStep{"", "clamp 1", k % 2 == 0, 20};
      break;
    case 2:
      step.body = AskStep{"Temperature", true, ""};
      break;
    default:
      step.body = NoteStep{fmt::format("note {}", k)};
    }
    const std::size_t at = pick(plan.steps.size());
    const auto* measure = std::get_if<MeasureStep>(&plan.steps[at].body);
    if (measure && mayHold(*measure, step.body) && pick(2) == 0) { // between touches
      step.depth = 1;
      step.before = 1 + static_cast<int>(pick(plan.feature(measure->feature).touches.size() - 1));
      std::size_t end = endOf(plan.steps, at);
      for (std::size_t i = at + 1; i < end; ++i)
        if (plan.steps[i].before > step.before) {
          end = i;
          break;
        }
      plan.steps.insert(plan.steps.begin() + static_cast<std::ptrdiff_t>(end), step);
    } else if (plan.steps[at].depth == 0) {
      plan.steps.insert(plan.steps.begin() + static_cast<std::ptrdiff_t>(at), step);
    }
  }
  addGroups(plan);
  return plan;
}

Plan routineOfEveryKind(bool with_rack) {
  Plan plan = heronPlan();
  if (!with_rack) plan.bench.rack.reset();
  // Six holes as one that is repeated.
  auto repeated = repeatSteps(plan, {stepOf(plan.steps, named(plan, "Bore ø11 · 1"))});
  if (!repeated) qFatal("%s", repeated.error().message.c_str());
  auto group = withCopies(plan, {"repeat", {repeated->first}});
  if (!group) qFatal("%s", group.error().message.c_str());
  mustHold(applyEdits(plan, *group));
  PartFrame again;
  again.name = "again";
  for (FeatureId id : plan.alignment)
    again.stages.push_back({{id}, ""});
  plan.frames.push_back(again);
  Construction middle;
  middle.kind = ConstructionKind::Intersection;
  middle.of = {named(plan, "Bore ø32"), named(plan, "Plane · 1")};
  auto spec = withConstructed(plan, middle, "rim of the bore");
  if (!spec) qFatal("%s", spec.error().message.c_str());
  plan.spec = *spec;
  Feature constructed;
  constructed.id = plan.spec.features.back().id;
  plan.features.push_back(constructed);
  const Stylus& other = plan.bench.styli[1];
  const std::vector<StepBody> bodies{
      EvaluateStep{{balloon(plan, 2).id}},
      BranchStep{balloon(plan, 2).id, BranchWhen::NearOrOutside, BranchDoes::Warn},
      OutputStep{OutputKind::Verdicts, "{routine}.csv"},
      ConstructStep{constructed.id},
      UseFrameStep{"again"},
      WaitStep{"Look at it", "", true, 20},
      WaitStep{"", "clamp 1", true, 20},
      WaitStep{"", "clamp 1", false, 20},
      AskStep{"Temperature", true, ""},
      NoteStep{"a note"},
      MoveStep{CountFrom::Part, {}, Vec3(0, 0, 140)},
      TurnStep{0, 0},
      SwapStep{other.name, other.tips.front().name},
      MoveStep{CountFrom::Part, {}, Vec3(30, 0, 150)},
      QualifyStep{false, false, false}};
  int id = 1000;
  std::size_t at = plan.alignment.size() + 1;
  for (const StepBody& body : bodies) {
    RoutineStep step;
    step.id = StepId{id++};
    step.body = body;
    while (at < plan.steps.size() && plan.steps[at].depth > 0)
      ++at;
    plan.steps.insert(
        plan.steps.begin() + static_cast<std::ptrdiff_t>(std::min(at, plan.steps.size())), step);
    at += 2;
  }
  addGroups(plan);
  return plan;
}

} // namespace alder::test
