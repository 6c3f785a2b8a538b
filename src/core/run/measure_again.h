// Features of a part that was measured before, measured once more.
#pragma once

#include "plan/plan.h"

namespace alder {

// The routine that touches these features alone, with what is done between their touches, and opens
// and closes clamps as the whole one does. `lies`: where the part still lies (CAD frame in the
// machine frame); nothing: it was taken out, so that all is touched again by which it and the
// frames of the routine are found. Error when none of the features is measured.
Result<Plan> planToMeasureAgain(const Plan& plan, const std::vector<FeatureId>& features,
                                const std::optional<Frame>& lies);

} // namespace alder
