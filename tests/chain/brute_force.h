// The slow, plain answer to whether a feature can be touched: every tip at every angle of the head.
#pragma once

#include "plan/plan.h"
#include <functional>
#include <string>

namespace alder::test {

// Tip and angles that would do for a feature which the routine leaves out, or touches otherwise;
// `enough` is asked of the touches that can be made. Empty: there are none.
using Enough = std::function<bool(const Access&, const std::vector<Touch>&)>;
std::string accessThatWouldDo(const Plan& plan, FeatureId feature, const Enough& enough = {});

// Do these hold a part so firmly that it could neither slide nor turn?
bool holdTogether(const Plan& plan, const std::vector<Touch>& touches);

} // namespace alder::test
