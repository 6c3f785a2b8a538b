// Chebyshev criteria of the shapes: minimum zone, and one-sided for inscribed and circumscribed.
#pragma once

#include "fit/exchange_solver.h"
#include "fit/freedom_of_fit.h"

namespace alder {

// Of places that are as good to the rounding, the one nearest this is taken: a place is held to be
// worse by `per_mm` times the square of how far it lies off.
struct NearestPlace {
  Estimate place;
  double per_mm = 0;
  double at(Shape shape, const Estimate& e, double reach) const;
  // Derivatives by the parameters of a cylinder, circle or sphere.
  SmallVector slope(Shape shape, const Estimate& e, double reach) const;
};

struct Chebyshev {
  Estimate estimate;    // size as at the start unless free
  double worst = 1e300; // with what `nearest` adds
  std::vector<Contact> contacts;
};

// Local optimum from the start; `first` as for solveByExchange.
Chebyshev solveChebyshev(Shape shape, const Cloud& cloud, const Estimate& start,
                         const FitConstraints& constraints, Sides sides, bool size_free,
                         const std::vector<std::size_t>& first = {},
                         const NearestPlace& nearest = {});

} // namespace alder
