// A surface that is not flat rocks on a flat one: the planes outside the material that rest on
// three of its points, as far as they count as datums.
#pragma once

#include "geometry/vec.h"
#include <array>
#include <vector>

namespace alder {

// `points`: x and y along the surface, z out of the material. Each triple is the contact of one
// plane that has all points on its inner side, widest contact first. A plane whose contacts lie
// together in an outer third of the surface, seen from any side, would tip and is left out (ASME
// Y14.5.1M-1994, 4.3.1, candidate datums). Empty when no plane passes.
std::vector<std::array<std::size_t, 3>> restingPlanes(const Points& points);

} // namespace alder
