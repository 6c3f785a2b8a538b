// From the plan to the way of the machine: entry and exit of each feature, moves between touches,
// hops over the safe shell, head turns and stylus swaps where there is room.
#pragma once

#include "base/progress.h"
#include "route/feature_router.h"
#include <set>

namespace alder {

// Where a way begins that goes on with a routine: at a place of the machine, from a step on,
// without the touches that are done already.
struct RouteStart {
  Vec3 ball = Vec3::Zero();
  Access access;
  StepId from; // not valid: from the first on
  std::set<std::pair<FeatureId, int>> done;
  std::set<StepId> steps_done; // waits, questions, verdicts and frames
  std::set<StepId> left_out;   // by the verdict on something
  bool aligned = false;        // the part frame was found by program
};

Result<Way> routePlan(const Plan& plan, const Obstacles& obstacles, const Progress& progress = {},
                      const RouteStart* start = nullptr);

} // namespace alder
