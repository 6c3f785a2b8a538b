// Smallest possible largest value of many smooth functions of a few parameters, for the Chebyshev
// criteria. Proximal steps on the linearised functions with the curvature of their weighted sum
// (Hettich and Kortanek 1993; Lemarechal 1981): superlinear also where fewer functions meet than
// there are parameters.
#pragma once

#include "fit/small_linear.h"
#include <functional>
#include <optional>

namespace alder {

struct Linearised {
  SmallVector values;    // one per function
  SmallMatrix gradients; // one column per function
};

// max_k(values_k + gradients_k . y) + y' h y / 2 made smallest: the step y and the weights of the
// functions that hold it (sum 1).
struct ProximalStep {
  SmallVector step;
  SmallVector weights;
  double value = 0; // largest linearised value at the step
};
ProximalStep proximalStep(const Linearised& at, const SmallMatrix& h);

// Second differences of f at zero over steps of h, in each pair of the n unknowns.
SmallMatrix curvatureOf(const std::function<double(const SmallVector&)>& f, Eigen::Index n,
                        double h);

// The same from the gradients of f, by n times fewer calls. At a step they may be those by a further
// step of the same kind, as of motions: what the order of two motions changes falls out.
SmallMatrix curvatureFrom(const std::function<SmallVector(const SmallVector&)>& slope,
                          Eigen::Index n, double h);

// The problem in local steps from a current place that the caller keeps.
struct MinimaxProblem {
  std::function<Linearised()> linearise;
  // largest value after a step; nothing is changed
  std::function<double(const SmallVector&)> worst;
  // value of the weighted sum after a step; for its curvature
  std::function<double(const SmallVector& step, const SmallVector& weights)> weighted;
  // gradient of that; optional, and faster
  std::function<SmallVector(const SmallVector& step, const SmallVector& weights)> weighted_slope;
  std::function<void(const SmallVector&)> accept;
  // The present place; what it returns goes back to it. Where given, the end is settled to where
  // the weighted gradients add up to nothing.
  std::function<std::function<void()>()> remember;
  double scale = 1;          // mm: reach of a sensible step
  double curvature_step = 1; // mm: over which the functions bend little
};
// Returns the weights at the end.
SmallVector solveMinimax(const MinimaxProblem& problem, int most_steps = 100);

} // namespace alder
