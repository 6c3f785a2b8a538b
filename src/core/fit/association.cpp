#include "fit/association.h"

#include "fit/round_fit.h"
#include <array>
#include <cmath>

namespace alder {
namespace {

struct NamedShape {
  Shape shape;
  std::string_view name;
  std::size_t least_points;
};
constexpr std::array<NamedShape, 6> kShapes{{{Shape::Line, "line", 2},
                                             {Shape::Plane, "plane", 3},
                                             {Shape::Circle, "circle", 3},
                                             {Shape::Cylinder, "cylinder", 5},
                                             {Shape::Cone, "cone", 6},
                                             {Shape::Sphere, "sphere", 4}}};

const NamedShape& entry(Shape shape) {
  return kShapes[static_cast<std::size_t>(shape)];
}

// Principal directions of the centred points, smallest spread first (columns), with the spreads.
struct Spread {
  Vec3 centre;
  Mat3 axes;
  Vec3 rms;
};

Spread spreadOf(const Points& points) {
  Spread result{centroid(points), Mat3::Identity(), Vec3::Zero()};
  Eigen::Matrix<double, Eigen::Dynamic, 3> m(points.size(), 3);
  for (std::size_t i = 0; i < points.size(); ++i)
    m.row(static_cast<Eigen::Index>(i)) = (points[i] - result.centre).transpose();
  // QR first: the SVD then works on 3 x 3 whatever the number of points, without squaring.
  Mat3 r = Mat3::Zero();
  if (points.size() > 3) {
    const Eigen::HouseholderQR<decltype(m)> qr(m);
    r = qr.matrixQR().topRows<3>().triangularView<Eigen::Upper>();
  } else {
    r.topRows(static_cast<Eigen::Index>(points.size())) = m;
  }
  const Eigen::JacobiSVD<Mat3> svd(r, Eigen::ComputeFullV);
  for (int k = 0; k < 3; ++k) {
    result.axes.col(k) = svd.matrixV().col(2 - k);
    result.rms[k] = svd.singularValues()[2 - k] / std::sqrt(static_cast<double>(points.size()));
  }
  return result;
}

Result<Association> fitLine(const Points& points, const std::optional<FitStart>& start) {
  const Spread spread = spreadOf(points);
  if (spread.rms[2] <= 0) return fail("line: all points coincide; touch at least two places.");
  if (spread.rms[1] > 0.999 * spread.rms[2])
    return fail("line: the points spread equally in two directions; no line is fixed by them.");
  Association a{.shape = Shape::Line, .point = spread.centre, .direction = spread.axes.col(2)};
  if (start && a.direction.dot(start->direction) < 0) a.direction = -a.direction;
  return a;
}

Result<Association> fitPlane(const Points& points, const std::optional<FitStart>& start) {
  const Spread spread = spreadOf(points);
  if (spread.rms[1] <= 1e-9 * spread.rms[2] || spread.rms[2] <= 0)
    return fail("plane: the points lie on one line; touch beside it too.");
  if (spread.rms[0] > 0.999 * spread.rms[1])
    return fail("plane: the points fill space alike in two directions; no plane is fixed by them.");
  Association a{.shape = Shape::Plane, .point = spread.centre, .direction = spread.axes.col(0)};
  const Vec3 wanted = start ? start->direction : Vec3(a.direction.cwiseAbs());
  if (a.direction.dot(wanted) < 0) a.direction = -a.direction;
  return a;
}

Result<Association> fitCircle(const Points& points, const std::optional<FitStart>& start) {
  auto plane = fitPlane(points, start);
  if (!plane) return fail("circle: the points lie on one line; touch more of the arc.");
  const Frame frame = frameOf(plane->point, plane->direction);
  Points flat;
  flat.reserve(points.size());
  for (const Vec3& p : points) {
    Vec3 q = frame.inverse() * p;
    q.z() = 0;
    flat.push_back(q);
  }
  auto circle = fitRound(Shape::Circle, flat, FitStart{});
  if (!circle) return circle;
  circle->point = frame * circle->point;
  circle->direction = plane->direction;
  return circle;
}

void finish(Association& a, const Points& points) {
  double low = 1e300, high = -1e300, sum = 0;
  a.deviations.clear();
  a.deviations.reserve(points.size());
  for (const Vec3& p : points) {
    const double d = deviation(a, p);
    a.deviations.push_back(d);
    low = std::min(low, d);
    high = std::max(high, d);
    sum += d * d;
  }
  a.form = a.shape == Shape::Line ? 2 * high : high - low;
  a.rms = std::sqrt(sum / static_cast<double>(points.size()));
}

} // namespace

std::string_view name(Shape shape) {
  return entry(shape).name;
}

Result<Shape> shapeNamed(std::string_view wanted) {
  for (const auto& e : kShapes)
    if (e.name == wanted) return e.shape;
  return fail("shape \"{}\" is not known; use line, plane, circle, cylinder, cone or sphere.",
              wanted);
}

double deviation(const Association& a, const Vec3& p) {
  const Vec3 r = p - a.point;
  const double along = r.dot(a.direction);
  const double rho = (r - along * a.direction).norm();
  switch (a.shape) {
  case Shape::Plane:
    return along;
  case Shape::Line:
    return rho;
  case Shape::Sphere:
    return r.norm() - a.diameter / 2;
  case Shape::Circle:
  case Shape::Cylinder:
    return rho - a.diameter / 2;
  case Shape::Cone:
    return (rho - a.diameter / 2) * std::cos(a.half_angle) - along * std::sin(a.half_angle);
  }
  return 0;
}

Vec3 normalAt(const Association& a, const Vec3& p) {
  const Vec3 r = p - a.point;
  if (a.shape == Shape::Plane) return a.direction;
  if (a.shape == Shape::Sphere) return r.norm() > 0 ? Vec3(r.normalized()) : a.direction;
  const Vec3 radial = r - r.dot(a.direction) * a.direction;
  const Vec3 out = radial.norm() > 0 ? Vec3(radial.normalized()) : anyPerpendicular(a.direction);
  if (a.shape != Shape::Cone) return out;
  return out * std::cos(a.half_angle) - a.direction * std::sin(a.half_angle);
}

Result<Association> fitLeastSquares(Shape shape, const Points& points,
                                    const std::optional<FitStart>& start) {
  const auto& e = entry(shape);
  for (std::size_t i = 0; i < points.size(); ++i)
    if (!points[i].allFinite()) return fail("{}: point {} is not a finite number.", e.name, i + 1);
  if (points.size() < e.least_points)
    return fail("{}: {} points given, at least {} are needed.", e.name, points.size(),
                e.least_points);
  auto result = [&]() -> Result<Association> {
    switch (shape) {
    case Shape::Line:
      return fitLine(points, start);
    case Shape::Plane:
      return fitPlane(points, start);
    case Shape::Circle:
      return fitCircle(points, start);
    default:
      return fitRound(shape, points, start);
    }
  }();
  if (result) finish(*result, points);
  return result;
}

} // namespace alder
