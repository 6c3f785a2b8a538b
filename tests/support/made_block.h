// A block with features of every kind, measured with errors of form, place and size drawn by lot; and
// requirements on them. Its points are exact functions of the seed, so that a second judge can be
// asked about the same ones.
#pragma once

#include "judge/verdict.h"

namespace alder::test {

struct MadeBlock {
  Plan plan; // features and requirements, no CAD
  Measurements measured;
};

// `errors`: form and place in mm, about; 0: as modelled.
MadeBlock madeBlock(std::uint64_t seed, double errors, ToleranceStandard standard);

// What a requirement of the block is, with its modifiers: "position M | A | B M".
std::string describe(const MadeBlock& block, const Requirement& requirement);

} // namespace alder::test
