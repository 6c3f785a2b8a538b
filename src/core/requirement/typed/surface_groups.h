// What is recognised on a part, alike surfaces together: the list by which a part without
// tolerances is gone through.
#pragma once

#include "requirement/specification.h"

namespace alder {

// Same kind, size and direction, so that one callout with a count can be of all of them.
bool alike(const Ideal& a, const Ideal& b);

struct SurfaceGroup {
  std::string words; // "6 × Bore ø11 on ø84", "Bore ø32, 40 long", "Plane, 1240 mm²"
  Ideal ideal;       // of the first
  std::vector<std::vector<FaceId>> surfaces;
};

// Surfaces on whose faces no requirement is: round ones first, the largest first; those with a size
// together where they are alike, and told as a circle where their axes lie on one.
std::vector<SurfaceGroup> surfacesNotAskedFor(const PartModel& part, const Specification& spec);

} // namespace alder
