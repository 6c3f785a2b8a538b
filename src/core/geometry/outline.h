// Outlines of points seen from above.
#pragma once

#include "geometry/vec.h"

namespace alder {

// Convex ring round all points in X and Y, anticlockwise (Andrew 1979, monotone chain); z is that
// of the points met.
Points convexOutline(const Points& points);

} // namespace alder
