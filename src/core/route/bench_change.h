// Another bench under a routine: what must change with it, as edits that can be undone.
#pragma once

#include "base/progress.h"
#include "plan/edit.h"

namespace alder {

// The part goes where the new fixture says, else onto the table. Angles that the programmer forced
// stay with the tip of the same name; all others are sought anew, with the touches.
Result<EditGroup> changeOfBench(const Plan& plan, Bench bench, const Progress& progress = {});
// The stylus that would reach these features taken on, and those of them that are not touched
// planned with it. Error: no stylus that the probe bears would.
Result<EditGroup> takeFittingStylus(const Plan& plan, const std::vector<FeatureId>& features,
                                    const Progress& progress = {});
// The same bench, changed: the part stays where it is.
SetBench changedBench(const Plan& plan, Bench bench);

} // namespace alder
