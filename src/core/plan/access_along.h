// Head angles for a direction of the shank.
#pragma once

#include "bench/bench.h"
#include "plan/access.h"

namespace alder {

// Head angles at which the tip's shank lies as near as the head allows to `shank` (from the ball to
// the head, machine frame).
Access accessAlong(const Bench& bench, int stylus, int tip, const Vec3& shank);

} // namespace alder
