#include "fit/chebyshev.h"

#include <algorithm>
#include <memory>

namespace alder {

Chebyshev solveChebyshev(Shape shape, const Cloud& cloud, const Estimate& start,
                         const FitConstraints& k, Sides sides, bool size_free) {
  Estimate now = constrained(shape, start, k, cloud.centre), round_start = now;
  SmallMatrix free;
  const auto refresh = [&] {
    free = freeDirections(shape, now, k, cloud.centre, cloud.reach, size_free);
  };
  const auto after = [&](const SmallVector& y) {
    const SmallVector step = free * y;
    return constrained(shape, moved(shape, now, step.data()), k, cloud.centre);
  };
  refresh();
  SmallVector gradient(static_cast<Eigen::Index>(parametersOf(shape).size()));
  ExchangeProblem p;
  p.reach = cloud.reach;
  p.all = [&](std::vector<double>& d) { distances(shape, cloud, now, d); };
  p.one = [&](std::size_t i, SmallVector& g) {
    const double d = distanceAt(shape, cloud, now, i, gradient.data());
    g = free.transpose() * gradient;
    return d;
  };
  p.after = [&](const SmallVector& y) -> std::function<double(std::size_t)> {
    return [&, e = after(y)](std::size_t i) {
      double g[kMostParameters];
      return distanceAt(shape, cloud, e, i, g);
    };
  };
  p.begin_round = [&] { round_start = now; };
  p.drift = [&](const SmallVector& y) {
    const Estimate e = after(y);
    const Estimate& a = round_start;
    return (a.frame.translation() - e.frame.translation()).norm() +
           (a.frame.linear().col(2) - e.frame.linear().col(2)).norm() * cloud.reach +
           std::abs(a.radius - e.radius) + std::abs(a.half_angle - e.half_angle) * cloud.reach;
  };
  p.accept = [&](const SmallVector& y) {
    now = after(y);
    refresh();
  };
  p.curvature_step = [&](double worst) {
    const double usual = 1e-3 * cloud.reach;
    // A line's distance bends at its own size.
    return shape == Shape::Line ? std::clamp(0.01 * worst, 1e-9 * cloud.reach, usual) : usual;
  };
  p.step_size = [&] { return free.cols(); };
  Exchanged solved = solveByExchange(p, sides);
  return {now, solved.worst, std::move(solved.contacts)};
}

} // namespace alder
