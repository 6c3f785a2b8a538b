// Where the contacts of a largest or smallest surface hold each other in balance.
#pragma once

#include "fit/chebyshev.h"

namespace alder {

// The place at which the weighted slopes of the contacts add up to nothing, all contacts as deep,
// by Newton's method on those conditions (Kuhn and Tucker 1951), near an optimum that a search by
// size has found. Where contacts hold the place loosely, sizes within 1e-13 mm belong to places
// micrometres apart: slopes tell them apart to 1e-9 mm, sizes do not. `near` itself where none is
// found that is as good. With `nearest`, `near.worst` holds what it adds.
Chebyshev balanced(Shape shape, const Cloud& cloud, const Chebyshev& near,
                   const FitConstraints& constraints, Sides sides, const NearestPlace& nearest);

} // namespace alder
