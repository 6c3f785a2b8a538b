// The largest inscribed or smallest circumscribed circle, cylinder or sphere of all: a local search
// finds one that no small change betters, but among errors of form there are several.
#pragma once

#include "fit/chebyshev.h"

namespace alder {

struct ExtremeSize {
  Chebyshev best;
  bool proved =
      false; // that none better by more than 3e-13 mm lies near; else the search was broken off
  double place_within = 0; // see Association
};

// Among all places within some times the form error of `local`: boxes of places are shrunk to what
// a better one must hold to first order, less what the curvature over the box can add, and halved
// where that does not help (branch and bound; Horst and Tuy, "Global Optimization", 1996, IV).
// Where boxes are left after the first few, the local search starts from each of them as well.
// About the best place its contacts prove that none is better, so that no box need be small there.
// `sides`: Lower for inscribed, Upper for circumscribed.
// Of places as good to 1e-10 mm the one nearest `middle` is taken, the least-squares one: the place
// of such a surface, and all that is measured from it, would else follow the rounding.
ExtremeSize extremeSize(Shape shape, const Cloud& cloud, const Chebyshev& local,
                        const Estimate& middle, const FitConstraints& constraints, Sides sides);

} // namespace alder
