// A typed requirement laid on features: what it leaves open comes from them, and what they
// contradict is told.
#pragma once

#include "requirement/general_tolerances.h"
#include "requirement/typed/typed.h"

namespace alder {

struct LaidOn {
  std::vector<Requirement> requirements; // with features, ready to be added
  std::vector<std::string> remarks;      // a line each: what a person must see
};

// Error in one line where it cannot stand on these features at all: a diameter of a plane, a
// thread. Dimensions without limits get the specification's general tolerances.
Result<LaidOn> layOn(const Specification& spec, const std::vector<FeatureId>& features,
                     const std::vector<Typed>& typed, const DecidingLength& leg = {});

} // namespace alder
