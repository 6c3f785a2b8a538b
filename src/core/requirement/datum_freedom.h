// What the datums of a system fix, from their nominal geometry alone (ISO 5459, 6.3: invariance
// classes of situation features).
#pragma once

#include "requirement/specification.h"

namespace alder {

// Degrees of freedom that each reference takes from what those before left: 0 adds nothing.
// References to unknown datums take 0.
std::vector<int> freedomTaken(const Specification& spec,
                              const std::vector<DatumReference>& references);

} // namespace alder
