// Where a measured part lies, roughly, from the features themselves: at any place, turned in any
// way. What is fitted afterwards starts there, so that no figure depends on where the part lay.
#pragma once

#include "judge/measurement.h"

namespace alder {

// Nominal frame -> frame of the points; a motion of all points moves it along. Where each point was
// meant to be decides as far as it is known (Kabsch 1976); else the axes, planes and centres of the
// features are matched with their nominals, and of several placements that match alike (a block
// turned over) the one that hardly turns the part is taken, else the one whose features lie nearest
// their nominal places. Identity where nothing tells. Good to about the form of the features, not more.
Frame coarsePlace(const Plan& plan, const std::vector<FeatureId>& features,
                  const Measurements& measured);

// The points brought to where the nominals are: `placement` inverse.
Measurements placedBack(const Measurements& measured, const std::vector<FeatureId>& features,
                        const Frame& placement);

} // namespace alder
