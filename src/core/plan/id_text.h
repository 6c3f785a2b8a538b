// Ids as people and files write them.
#pragma once

#include "plan/plan.h"

namespace alder {

// "F3" and back.
std::string idText(FeatureId feature);
std::string idText(RequirementId requirement);
std::optional<FeatureId> featureNamed(const Plan& plan, const std::string& text);
// "F12" of a feature that was taken out of the routine since.
bool namesGoneFeature(const Plan& plan, const std::string& text);

} // namespace alder
