// With which stylus and head angles each feature is touched.
#pragma once

#include "base/progress.h"
#include "route/clearance.h"

namespace alder {

// How the reason of a feature that is not reached ends, as long as one standing was tried.
inline constexpr std::string_view kAnotherStandingMay = "another standing of the part may";

// Of the features that are not reached from straight above: with how many tips and angles they are
// touched, and how many it takes at least among those that were tried.
struct AccessCount {
  int used = 0, least = 0;
};

// Plans touches and chooses stylus and angles for all features that are not forced; fills
// `touches`, `access` and `why_not`.
Done planAccess(Plan& plan, const Obstacles& obstacles, const Progress& progress,
                AccessCount* count = nullptr);

// Whether some tip of the bench finds enough places on the feature, whatever stands in its way.
bool hasPlaces(const Plan& plan, FeatureId feature);

// The same for one feature, the others as they are.
Done planAccessOf(Plan& plan, const Obstacles& obstacles, FeatureId feature,
                  const Progress& progress = {});

} // namespace alder
