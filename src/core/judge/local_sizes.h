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

// Of each ring of a cylinder the diameter of a circle that is as long as its profile, or as large
// (ISO 14405-1: CC = C / pi, CA = 2 sqrt(A / pi)). Between the touches the radius about the centre of
// the ring's least-squares circle follows a cubic, whose slope at each is that of the parabola through
// it and its neighbours. Error without rings, or where one has a gap of over 45 degrees.
enum class CalculatedSize { Circumference, Area };
Result<std::vector<double>> calculatedSizes(const NominalFeature& nominal,
                                            const MeasuredFeature& measured,
                                            const Actual& least_squares, CalculatedSize what);

// Centres of the least-squares circles of the rings, in planes square to the least-squares axis;
// of a slot the middles of the facing pairs. At least three points a ring.
Points medianPoints(const NominalFeature& nominal, const MeasuredFeature& measured,
                    const Actual& least_squares);

} // namespace alder
