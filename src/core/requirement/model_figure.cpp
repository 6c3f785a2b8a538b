#include "requirement/model_figure.h"

#include "base/units.h"
#include "part/ruler.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

constexpr double kParallel = 1e-6; // sine of the angle

std::optional<double> distance(const Ideal& a, const Ideal& b) {
  const StandsFor sa = standsFor(a), sb = standsFor(b);
  if (sa == StandsFor::Other || sb == StandsFor::Other) return {};
  if (sa > sb) return distance(b, a);
  const Vec3 between = b.point - a.point;
  const double along = a.direction.dot(b.direction);
  const double askew = a.direction.cross(b.direction).norm();
  if (sa == StandsFor::Plane) {
    if (sb == StandsFor::Plane && askew > kParallel) return {};
    if (sb == StandsFor::Axis && std::abs(along) > kParallel) return {};
    return std::abs(between.dot(a.direction));
  }
  if (sa == StandsFor::Axis) {
    if (sb == StandsFor::Axis && askew > kParallel) return {};
    return (between - between.dot(a.direction) * a.direction).norm();
  }
  return between.norm();
}

} // namespace

std::optional<double> modelFigure(const Specification& spec, const Requirement& r) {
  if (r.features.empty()) return {};
  const Ideal& a = spec.feature(r.features.front()).ideal;
  const bool pair = r.features.size() == 2;
  switch (r.kind) {
  case Characteristic::Size: {
    const bool sized = a.type == SurfaceType::Cylinder || a.type == SurfaceType::Sphere ||
                       a.type == SurfaceType::Slot;
    return sized ? std::optional(r.radius ? a.diameter / 2 : a.diameter) : std::nullopt;
  }
  case Characteristic::Distance:
    if (!pair || r.along != Along::Direct || r.extreme != Extreme::Between) return {};
    return distance(a, spec.feature(r.features[1]).ideal);
  case Characteristic::Angle: {
    if (r.features.size() == 1) {
      if (a.type != SurfaceType::Cone) return {};
      // a drawing may give half of it
      const bool half = std::abs(r.nominal - a.half_angle) < std::abs(r.nominal - 2 * a.half_angle);
      return half ? a.half_angle : 2 * a.half_angle;
    }
    if (!pair || r.along != Along::Direct) return {};
    const Ideal& b = spec.feature(r.features[1]).ideal;
    const auto directed = [](const Ideal& i) {
      return standsFor(i) == StandsFor::Plane || standsFor(i) == StandsFor::Axis;
    };
    if (!directed(a) || !directed(b)) return {};
    const double angle = std::acos(std::clamp(a.direction.dot(b.direction), -1.0, 1.0)),
                 other = kPi - angle;
    // of a plane and an axis, from the plane
    const bool mixed = standsFor(a) != standsFor(b);
    const double first = mixed ? std::abs(kPi / 2 - angle) : angle,
                 second = mixed ? kPi - first : other;
    return std::abs(first - r.nominal) <= std::abs(second - r.nominal) ? first : second;
  }
  default:
    return {};
  }
}

} // namespace alder
