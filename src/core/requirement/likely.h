// What is mostly asked of a surface of some kind, for a part whose model carries no tolerances.
#pragma once

#include "requirement/specification.h"

namespace alder {

struct LikelyRequirement {
  std::string words;       // "Size ø16 ±0.1", "Flatness 0.1"
  Requirement requirement; // without features; mm
};

// The likeliest first: of what has a size the size, of a plane flatness. Position is in all datums
// that there are, and left out without any. Never empty.
std::vector<LikelyRequirement> likelyRequirements(const Ideal& ideal,
                                                  const std::vector<Datum>& datums);

// The next letter for a datum: I, O and Q are not used (ISO 5459).
std::string freeDatumLetter(const Specification& spec);

} // namespace alder
