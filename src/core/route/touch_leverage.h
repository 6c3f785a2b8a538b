// How well touches hold a feature everywhere, not only where they are.
#pragma once

#include "plan/plan.h"

namespace alder {

// Standard deviation of the fitted surface at the worst of the places, as a multiple of that of one
// touch (prediction by least squares: the square root of the leverage r' (J'J)^-1 r; Belsley, Kuh
// and Welsch 1980). Up to 1 where the touches are at all the places; much above where it is
// extrapolated; infinite where the touches do not fix what the places would. Of shapes without a
// form of their own (freeform, torus) 1.
double leverageAt(const Ideal& ideal, const std::vector<Touch>& touches,
                  const std::vector<Touch>& places);

// Above this the feature is a guess where it is not touched.
inline constexpr double kMostLeverage = 2.5;

// Covered, but held badly away from its touches.
bool touchedPoorly(const Plan& plan, const Feature& feature);

} // namespace alder
