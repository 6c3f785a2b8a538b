#include "part/round_spline.h"

#include "base/units.h"
#include "part/vectors.h"
#include <BRepAdaptor_Surface.hxx>
#include <BRepTools.hxx>
#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

constexpr double kSame = 1e-3;    // mm, between surface and shape
constexpr double kSpread = 3e-3;  // of normals (sum of squares, per point): below it is nearly flat
constexpr double kExactly = 1e-8; // of normals along the axis

struct Sample {
  Vec3 point, normal;
};

// Over all of the face's stretch of its surface.
std::vector<Sample> samplesOf(const TopoDS_Face& face) {
  constexpr int kSteps = 9;
  const BRepAdaptor_Surface surface(face);
  double u0 = 0, u1 = 0, v0 = 0, v1 = 0;
  BRepTools::UVBounds(face, u0, u1, v0, v1);
  std::vector<Sample> samples;
  for (int i = 0; i <= kSteps; ++i)
    for (int j = 0; j <= kSteps; ++j) {
      gp_Pnt p;
      gp_Vec du, dv;
      surface.D1(u0 + (u1 - u0) * i / kSteps, v0 + (v1 - v0) * j / kSteps, p, du, dv);
      const gp_Vec n = du.Crossed(dv);
      if (n.Magnitude() < 1e-12) continue; // a pole
      samples.push_back({vec(p), vec(gp_Dir(n))});
    }
  return samples;
}

using Solver3 = Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d>;

struct Along {
  double low = 0, high = 0;
};
Along extent(const std::vector<Sample>& samples, const Vec3& from, const Vec3& axis) {
  Along a{1e300, -1e300};
  for (const Sample& s : samples) {
    const double h = (s.point - from).dot(axis);
    a.low = std::min(a.low, h), a.high = std::max(a.high, h);
  }
  return a;
}

// The point nearest to the normals' lines, seen along `axis` where there is one.
std::optional<Vec3> whereNormalsMeet(const std::vector<Sample>& samples,
                                     const std::optional<Vec3>& axis) {
  Eigen::Matrix3d sum = Eigen::Matrix3d::Zero();
  Vec3 right = Vec3::Zero();
  for (const Sample& s : samples) {
    Eigen::Matrix3d across = Eigen::Matrix3d::Identity() - s.normal * s.normal.transpose();
    if (axis) across -= *axis * axis->transpose();
    sum += across;
    right += across * s.point;
  }
  if (axis) sum += *axis * axis->transpose() * static_cast<double>(samples.size());
  const Solver3 solver(sum);
  if (solver.eigenvalues()[0] < kSpread * static_cast<double>(samples.size())) return {};
  return sum.ldlt().solve(right);
}

std::optional<Ideal> cylinder(const std::vector<Sample>& samples) {
  Eigen::Matrix3d sum = Eigen::Matrix3d::Zero();
  for (const Sample& s : samples)
    sum += s.normal * s.normal.transpose();
  sum /= static_cast<double>(samples.size());
  const Solver3 solver(sum);
  if (solver.eigenvalues()[0] > kExactly || solver.eigenvalues()[1] < kSpread) return {};
  const Vec3 axis = solver.eigenvectors().col(0);
  const auto on_axis = whereNormalsMeet(samples, axis);
  if (!on_axis) return {};
  double radius = 0;
  const auto distance = [&](const Sample& s) { return (s.point - *on_axis).cross(axis).norm(); };
  for (const Sample& s : samples)
    radius += distance(s) / static_cast<double>(samples.size());
  for (const Sample& s : samples)
    if (std::abs(distance(s) - radius) > kSame) return {};
  const Along along = extent(samples, *on_axis, axis);
  Ideal ideal;
  ideal.type = SurfaceType::Cylinder;
  ideal.point = *on_axis + along.low * axis, ideal.direction = axis;
  ideal.length = along.high - along.low, ideal.diameter = 2 * radius;
  return ideal;
}

// All tangent planes of a cone meet in its apex; its normals have one angle with the axis.
std::optional<Ideal> cone(const std::vector<Sample>& samples) {
  const auto count = static_cast<double>(samples.size());
  Vec3 mean = Vec3::Zero(), right = Vec3::Zero();
  for (const Sample& s : samples)
    mean += s.normal / count;
  Eigen::Matrix3d spread = Eigen::Matrix3d::Zero(), planes = Eigen::Matrix3d::Zero();
  for (const Sample& s : samples) {
    spread += (s.normal - mean) * (s.normal - mean).transpose() / count;
    planes += s.normal * s.normal.transpose();
    right += s.normal * s.normal.dot(s.point);
  }
  const Solver3 solver(spread);
  if (solver.eigenvalues()[0] > kExactly || solver.eigenvalues()[1] < kSpread) return {};
  Vec3 axis = solver.eigenvectors().col(0);
  const double sine = std::abs(mean.dot(axis));
  if (sine < 1e-3 || sine > 1 - 1e-6) return {}; // a cylinder; a plane
  const Vec3 apex = planes.ldlt().solve(right);
  if ((samples.front().point - apex).dot(axis) < 0) axis = -axis;
  const double angle = std::asin(sine);
  for (const Sample& s : samples) {
    const Vec3 d = s.point - apex;
    const double h = d.dot(axis), r = d.cross(axis).norm();
    if (h < -kSame || std::abs(r * std::cos(angle) - h * std::sin(angle)) > kSame) return {};
  }
  const Along along = extent(samples, apex, axis);
  Ideal ideal;
  ideal.type = SurfaceType::Cone;
  ideal.point = apex + along.low * axis, ideal.direction = axis;
  ideal.length = along.high - along.low;
  ideal.half_angle = radians(shownDegrees(angle));
  ideal.diameter = 2 * along.low * std::tan(angle);
  return ideal;
}

std::optional<Ideal> sphere(const std::vector<Sample>& samples) {
  const auto centre = whereNormalsMeet(samples, {});
  if (!centre) return {};
  const double radius = (samples.front().point - *centre).norm();
  for (const Sample& s : samples)
    if (std::abs((s.point - *centre).norm() - radius) > kSame) return {};
  Ideal ideal;
  ideal.type = SurfaceType::Sphere;
  ideal.point = *centre, ideal.diameter = 2 * radius;
  return ideal;
}

} // namespace

std::optional<Ideal> roundShapeOf(const TopoDS_Face& face) {
  constexpr std::size_t kLeast = 20;
  const auto samples = samplesOf(face);
  if (samples.size() < kLeast) return {};
  if (auto found = cylinder(samples)) return found;
  if (auto found = cone(samples)) return found;
  return sphere(samples);
}

} // namespace alder
