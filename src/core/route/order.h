// In which order features are measured.
#pragma once

#include "plan/plan.h"

namespace alder {

// Index in the steps, before one that stands in no other or at the end, behind the features of the
// part frame and not between a pinned feature and the one it follows, where this one costs least
// time.
std::size_t cheapestPlace(const Plan& plan, FeatureId feature);

// Features of the part frame (3-2-1 from the datum system used most) and a short measuring order.
void planOrder(Plan& plan);
// The order that takes least time with hops, head turns and swaps, as far as found: the features of
// the part frame stay first and as they are, pinned ones behind the one they follow now.
void orderForTime(Plan& plan);

} // namespace alder
