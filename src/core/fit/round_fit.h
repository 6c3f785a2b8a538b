// Least squares of circle (in the XY plane), cylinder, cone and sphere by Gauss-Newton with step
// control, in a frame that is moved to the current axis at each step.
// Parametrisation: Forbes, "Least-squares best-fit geometric elements", NPL report DITC 140/89.
#pragma once

#include "fit/association.h"

namespace alder {

Result<Association> fitRound(Shape shape, const Points& points,
                             const std::optional<FitStart>& start);

} // namespace alder
