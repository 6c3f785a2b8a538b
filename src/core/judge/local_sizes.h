// Sizes from point to point and extracted median features (ISO 14405-1 modifier LP, ISO 17450-3,
// ISO 14660-2).
#pragma once

#include "judge/actual.h"

namespace alder {

struct LocalSize {
  double size = 0;
  std::size_t first = 0, second = 0; // points that face each other
};

// Of each ring of a cylinder the diameters through the centre of its least-squares circle, of a
// slot the widths between points that face each other. Each point is used with the one that faces
// it to within 3 degrees, or a tenth of the width. Empty where no points do.
std::vector<LocalSize> localSizes(const NominalFeature& nominal, const MeasuredFeature& measured,
                                  const Actual& least_squares);

// Centres of the least-squares circles of the rings, in planes square to the least-squares axis;
// of a slot the middles of the facing pairs. At least three points a ring.
Points medianPoints(const NominalFeature& nominal, const MeasuredFeature& measured,
                    const Actual& least_squares);

} // namespace alder
