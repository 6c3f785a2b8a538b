// Whether the planned touches suffice to judge a requirement: tried on points as an exact part would
// bring them, so that what a fit, a datum system or a filter lacks is told when the routine is
// planned, not after the run.
#pragma once

#include "base/progress.h"
#include "plan/plan.h"
#include <map>

namespace alder {

// By requirement: why it is not covered, in one sentence. Features that are not touched come first;
// else what the judge says. What is covered has none.
using Coverage = std::map<RequirementId, std::string>;
Coverage coverageOf(const Plan& plan, const Progress& progress = {}); // cancelled: what was found so far

} // namespace alder
