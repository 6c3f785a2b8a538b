#include "fit/chebyshev.h"

#include <algorithm>
#include <memory>

namespace alder {

namespace {

// The point of an axis nearest the points' centroid: its own origin may lie anywhere along it.
Vec3 foot(Shape shape, const Estimate& e) {
  const Vec3 t = e.frame.translation(), d = e.frame.linear().col(2);
  return shape == Shape::Cylinder ? Vec3(t - t.dot(d) * d) : t;
}

} // namespace

double NearestPlace::at(Shape shape, const Estimate& e, double reach) const {
  if (per_mm == 0) return 0;
  const Vec3 lean = e.frame.linear().col(2) - place.frame.linear().col(2);
  return per_mm * ((foot(shape, e) - foot(shape, place)).squaredNorm() +
                   (shape == Shape::Cylinder ? reach * reach * lean.squaredNorm() : 0));
}

SmallVector NearestPlace::slope(Shape shape, const Estimate& e, double reach) const {
  const auto& parameters = parametersOf(shape);
  SmallVector out = SmallVector::Zero(static_cast<Eigen::Index>(parameters.size()));
  if (per_mm == 0) return out;
  const Mat3& axes = e.frame.linear();
  const Vec3 t = e.frame.translation(), d = axes.col(2), off = foot(shape, e) - foot(shape, place),
             lean = reach * reach * (d - place.frame.linear().col(2));
  for (std::size_t i = 0; i < parameters.size(); ++i) {
    const auto which = static_cast<Eigen::Index>(parameters[i]); // shifts, then tilts
    if (which > 4) continue;
    const Vec3 axis = axes.col(which % 3);
    const Vec3 by_tilt = lean - t.dot(d) * off - off.dot(d) * t; // the foot moves too
    out[static_cast<Eigen::Index>(i)] = 2 * per_mm * axis.dot(which < 3 ? off : by_tilt);
  }
  return out;
}

Chebyshev solveChebyshev(Shape shape, const Cloud& cloud, const Estimate& start,
                         const FitConstraints& k, Sides sides, bool size_free,
                         const std::vector<std::size_t>& first, const NearestPlace& nearest) {
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
  const double side = sides == Sides::Lower ? -1 : 1;
  p.all = [&](std::vector<double>& d) {
    distances(shape, cloud, now, d);
    if (const double off = side * nearest.at(shape, now, cloud.reach); off != 0)
      for (double& v : d)
        v += off;
  };
  p.one = [&](std::size_t i, SmallVector& g) {
    const double d = distanceAt(shape, cloud, now, i, gradient.data());
    g = free.transpose() * (gradient + side * nearest.slope(shape, now, cloud.reach));
    return d + side * nearest.at(shape, now, cloud.reach);
  };
  p.after = [&](const SmallVector& y) -> std::function<double(std::size_t)> {
    const Estimate e = after(y);
    return [&shape, &cloud, e, off = side * nearest.at(shape, e, cloud.reach)](std::size_t i) {
      double g[kMostParameters];
      return distanceAt(shape, cloud, e, i, g) + off;
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
  p.remember = [&]() -> std::function<void()> {
    return [&, saved = now] {
      now = saved;
      refresh();
    };
  };
  p.curvature_step = [&](double worst) {
    const double usual = 1e-3 * cloud.reach;
    // A line's distance bends at its own size.
    return shape == Shape::Line ? std::clamp(0.01 * worst, 1e-9 * cloud.reach, usual) : usual;
  };
  p.step_size = [&] { return free.cols(); };
  Exchanged solved = solveByExchange(p, sides, first);
  return {now, solved.worst, std::move(solved.contacts)};
}

} // namespace alder
