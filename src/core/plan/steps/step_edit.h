// Changes of the steps as a person makes them, each as one edit: put in, taken out, moved, grouped,
// left out, changed. Errors say why not; the plan is not touched.
#pragma once

#include "plan/edit.h"

namespace alder {

// The smallest edit that leads from the plan's steps to these; NothingChanges where they are the
// same.
Result<Edit> stepsBecome(const Plan& plan, Steps steps);

// At an index of the list and a depth; ids are given anew.
Result<Edit> insertSteps(const Plan& plan, Steps fresh, std::size_t at, int depth);
// With all within them.
Result<Edit> removeSteps(const Plan& plan, const std::vector<StepId>& ids);
// In their present order to before another (none: to the end), as deep as that stands.
Result<Edit> moveSteps(const Plan& plan, const std::vector<StepId>& ids,
                       std::optional<StepId> before);
Result<Edit> enableSteps(const Plan& plan, const std::vector<StepId>& ids, bool enabled);
Result<Edit> changeStep(const Plan& plan, StepId id, StepBody body);
// Into the measure step that follows it, before the first touch; and out again, before that step.
Result<Edit> putWithinNext(const Plan& plan, StepId id);
Result<Edit> putOutside(const Plan& plan, StepId id);
// Where the first of them stands.
Result<Edit> groupSteps(const Plan& plan, const std::vector<StepId>& ids, const std::string& name);
// What the groups hold stands in their place.
Result<Edit> ungroupSteps(const Plan& plan, const std::vector<StepId>& ids);
// The features in this order, each in the place of another's measure step.
Result<Edit> orderFeatures(const Plan& plan, const std::vector<FeatureId>& order);

// "Wait for the operator: open clamp 1", "Measure Bore ø32".
std::string describe(const Plan& plan, const RoutineStep& step);
// The step in which a feature is measured; not valid where there is none.
StepId stepOf(const Steps& steps, FeatureId feature);

} // namespace alder
