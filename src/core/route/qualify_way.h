// The way on which all tips of a routine are qualified on the reference sphere.
#pragma once

#include "route/way.h"

namespace alder {

struct QualifySettings {
  int rings = 2, per_ring = 4;                    // besides the touch at the pole
  double cap = 80 * 3.14159265358979323846 / 180; // of the outer ring from the pole
  double approach = 4;                            // mm
};

// A tip at its angles that the sphere cannot be touched with as the bench stands, and why: the body
// or axis that ends it, and by how much.
struct Unreached {
  Access access;
  std::string why;
};
struct QualifyWay {
  Way way; // steps of the kind Qualify
  std::vector<Unreached> left;
};

// From above the sphere to each tip in turn; the first is the reference: the head is turned high
// above, then the tip comes down along its shaft and touches round the pole that faces it; places
// that stem or neighbours do not let it reach are left out. Error when the bench has no sphere, or
// no tips are asked for.
Result<QualifyWay> qualifyEach(const Plan& plan, const Obstacles& obstacles,
                               const std::vector<Access>& accesses,
                               const QualifySettings& settings = {});
// The same; error with the first tip that the sphere cannot be touched with.
Result<Way> qualifyWay(const Plan& plan, const Obstacles& obstacles,
                       const std::vector<Access>& accesses, const QualifySettings& settings = {});
// Whether the tip could be qualified; always where the bench has no sphere.
bool canQualify(const Plan& plan, const Obstacles& obstacles, const Access& access);

} // namespace alder
