#include "fit/least_squares.h"

#include <algorithm>

namespace alder {

Solved solveLeastSquares(Shape shape, const Cloud& cloud, Estimate start, const FitConstraints& k,
                         int most_steps) {
  Solved best;
  best.estimate = constrained(shape, start, k, cloud.centre);
  NormalEquations at = normalEquations(shape, cloud, best.estimate);
  const double count = static_cast<double>(cloud.size());
  const double enough = 1e-13 * std::max(cloud.reach, 1e-6);
  double damping = 0;
  SmallMatrix free, small;
  for (int step = 0;; ++step) {
    free = freeDirections(shape, best.estimate, k, cloud.centre, cloud.reach);
    small = free.transpose() * at.matrix * free / count;
    if (step == most_steps || !std::isfinite(at.sum) || free.cols() == 0) break;
    const SmallVector right = -(free.transpose() * at.right) / count;
    bool improved = false;
    double change = 0;
    for (int tries = 0; tries < 14; ++tries) {
      const SmallMatrix damped =
          small + (damping + 1e-14) * SmallMatrix::Identity(small.rows(), small.cols());
      const SmallVector y = solvePositive(damped, right);
      const SmallVector p = free * y;
      const Estimate next =
          constrained(shape, moved(shape, best.estimate, p.data()), k, cloud.centre);
      NormalEquations there = normalEquations(shape, cloud, next);
      if (std::isfinite(there.sum) && there.sum <= at.sum * (1 + 1e-14)) {
        change = y.norm();
        improved = there.sum < at.sum;
        best.estimate = next;
        at = std::move(there);
        damping = damping > 1e-9 ? damping * 0.1 : 0;
        break;
      }
      if (y.norm() < enough) break;
      damping = std::max(damping * 10, 1e-6);
    }
    if (!improved || change < enough) {
      free = freeDirections(shape, best.estimate, k, cloud.centre, cloud.reach);
      small = free.transpose() * at.matrix * free / count;
      break;
    }
  }
  best.sum = at.sum;
  best.normal = at.matrix;
  if (free.cols() == 0) {
    best.least_fixed = 1;
  } else {
    const auto e = eigenpairs(small);
    best.least_fixed = e.values[0];
    best.loosest = free * e.vectors.col(0);
  }
  return best;
}

namespace {

// x^2 + y^2 = 2ax + 2by + c seen along the direction, with terms in z and z^2 for a cone.
std::optional<Estimate> startAlong(Shape shape, const Vec3& direction, const Cloud& cloud) {
  Estimate e;
  e.frame = frameOf(Vec3::Zero(), direction);
  if (shape == Shape::Line) return e;
  const int n = shape == Shape::Cone ? 5 : 3;
  SmallMatrix normal = SmallMatrix::Zero(n, n);
  SmallVector right = SmallVector::Zero(n), g(n);
  const Mat3 turn = e.frame.linear().transpose() / std::max(cloud.reach, 1e-12);
  for (std::size_t i = 0; i < cloud.size(); ++i) {
    const Vec3 q = turn * cloud.at(i);
    g.head(3) << 2 * q.x(), 2 * q.y(), 1;
    if (n == 5) g[3] = q.z(), g[4] = q.z() * q.z();
    for (int a = 0; a < n; ++a) {
      for (int b = 0; b <= a; ++b)
        normal(a, b) += g[a] * g[b];
      right[a] += g[a] * (q.x() * q.x() + q.y() * q.y());
    }
  }
  for (int a = 0; a < n; ++a)
    for (int b = 0; b < a; ++b)
      normal(b, a) = normal(a, b);
  const SmallVector x = solveSquare(normal, right);
  if (!x.allFinite() || x.head(2).norm() > 1e4) return {};
  e.frame.translation() = e.frame.linear() * Vec3(x[0], x[1], 0) * cloud.reach;
  const Frame inverse = e.frame.inverse();
  double s0 = 0, sz = 0, szz = 0, sr = 0, srz = 0;
  for (std::size_t i = 0; i < cloud.size(); ++i) {
    const Vec3 q = inverse * cloud.at(i);
    const double rho = std::hypot(q.x(), q.y());
    s0 += 1, sz += q.z(), szz += q.z() * q.z(), sr += rho, srz += rho * q.z();
  }
  e.radius = sr / s0;
  if (shape == Shape::Cone) {
    const double denominator = s0 * szz - sz * sz;
    if (denominator <= 0) return {};
    const double slope = (s0 * srz - sz * sr) / denominator;
    e.half_angle = std::atan(slope);
    e.radius = (sr - slope * sz) / s0;
  }
  return e;
}

std::optional<Estimate> torusAlong(const Vec3& direction, const Cloud& cloud) {
  Estimate e;
  e.frame = frameOf(Vec3::Zero(), direction);
  const auto circle = startAlong(Shape::Cylinder, direction, cloud);
  if (!circle) return {};
  // Half the height of the points is a fair first tube.
  double low = 1e300, high = -1e300;
  for (std::size_t i = 0; i < cloud.size(); ++i) {
    const double along = direction.dot(cloud.at(i));
    low = std::min(low, along), high = std::max(high, along);
  }
  e = *circle;
  e.frame.translation() += direction * ((low + high) / 2 - direction.dot(e.frame.translation()));
  e.minor = std::max((high - low) / 2, 0.1 * e.radius);
  return e;
}

// Half a sphere of evenly spread directions (Fibonacci lattice); the axis is found within about 8
// degrees, from where the fit converges.
Points startDirections() {
  constexpr int count = 120;
  Points result;
  const double golden = 3.14159265358979323846 * (3 - std::sqrt(5.0));
  for (int i = 0; i < count; ++i) {
    const double z = (i + 0.5) / count, r = std::sqrt(1 - z * z);
    result.emplace_back(r * std::cos(golden * i), r * std::sin(golden * i), z);
  }
  return result;
}

std::optional<Estimate> startFromAnywhere(Shape shape, const Cloud& cloud,
                                          const FitConstraints& k) {
  const Cloud few = thinned(cloud, 400);
  std::vector<Solved> starts;
  Points directions = startDirections();
  if (k.direction) directions = {k.direction->normalized()};
  for (const Vec3& d : directions) {
    const auto e = shape == Shape::Torus ? torusAlong(d, few) : startAlong(shape, d, few);
    if (e) starts.push_back(solveLeastSquares(shape, few, *e, k, 3));
  }
  std::stable_sort(starts.begin(), starts.end(),
                   [](const Solved& a, const Solved& b) { return a.sum < b.sum; });
  Solved best;
  for (std::size_t i = 0; i < std::min<std::size_t>(starts.size(), 8); ++i) {
    Solved s = solveLeastSquares(shape, few, starts[i].estimate, k, 60);
    if (s.sum < best.sum) best = std::move(s);
  }
  if (best.sum >= 1e300) return {};
  return best.estimate;
}

Estimate sphereStart(const Cloud& cloud) {
  SmallMatrix normal = SmallMatrix::Zero(4, 4);
  SmallVector right = SmallVector::Zero(4), g(4);
  for (std::size_t i = 0; i < cloud.size(); ++i) {
    const Vec3 q = cloud.at(i) / std::max(cloud.reach, 1e-12);
    g << 2 * q.x(), 2 * q.y(), 2 * q.z(), 1;
    normal += g * g.transpose();
    right += g * q.squaredNorm();
  }
  const SmallVector x = solveSquare(normal, right);
  Estimate e;
  e.frame.translation() = x.head(3) * cloud.reach;
  e.radius = cloud.reach * std::sqrt(std::max(0.0, x[3] + x.head(3).squaredNorm()));
  return e;
}

} // namespace

std::optional<Estimate> startOf(Shape shape, const Cloud& cloud,
                                const std::optional<FitStart>& start, const FitConstraints& k) {
  if (shape == Shape::Sphere) return sphereStart(thinned(cloud, 4000));
  if (shape == Shape::Circle) return startAlong(shape, Vec3::UnitZ(), thinned(cloud, 4000));
  const bool sized = shape == Shape::Cylinder || shape == Shape::Cone || shape == Shape::Torus;
  if (!start) return startFromAnywhere(shape, cloud, k);
  Estimate e;
  const Vec3 direction = start->direction.normalized();
  // The origin goes beside the points, so that tilt and shift are well separated.
  const Vec3 point = start->point - cloud.centre;
  const double along = sized && shape != Shape::Torus ? -point.dot(direction) : 0;
  e.frame = frameOf(point + along * direction, direction);
  e.radius = start->diameter / 2 + along * std::tan(start->half_angle);
  e.half_angle = start->half_angle;
  e.minor = start->tube / 2;
  if (shape == Shape::Torus && start->tube <= 0) return torusAlong(direction, thinned(cloud, 4000));
  if (sized && start->diameter <= 0)
    if (auto found = startAlong(shape, direction, thinned(cloud, 4000))) e = *found;
  return e;
}

} // namespace alder
