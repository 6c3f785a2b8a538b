#include "judge/actual.h"

#include <algorithm>
#include <cmath>

namespace alder {
namespace {

// Extent of the nominal feature along the actual axis, so that the axis is judged over the
// feature's own length whatever the depth of the touches.
void setExtent(Derived& d, const Ideal& ideal) {
  const double a = (ideal.point - d.point).dot(d.direction);
  const double b = (ideal.point + ideal.length * ideal.direction - d.point).dot(d.direction);
  d.from = std::min(a, b);
  d.to = std::max(a, b);
}

Result<Actual> round(Shape shape, const NominalFeature& f, const MeasuredFeature& m) {
  const Ideal& i = f.ideal;
  auto fit =
      fitLeastSquares(shape, m.points, FitStart{i.point, i.direction, i.diameter, i.half_angle});
  if (!fit) return pass(fit.error());
  Actual a;
  a.derived.point = fit->point;
  a.derived.direction = fit->direction;
  a.derived.kind = shape == Shape::Sphere ? Derived::Kind::Point : Derived::Kind::Axis;
  if (shape != Shape::Sphere) setExtent(a.derived, i);
  if (shape == Shape::Cone)
    a.half_angle = fit->half_angle;
  else
    a.size = fit->diameter;
  a.form = fit->form;
  a.deviations = fit->deviations;
  if (i.hole)
    for (double& d : a.deviations)
      d = -d;
  return a;
}

Result<Actual> plane(const NominalFeature& f, const MeasuredFeature& m) {
  auto fit = fitLeastSquares(Shape::Plane, m.points, FitStart{f.ideal.point, f.ideal.direction});
  if (!fit) return pass(fit.error());
  Actual a;
  a.derived = {Derived::Kind::Plane, fit->point, fit->direction, 0, 0};
  a.form = fit->form;
  a.deviations = fit->deviations;
  return a;
}

// Which points lie on the far side of a slot: those beyond the widest gap along its direction. The
// part need not lie exactly where the CAD has it.
std::vector<bool> farSide(const Points& points, const Vec3& direction) {
  std::vector<double> along;
  for (const Vec3& p : points)
    along.push_back(p.dot(direction));
  std::vector<double> sorted = along;
  std::sort(sorted.begin(), sorted.end());
  double widest = -1, middle = 0;
  for (std::size_t i = 1; i < sorted.size(); ++i)
    if (sorted[i] - sorted[i - 1] > widest) {
      widest = sorted[i] - sorted[i - 1];
      middle = (sorted[i] + sorted[i - 1]) / 2;
    }
  std::vector<bool> result;
  for (double a : along)
    result.push_back(a > middle);
  return result;
}

// Two parallel planes: one normal for both sides by least squares, each side its own offset.
Result<Actual> slot(const NominalFeature& f, const MeasuredFeature& m) {
  const Ideal& i = f.ideal;
  Points low, high;
  const std::vector<bool> far = farSide(m.points, i.direction);
  for (std::size_t k = 0; k < m.points.size(); ++k)
    (far[k] ? high : low).push_back(m.points[k]);
  if (low.size() < 2 || high.size() < 2)
    return fail("{}: both sides need at least two points.", f.name);
  const Vec3 c0 = centroid(low), c1 = centroid(high);
  Points centred;
  for (const Vec3& p : low)
    centred.push_back(p - c0);
  for (const Vec3& p : high)
    centred.push_back(p - c1);
  Mat3 sum = Mat3::Zero();
  for (const Vec3& p : centred)
    sum += p * p.transpose();
  const Eigen::SelfAdjointEigenSolver<Mat3> solver(sum);
  if (solver.eigenvalues()[1] < 1e-9) return fail("{}: the points lie on one line.", f.name);
  Vec3 n = solver.eigenvectors().col(0);
  if (n.dot(i.direction) < 0) n = -n;
  Actual a;
  a.derived = {Derived::Kind::Plane, (c0 + c1) / 2, n, 0, 0};
  a.size = (c1 - c0).dot(n);
  double least = 1e300, most = -1e300;
  for (std::size_t k = 0; k < m.points.size(); ++k) {
    const double d = (m.points[k] - (far[k] ? c1 : c0)).dot(n) * (far[k] == i.hole ? -1 : 1);
    a.deviations.push_back(d);
    least = std::min(least, d), most = std::max(most, d);
  }
  a.form = most - least;
  return a;
}

} // namespace

Derived nominalDerived(const NominalFeature& f) {
  Derived d;
  d.point = f.ideal.point;
  d.direction = f.ideal.direction;
  switch (f.ideal.type) {
  case SurfaceType::Cylinder:
  case SurfaceType::Cone:
    d.kind = Derived::Kind::Axis;
    d.to = f.ideal.length;
    break;
  case SurfaceType::Plane:
  case SurfaceType::Slot:
    d.kind = Derived::Kind::Plane;
    break;
  default:
    d.kind = Derived::Kind::Point;
  }
  return d;
}

Result<Actual> actualOf(const NominalFeature& f, const MeasuredFeature& m) {
  switch (f.ideal.type) {
  case SurfaceType::Plane:
    return plane(f, m);
  case SurfaceType::Cylinder:
    return round(Shape::Cylinder, f, m);
  case SurfaceType::Cone:
    return round(Shape::Cone, f, m);
  case SurfaceType::Sphere:
    return round(Shape::Sphere, f, m);
  case SurfaceType::Slot:
    return slot(f, m);
  default:
    return fail("{}: a {} surface has no axis, centre or size.", f.name, name(f.ideal.type));
  }
}

} // namespace alder
