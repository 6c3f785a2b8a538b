// Points prepared for the passes of a fit: coordinates apart, relative to their centroid (so that
// nothing is lost far from the origin), and passes over all of them in lanes and in parallel.
// Sums are taken in fixed chunks, so the result does not depend on the number of threads.
#pragma once

#include "fit/shape_model.h"
#include "fit/small_linear.h"

namespace alder {

struct Cloud {
  std::vector<double> x, y, z;
  std::vector<double> side; // slot only: +1 or -1 for each point
  Vec3 centre = Vec3::Zero();
  double reach = 0; // largest distance from the centre

  std::size_t size() const { return x.size(); }
  Vec3 at(std::size_t i) const { return {x[i], y[i], z[i]}; } // relative to the centre
};

Cloud cloudOf(const Points& points);
// Every so many-th point, at most `most`.
Cloud thinned(const Cloud& cloud, std::size_t most);
Cloud subset(const Cloud& cloud, const std::vector<std::size_t>& which);

// Normal equations of the linearised distances: sum of g g', of g d, of d^2. A line's distance has
// no derivative on the axis; its two components are summed instead.
struct NormalEquations {
  SmallMatrix matrix;
  SmallVector right;
  double sum = 0;
};
NormalEquations normalEquations(Shape shape, const Cloud& cloud, const Estimate& e);

void distances(Shape shape, const Cloud& cloud, const Estimate& e, std::vector<double>& out);
// Distance and gradient of one point.
double distanceAt(Shape shape, const Cloud& cloud, const Estimate& e, std::size_t i,
                  double* gradient);

} // namespace alder
