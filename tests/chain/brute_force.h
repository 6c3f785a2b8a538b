// The slow, plain answer to whether a feature can be touched: every tip at every angle of the head.
#pragma once

#include "plan/plan.h"
#include <string>

namespace alder::test {

// Tip and angles that would do for a feature which the routine leaves out; empty: there are none.
std::string accessThatWouldDo(const Plan& plan, FeatureId feature);

} // namespace alder::test
