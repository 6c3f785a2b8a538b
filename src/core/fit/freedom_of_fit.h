// What a fit may change: the parameters of the shape less what the constraints hold.
#pragma once

#include "fit/cloud.h"

namespace alder {

// Columns map a small step, counted in mm at the points' reach, to changes of the parameters.
SmallMatrix freeDirections(Shape shape, const Estimate& e, const FitConstraints& constraints,
                           const Vec3& cloud_centre, double reach, bool size_free = true);
// The estimate brought to where the constraints hold exactly.
Estimate constrained(Shape shape, Estimate e, const FitConstraints& constraints,
                     const Vec3& cloud_centre);

} // namespace alder
