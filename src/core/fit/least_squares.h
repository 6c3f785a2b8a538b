// Least squares of orthogonal distances by Gauss-Newton with damping, from a start that is searched
// over all directions when none is given.
#pragma once

#include "fit/freedom_of_fit.h"

namespace alder {

struct Solved {
  Estimate estimate;
  double sum = 1e300;
  // Smallest eigenvalue of the normal matrix over points, steps counted in mm at the points' reach,
  // and the step that it belongs to: what the points do not fix when it is nearly zero.
  double least_fixed = 0;
  SmallVector loosest; // parameters
  SmallMatrix normal;  // of the parameters, at the end
};

Solved solveLeastSquares(Shape shape, const Cloud& cloud, Estimate start,
                         const FitConstraints& constraints, int most_steps = 100);

// Positions relative to the cloud's centre. Nothing when no direction gives a usable start.
std::optional<Estimate> startOf(Shape shape, const Cloud& cloud,
                                const std::optional<FitStart>& start,
                                const FitConstraints& constraints);

} // namespace alder
