// The way on which all tips of a routine are qualified on the reference sphere.
#pragma once

#include "route/way.h"

namespace alder {

struct QualifySettings {
  int rings = 2, per_ring = 4;                    // besides the touch at the pole
  double cap = 80 * 3.14159265358979323846 / 180; // of the outer ring from the pole
  double approach = 4;                            // mm
};

// From above the sphere to each tip in turn; the first is the reference: the head is turned high
// above, then the tip comes down along its shank and touches round the pole that faces it; places
// that stem or neighbours do not let it reach are left out. Steps are of the kind Qualify. Error
// when the bench has no sphere, or too few places of it can be touched: names the tip and what is
// in the way.
Result<Way> qualifyWay(const Plan& plan, const Obstacles& obstacles,
                       const std::vector<Access>& accesses, const QualifySettings& settings = {});

} // namespace alder
