// Where a feature would be touched by its recipe, whatever stands in the way.
#pragma once

#include "plan/plan.h"

namespace alder {

inline constexpr double kNarrowMargin = 0.2; // from edges, mm, where more would leave no place

// With a tip that needs so much room to every edge (mm); on narrow faces nearer to them rather than
// nothing at all.
std::vector<Touch> touchesAnywhere(const Plan& plan, const Feature& feature, double room);

} // namespace alder
