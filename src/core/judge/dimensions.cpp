#include "judge/dimensions.h"

#include "base/units.h"
#include "judge/actual.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

FeatureResult against(const Requirement& r, FeatureId feature, double actual) {
  FeatureResult f{feature, actual, r.upper - r.lower, 0, Vec3::Zero(), {}};
  f.share = std::abs(actual - (r.upper + r.lower) / 2) / ((r.upper - r.lower) / 2);
  return f;
}

// Shortest distance of two endless lines; for parallel ones their constant distance.
double betweenAxes(const Derived& a, const Derived& b) {
  const Vec3 cross = a.direction.cross(b.direction), r = b.point - a.point;
  if (cross.norm() < 0.02) {
    // Nominally parallel: taken at the middle of the second, square to the first.
    const Vec3 middle = b.point + (b.from + b.to) / 2 * b.direction;
    const Vec3 d = middle - a.point;
    return (d - d.dot(a.direction) * a.direction).norm();
  }
  return std::abs(r.dot(cross)) / cross.norm();
}

double distanceBetween(const Derived& a, const Derived& b) {
  using Kind = Derived::Kind;
  if (b.kind == Kind::Plane && a.kind != Kind::Plane) return distanceBetween(b, a);
  const Vec3 middle = b.point + (b.kind == Kind::Axis ? (b.from + b.to) / 2 : 0) * b.direction;
  if (a.kind == Kind::Plane) return std::abs((middle - a.point).dot(a.direction));
  if (a.kind == Kind::Axis && b.kind == Kind::Axis) return betweenAxes(a, b);
  const Derived& axis = a.kind == Kind::Axis ? a : b;
  const Vec3 point = a.kind == Kind::Axis ? b.point : a.point;
  const Vec3 d = point - axis.point;
  if (axis.kind == Kind::Axis) return (d - d.dot(axis.direction) * axis.direction).norm();
  return (b.point - a.point).norm();
}

} // namespace

Result<Evaluation> judgeSize(const Plan& plan, const Requirement& r, const Measurements& m) {
  Evaluation e;
  for (FeatureId id : r.features) {
    auto actual = actualOf(plan.nominal(id), m.at(id));
    if (!actual) return pass(actual.error());
    if (!actual->size)
      return fail("{} has no size; a {} needs another requirement.", plan.nominal(id).name,
                  name(plan.nominal(id).ideal.type));
    auto f = against(r, id, *actual->size / (r.radius ? 2 : 1));
    f.deviations = actual->deviations;
    e.features.push_back(std::move(f));
  }
  e.how = "ISO 14405-1, global size by least squares (GG)";
  if (r.features.size() > 1) e.how += "; the worst of " + std::to_string(r.features.size());
  e.how += ".";
  return e;
}

Result<Evaluation> judgeDistance(const Plan& plan, const Requirement& r, const Measurements& m) {
  if (r.features.size() < 2) return fail("A distance needs two features.");
  std::vector<Derived> derived;
  for (FeatureId id : r.features) {
    auto actual = actualOf(plan.nominal(id), m.at(id));
    if (!actual) return pass(actual.error());
    derived.push_back(actual->derived);
  }
  Evaluation e;
  e.features.push_back(against(r, r.features[1], distanceBetween(derived[0], derived[1])));
  e.how = "ISO 14405-2, from " + plan.nominal(r.features[0]).name + " to the middle of " +
          plan.nominal(r.features[1]).name + ", both by least squares.";
  return e;
}

Result<Evaluation> judgeAngle(const Plan& plan, const Requirement& r, const Measurements& m) {
  Evaluation e;
  std::vector<Actual> actuals;
  for (FeatureId id : r.features) {
    auto actual = actualOf(plan.nominal(id), m.at(id));
    if (!actual) return pass(actual.error());
    actuals.push_back(std::move(*actual));
  }
  if (actuals.size() == 1) {
    if (!actuals[0].half_angle) return fail("An angle needs two features or a cone.");
    double angle = 2 * *actuals[0].half_angle;
    // The drawing may give half the apex angle.
    const double nominal = 2 * plan.nominal(r.features[0]).ideal.half_angle;
    if (std::abs(r.nominal - nominal / 2) < std::abs(r.nominal - nominal)) angle /= 2;
    e.features.push_back(against(r, r.features[0], angle));
    e.how = "ISO 14405-3, apex angle of the least-squares cone.";
    return e;
  }
  const Derived &a = actuals[0].derived, &b = actuals[1].derived;
  double angle = std::acos(std::clamp(std::abs(a.direction.dot(b.direction)), 0.0, 1.0));
  if (a.kind != b.kind) angle = kPi / 2 - angle; // axis against plane
  // Of the two angles between two lines the one that the drawing means.
  if (std::abs(kPi - angle - r.nominal) < std::abs(angle - r.nominal)) angle = kPi - angle;
  // Near a right angle the two cannot be told apart by size: the normals decide.
  if (a.kind == b.kind && std::abs(r.nominal - kPi / 2) < radians(1)) {
    const double turned = std::acos(std::clamp(a.direction.dot(b.direction), -1.0, 1.0));
    angle = kPi - turned; // inside the material for outward normals
  }
  e.features.push_back(against(r, r.features[1], angle));
  e.how = "ISO 14405-3, angle between " + plan.nominal(r.features[0]).name + " and " +
          plan.nominal(r.features[1]).name + ", both by least squares.";
  return e;
}

} // namespace alder
