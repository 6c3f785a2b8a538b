// Bonus of a tolerance by the actual size (ISO 2692; ASME Y14.5 MMC and LMC).
#pragma once

#include "judge/actual.h"

namespace alder {

// Distance of the actual size from the maximum (least) material limit, within the size tolerance:
// by the mating envelope for M, by the minimum material envelope for L; by least squares where the
// requirement says so. 0 without modifier. With reciprocity a size beyond that limit takes from the
// tolerance instead. Error when the feature has no size, or its size not the limit that counts.
Result<double> bonusOf(const Plan& plan, const Requirement& r, FeatureId feature,
                       const MeasuredFeature& measured);

// Limits of the size: of the size requirement on the feature.
struct SizeLimits {
  double lower = 0, upper = 0;
};
std::optional<SizeLimits> sizeLimitsOf(const Plan& plan, FeatureId feature);
// Those that a material modifier speaks of. Error where there is no size, or the limit from which
// the modifier counts is open (a single limit on the other side).
Result<SizeLimits> materialLimitsOf(const Plan& plan, FeatureId feature, MaterialModifier modifier);

} // namespace alder
