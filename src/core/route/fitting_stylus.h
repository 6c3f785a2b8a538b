// A stylus that the bench lacks, with which a feature that nothing reaches could be touched.
#pragma once

#include "route/clearance.h"

namespace alder {

struct FittingStylus {
  std::string words; // "a ball ø1.5 on a shaft of 52 mm, ø1, in place of that of short ø3"
  Bench bench;       // the bench with it, as the last of its styli
  Access access;     // that tip, at angles at which it reaches the feature
};

// The nearest change of a straight stylus of the bench that helps, in the standing of the plan:
// first a longer shaft, then a smaller ball on a thinner shaft; never longer than the probe bears.
// None: no such stylus helps.
std::optional<FittingStylus> fittingStylus(const Plan& plan, const Obstacles& obstacles,
                                           FeatureId feature);

// Its words for the reason of a feature that is not reached; empty: none helps.
std::string helpToReach(const Plan& plan, const Obstacles& obstacles, FeatureId feature);

} // namespace alder
