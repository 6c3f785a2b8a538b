#pragma once

#include "plan/plan.h"

namespace alder::demo {

// PLY of a scanner's points of one Heron, in the scanner's own frame: made to the middle of its
// limits, but for three lobes on the boss, and with some spatter about it.
std::string heronScan(const Plan& plan);

} // namespace alder::demo
