// Ideal geometry and points computed from those of others. CAD axes, mm.
#pragma once

#include "requirement/specification.h"

namespace alder {

// A feature as constructions see it. Planes, axes and centres are those of `ideal`; of a plane the
// points say how far it reaches.
struct Shaped {
  Ideal ideal;
  Points points;
  std::vector<int> rows; // ring or section of each point, where there are any
};

// The points of the result lie on it, so that it can be associated, judged and taken as a datum
// like a touched feature. Error says which parent does not serve, or what is degenerate: parallel
// planes have no intersection. Angles below 1 degree count as parallel.
Result<Shaped> construct(const Construction& construction, const std::vector<Shaped>& parents);

} // namespace alder
