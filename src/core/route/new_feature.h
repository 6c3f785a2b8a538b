// Faces that are to be measured and are no feature yet.
#pragma once

#include "base/progress.h"
#include "plan/edit.h"
#include "route/clearance.h"

namespace alder {

struct NewFeatures {
  std::vector<FeatureId> features;
  std::vector<Edit> edits; // to be applied in turn
};
// What it takes to measure faces that are no feature yet: one feature for each surface, with
// touches and access like those drafted, preferring tips and angles in use, in the place of the
// order where it costs least. What is not reached says why. Edits are to be applied in turn. Error
// when the faces are features already, or cancelled.
Result<NewFeatures> planNewFeatures(const Plan& plan, const Obstacles& obstacles,
                                    const std::vector<FaceId>& faces,
                                    const Progress& progress = {});

// What it takes to measure what a specification asks for that has more features than the routine:
// the new ones are planned by their tightest tolerances. Where there are no steps so far the whole
// routine is drafted, with part frame and order.
Result<NewFeatures> planSpecification(const Plan& plan, const Obstacles& obstacles,
                                      const Specification& wanted, const Progress& progress = {});

} // namespace alder
