// How far the surface of a feature may lie off the model, for a frame that keeps it inside.
#pragma once

#include "plan/plan.h"

namespace alder {

// The one that the stage names; else half the tightest profile tolerance of the feature to each
// side, about its middle where it is unequally disposed (ISO 1660, UZ). Error where there is none.
Result<Band> bandOf(const Plan& plan, const FrameStage& stage, FeatureId feature);

} // namespace alder
