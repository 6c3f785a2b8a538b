#include "fit/round_fit.h"

#include "base/units.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

using Row = Eigen::Matrix<double, 1, 6>;
// Up to six parameters: sized at run time, kept on the stack.
using Small = Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, 0, 6, 6>;
using SmallVector = Eigen::Matrix<double, Eigen::Dynamic, 1, 0, 6, 1>;

// The current estimate: an axis frame (sphere and circle use only its origin), radius at the
// origin, half angle.
struct Estimate {
  Frame frame = Frame::Identity();
  double radius = 0;
  double half_angle = 0;
};

int parameterCount(Shape shape) {
  switch (shape) {
  case Shape::Circle:
    return 3; // a b r
  case Shape::Sphere:
    return 4; // a b c r
  case Shape::Cylinder:
    return 5; // a b tilt-x tilt-y r
  default:
    return 6; // cone: a b tilt-x tilt-y r angle
  }
}

double residual(Shape shape, const Estimate& e, const Vec3& q) {
  if (shape == Shape::Sphere) return q.norm() - e.radius;
  const double rho = std::hypot(q.x(), q.y());
  if (shape == Shape::Cone)
    return (rho - e.radius) * std::cos(e.half_angle) - q.z() * std::sin(e.half_angle);
  return rho - e.radius;
}

Row gradient(Shape shape, const Estimate& e, const Vec3& q) {
  Row row = Row::Zero();
  if (shape == Shape::Sphere) {
    const double r = std::max(q.norm(), 1e-300);
    row.head<4>() << -q.x() / r, -q.y() / r, -q.z() / r, -1;
    return row;
  }
  const double rho = std::max(std::hypot(q.x(), q.y()), 1e-300);
  const double cx = q.x() / rho, cy = q.y() / rho;
  if (shape == Shape::Circle) {
    row.head<3>() << -cx, -cy, -1;
    return row;
  }
  if (shape == Shape::Cylinder) {
    row.head<5>() << -cx, -cy, -cx * q.z(), -cy * q.z(), -1;
    return row;
  }
  const double c = std::cos(e.half_angle), s = std::sin(e.half_angle);
  row << -cx * c, -cy * c, -cx * q.z() * c - q.x() * s, -cy * q.z() * c - q.y() * s, -c,
      -(rho - e.radius) * s - q.z() * c;
  return row;
}

Estimate moved(Shape shape, const Estimate& e, const SmallVector& step) {
  Estimate next = e;
  if (shape == Shape::Sphere) {
    next.frame.translation() += Vec3(step.head<3>());
    next.radius += step[3];
    return next;
  }
  const Mat3& axes = e.frame.linear();
  next.frame.translation() += axes.col(0) * step[0] + axes.col(1) * step[1];
  if (shape == Shape::Circle) {
    next.radius += step[2];
    return next;
  }
  const Vec3 z = axes.col(2) + axes.col(0) * step[2] + axes.col(1) * step[3];
  next.frame = frameOf(next.frame.translation(), z, axes.col(0));
  next.radius += step[4];
  if (shape == Shape::Cone) next.half_angle += step[5];
  return next;
}

double sumOfSquares(Shape shape, const Estimate& e, const Points& points) {
  const Frame inverse = e.frame.inverse();
  double sum = 0;
  for (const Vec3& p : points) {
    const double r = residual(shape, e, inverse * p);
    sum += r * r;
  }
  return sum;
}

struct Solved {
  Estimate estimate;
  double sum = 1e300;
  double least_singular = 0; // of the Jacobian with unit columns
};

Solved solve(Shape shape, Estimate e, const Points& points, int most_steps) {
  const int n = parameterCount(shape);
  Solved best{e, sumOfSquares(shape, e, points), 0};
  double damping = 1e-6;
  Small last; // normal matrix with unit diagonal
  Small normal(n, n);
  SmallVector right(n);
  for (int step_count = 0; step_count < most_steps; ++step_count) {
    normal.setZero();
    right.setZero();
    const Frame inverse = best.estimate.frame.inverse();
    for (const Vec3& p : points) {
      const Vec3 q = inverse * p;
      const SmallVector g = gradient(shape, best.estimate, q).head(n).transpose();
      normal.selfadjointView<Eigen::Lower>().rankUpdate(g);
      right -= g * residual(shape, best.estimate, q);
    }
    normal = normal.selfadjointView<Eigen::Lower>();
    const SmallVector scale = normal.diagonal().cwiseSqrt().cwiseMax(1e-300);
    const Small unit =
        scale.cwiseInverse().asDiagonal() * normal * scale.cwiseInverse().asDiagonal();
    bool improved = false;
    double change = 0;
    for (int tries = 0; tries < 12 && !improved; ++tries) {
      const Small damped = unit + damping * Small::Identity(n, n);
      const SmallVector step =
          scale.cwiseInverse().asDiagonal() *
          damped.ldlt().solve(SmallVector(scale.cwiseInverse().asDiagonal() * right));
      const Estimate next = moved(shape, best.estimate, step);
      const double sum = sumOfSquares(shape, next, points);
      if (std::isfinite(sum) && sum <= best.sum) {
        change = (scale.asDiagonal() * step).norm();
        best.estimate = next;
        improved = sum < best.sum || change == 0;
        best.sum = sum;
        damping = std::max(damping * 0.1, 1e-15);
        break;
      }
      damping = std::max(damping * 10, 1e-9);
    }
    last = unit;
    if (!improved || change < 1e-13 * std::sqrt(static_cast<double>(points.size()))) break;
  }
  if (last.size() > 0)
    best.least_singular = std::sqrt(
        std::max(0.0, Eigen::SelfAdjointEigenSolver<Eigen::MatrixXd>(last, Eigen::EigenvaluesOnly)
                          .eigenvalues()[0]));
  return best;
}

// Least-squares start with the axis direction given: x^2 + y^2 = 2ax + 2by + c (circle), with a
// term in z and z^2 for a cone.
std::optional<Estimate> startAlong(Shape shape, const Vec3& direction, const Vec3& centre,
                                   const Points& points) {
  const Frame frame = frameOf(centre, direction);
  const int n = shape == Shape::Cone ? 5 : 3;
  Eigen::MatrixXd normal = Eigen::MatrixXd::Zero(n, n);
  Eigen::VectorXd right = Eigen::VectorXd::Zero(n);
  const Frame inverse = frame.inverse();
  for (const Vec3& p : points) {
    const Vec3 q = inverse * p;
    Eigen::VectorXd g(n);
    g.head<3>() << 2 * q.x(), 2 * q.y(), 1;
    if (n == 5) g.tail<2>() << q.z(), q.z() * q.z();
    normal += g * g.transpose();
    right += g * (q.x() * q.x() + q.y() * q.y());
  }
  const Eigen::VectorXd x = normal.fullPivLu().solve(right);
  if (!x.allFinite()) return {};
  Estimate e{frame, 0, 0};
  e.frame.translation() = frame * Vec3(x[0], x[1], 0);
  const Frame moved_inverse = e.frame.inverse();
  double s0 = 0, sz = 0, szz = 0, sr = 0, srz = 0;
  for (const Vec3& p : points) {
    const Vec3 q = moved_inverse * p;
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

Points thinned(const Points& points, std::size_t most) {
  if (points.size() <= most) return points;
  Points few;
  for (std::size_t i = 0; i < most; ++i)
    few.push_back(points[i * points.size() / most]);
  return few;
}

// Half a sphere of evenly spread directions (Fibonacci lattice); the axis is found within about 8
// degrees, from where the fit converges.
Points startDirections() {
  constexpr int count = 120;
  Points result;
  const double golden = kPi * (3 - std::sqrt(5.0));
  for (int i = 0; i < count; ++i) {
    const double z = (i + 0.5) / count, r = std::sqrt(1 - z * z);
    result.emplace_back(r * std::cos(golden * i), r * std::sin(golden * i), z);
  }
  return result;
}

Solved solveFromAnywhere(Shape shape, const Points& points) {
  const Points few = thinned(points, 400);
  const Vec3 centre = centroid(few);
  std::vector<Solved> starts;
  for (const Vec3& d : startDirections())
    if (auto e = startAlong(shape, d, centre, few)) starts.push_back(solve(shape, *e, few, 3));
  std::stable_sort(starts.begin(), starts.end(),
                   [](const Solved& a, const Solved& b) { return a.sum < b.sum; });
  Solved best;
  for (std::size_t i = 0; i < std::min<std::size_t>(starts.size(), 8); ++i) {
    const Solved s = solve(shape, starts[i].estimate, few, 60);
    if (s.sum < best.sum) best = s;
  }
  return best;
}

Estimate sphereStart(const Points& points) {
  Eigen::Matrix4d normal = Eigen::Matrix4d::Zero();
  Eigen::Vector4d right = Eigen::Vector4d::Zero();
  const Vec3 centre = centroid(points);
  for (const Vec3& p : points) {
    const Vec3 q = p - centre;
    const Eigen::Vector4d g(2 * q.x(), 2 * q.y(), 2 * q.z(), 1);
    normal += g * g.transpose();
    right += g * q.squaredNorm();
  }
  const Eigen::Vector4d x = normal.fullPivLu().solve(right);
  Estimate e;
  e.frame.translation() = centre + x.head<3>();
  e.radius = std::sqrt(std::max(0.0, x[3] + x.head<3>().squaredNorm()));
  return e;
}

Solved startOf(Shape shape, const Points& points, const std::optional<FitStart>& start) {
  if (shape == Shape::Sphere) return {sphereStart(points), 0, 0};
  if (shape == Shape::Circle)
    return {startAlong(shape, Vec3::UnitZ(), centroid(points), points).value_or(Estimate{}), 0, 0};
  if (!start) return solveFromAnywhere(shape, points);
  Estimate e;
  const Vec3 direction = start->direction.normalized();
  // The origin goes beside the points, so that tilt and shift are well separated far from the CAD
  // origin.
  const double along = (centroid(points) - start->point).dot(direction);
  e.frame = frameOf(start->point + along * direction, direction);
  e.radius = start->diameter / 2 + along * std::tan(start->half_angle);
  e.half_angle = start->half_angle;
  if (shape == Shape::Cylinder && start->diameter <= 0)
    if (auto along_axis = startAlong(shape, direction, centroid(points), points)) e = *along_axis;
  return {e, 0, 0};
}

} // namespace

Result<Association> fitRound(Shape shape, const Points& points,
                             const std::optional<FitStart>& start) {
  const Solved solved = solve(shape, startOf(shape, points, start).estimate, points, 200);
  const auto& e = solved.estimate;
  if (!std::isfinite(solved.sum) || e.radius <= 0 || solved.least_singular < 1e-7)
    return fail(
        "{}: the points do not fix it (too short an arc or too few rows); spread them more.",
        name(shape));
  if (shape == Shape::Cone && std::abs(std::sin(2 * e.half_angle)) < 1e-9)
    return fail("cone: the points show no taper; fit a cylinder or a plane.");
  Association a{
      .shape = shape, .point = e.frame.translation(), .direction = e.frame.linear().col(2)};
  a.diameter = 2 * e.radius;
  a.half_angle = e.half_angle;
  if (a.half_angle < 0) {
    a.half_angle = -a.half_angle;
    a.direction = -a.direction;
  }
  if (shape == Shape::Cylinder || shape == Shape::Cone) {
    const double along = (centroid(points) - a.point).dot(a.direction);
    a.point += along * a.direction;
    a.diameter += 2 * along * std::tan(a.half_angle);
  }
  if (start && shape == Shape::Cylinder && a.direction.dot(start->direction) < 0)
    a.direction = -a.direction;
  return a;
}

} // namespace alder
