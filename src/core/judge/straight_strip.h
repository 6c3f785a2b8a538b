// The narrowest strip that holds points of a plane: straightness of a profile line, exactly. A
// strip of least width has two points on one border (Toussaint 1983), so the edges of the hull
// decide.
#pragma once

#include "geometry/hull.h"

namespace alder {

double narrowestStrip(PlanePoints points);
// Range about the least-squares line, square to it.
double leastSquaresStrip(const PlanePoints& points);

} // namespace alder
