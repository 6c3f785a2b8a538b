// Convex hull of places in a plane.
#pragma once

#include <utility>
#include <vector>

namespace alder {

using PlanePoints = std::vector<std::pair<double, double>>;

// Counter-clockwise, without places on its sides (Andrew, 1979). Fewer than three: as they are.
PlanePoints convexHull(PlanePoints points);

// The longer side of the smallest rectangle that holds them: of a disc its diameter.
double longerSideOfBox(const PlanePoints& points);

} // namespace alder
