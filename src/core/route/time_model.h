// Seconds that the machine needs: each straight move starts and ends at rest, with speed and
// acceleration limited per axis; head turns, swaps and touches take their own time.
#pragma once

#include "bench/bench.h"
#include "route/way.h"

namespace alder {

// Trapezoidal speed profile along a straight move; the axis that needs most time sets the pace.
double moveSeconds(const Machine& machine, const Vec3& from, const Vec3& to);
// `speed` mm/s; 0: the machine's.
double touchSeconds(const Machine& machine, const Vec3& from, const Vec3& to, double speed = 0);
double turnSeconds(const Head& head, const Access& from, const Access& to);
inline constexpr double kSwapSeconds = 20; // a rack change, or a swap by a practised hand

// Time at which each position of the way is reached, from 0.
std::vector<double> timesOf(const Bench& bench, const Way& way);

} // namespace alder
