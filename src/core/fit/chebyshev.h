// Chebyshev criteria of the shapes: minimum zone, and one-sided for inscribed and circumscribed.
#pragma once

#include "fit/exchange_solver.h"
#include "fit/freedom_of_fit.h"

namespace alder {

struct Chebyshev {
  Estimate estimate; // size as at the start unless free
  double worst = 1e300;
  std::vector<Contact> contacts;
};

// Local optimum from the start.
Chebyshev solveChebyshev(Shape shape, const Cloud& cloud, const Estimate& start,
                         const FitConstraints& constraints, Sides sides, bool size_free);

} // namespace alder
