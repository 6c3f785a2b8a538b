// Which touches of a feature the operator makes by hand, so that the part is roughly found.
#pragma once

#include "plan/plan.h"

namespace alder {

// Indices of a few of the feature's touches, far apart, ascending.
std::vector<int> handTouches(const Plan& plan, FeatureId id, bool primary);

} // namespace alder
