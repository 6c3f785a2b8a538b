// The steps of a routine, in the order in which the machine and its operator do them: a tree,
// written as a list in which each step stands before those within it. Lengths mm, angles radians.
#pragma once

#include "plan/steps/kinds/ask.h"
#include "plan/steps/kinds/branch.h"
#include "plan/steps/kinds/construct.h"
#include "plan/steps/kinds/evaluate.h"
#include "plan/steps/kinds/group.h"
#include "plan/steps/kinds/measure.h"
#include "plan/steps/kinds/move.h"
#include "plan/steps/kinds/note.h"
#include "plan/steps/kinds/output.h"
#include "plan/steps/kinds/qualify.h"
#include "plan/steps/kinds/repeat.h"
#include "plan/steps/kinds/swap.h"
#include "plan/steps/kinds/turn.h"
#include "plan/steps/kinds/use_frame.h"
#include "plan/steps/kinds/wait.h"
#include <variant>

namespace alder {

// Every kind, each in a file of its own in plan/steps/kinds.
using StepBody = std::variant<MeasureStep, MoveStep, TurnStep, SwapStep, WaitStep, AskStep,
                              NoteStep, GroupStep, UseFrameStep, RepeatStep, ConstructStep,
                              QualifyStep, EvaluateStep, BranchStep, OutputStep>;

struct RoutineStep {
  StepId id; // unique in the routine
  int depth = 0;
  bool enabled = true; // else left out, with all within it
  int before = 0;      // within a measure step: comes before this touch, from 0
  StepBody body;
  friend bool operator==(const RoutineStep&, const RoutineStep&) = default;
};

using Steps = std::vector<RoutineStep>;

// Index, or the size of the list.
std::size_t indexOf(const Steps& steps, StepId id);
// Index behind the last step within this one.
std::size_t endOf(const Steps& steps, std::size_t index);
// These are asked of each of very many steps at every edit.
namespace detail {
template <class Body> struct TraitsOfKinds;
template <class... Kinds> struct TraitsOfKinds<std::variant<Kinds...>> {
  static constexpr const StepTraits* kAll[] = {&Kinds::kTraits...};
};
} // namespace detail
inline const StepTraits& traitsOf(const StepBody& body) {
  return *detail::TraitsOfKinds<StepBody>::kAll[body.index()];
}
// What a measure step touches; not valid of other steps.
inline FeatureId measuredIn(const StepBody& body) {
  const auto* measure = std::get_if<MeasureStep>(&body);
  return measure ? measure->feature : FeatureId{};
}
// The fields of a step that more than one place asks for; null where it is of another kind.
const Question* questionIn(const StepBody& body);
inline const RepeatStep* repeatIn(const StepBody& body) {
  return std::get_if<RepeatStep>(&body);
}
const UseFrameStep* useFrameIn(const StepBody& body);
// The body of the fixture that a step opens or closes; null where it does neither.
const std::string* clampIn(const StepBody& body);
// The name of the picture that a step shows; null where it can show none.
const std::string* pictureIn(const StepBody& body);
std::string* pictureIn(StepBody& body);
// May only stand within a group.
bool needsGroup(const StepBody& body);
// Whether a step of this kind may stand within the other.
bool mayHold(const StepBody& outer, const StepBody& inner);

// Index of the next step that is done, from `index` on; what is left out is passed over.
std::size_t nextActive(const Steps& steps, std::size_t index);

// Features in the order in which they are measured, copies behind what they are copies of; those
// left out on request, but never copies that are skipped.
std::vector<FeatureId> measuringOrder(const Steps& steps, bool left_out_too = true);
// A measure step for each, ids from 0.
Steps measureSteps(const std::vector<FeatureId>& features);
StepId freeId(const Steps& steps);

// Each depth fits the one before, ids are there once, what holds steps may hold them.
Done validate(const Steps& steps);

} // namespace alder
