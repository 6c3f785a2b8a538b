// Where the operator touches the part by hand, so that the machine knows roughly where it lies.
#pragma once

#include "route/router.h"

namespace alder {

struct HandTouches {
  FeatureId feature;
  Access access;            // with which the operator touches
  std::vector<int> touches; // of the feature's, far apart
};

// For the features of the part frame in turn. One stylus at one pair of angles for all of them where
// one reaches enough places of each, preferably the one that the program goes on with: between
// touches by hand nothing is known of the part that a head turn could be proved by. What it does
// not reach is touched with the feature's own.
std::vector<HandTouches> handTouches(const Plan& plan, const Clearance& clearance);

} // namespace alder
