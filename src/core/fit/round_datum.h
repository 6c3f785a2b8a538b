// The place of one cylinder or sphere as a datum within the freedom that those before it leave:
// largest inscribed or smallest circumscribed of all.
#pragma once

#include "fit/rigid_fit.h"

namespace alder {

// The placement, within `freedom` of `fit`, that brings the nominal surface to the largest place
// for its points; near an optimum that has been found already. The surface is round. Of places as
// large the one nearest `middle`, the placement by least squares.
Frame largestRound(const SurfacePoints& surface, const RigidFit& fit, const Freedom& freedom,
                   const Frame& middle);

} // namespace alder
