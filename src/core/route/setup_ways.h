// The ways of all set-ups, in the order in which they are run.
#pragma once

#include "route/router.h"

namespace alder {

struct SetupWay {
  Plan plan; // working on the set-up
  Obstacles obstacles;
  Way way;
};

Result<std::vector<SetupWay>> setupWays(const Plan& plan, const Progress& progress = {});

} // namespace alder
