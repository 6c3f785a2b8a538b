#include "part/ideal_distance.h"

#include <cmath>

namespace alder {

double signedDistance(const Ideal& i, const Vec3& p) {
  const Vec3 r = p - i.point;
  const double along = r.dot(i.direction);
  if (i.type == SurfaceType::Plane) return along;
  if (i.type == SurfaceType::Slot) return (std::abs(along) - i.diameter / 2) * (i.hole ? -1 : 1);
  double d = 0;
  if (i.type == SurfaceType::Sphere)
    d = r.norm() - i.diameter / 2;
  else
    d = ((r - along * i.direction).norm() - i.diameter / 2) * std::cos(i.half_angle) -
        along * std::sin(i.half_angle);
  return i.hole ? -d : d;
}

Vec3 outwardNormal(const Ideal& i, const Vec3& p) {
  const Vec3 r = p - i.point;
  if (i.type == SurfaceType::Plane) return i.direction;
  if (i.type == SurfaceType::Slot) {
    const bool far = r.dot(i.direction) >= 0;
    return far == i.hole ? Vec3(-i.direction) : i.direction;
  }
  Vec3 n;
  if (i.type == SurfaceType::Sphere) {
    n = r.norm() > 1e-12 ? Vec3(r.normalized()) : i.direction;
  } else {
    const Vec3 radial = r - r.dot(i.direction) * i.direction;
    n = radial.norm() > 1e-12 ? Vec3(radial.normalized()) : anyPerpendicular(i.direction);
    n = n * std::cos(i.half_angle) - i.direction * std::sin(i.half_angle);
  }
  return i.hole ? Vec3(-n) : n;
}

} // namespace alder
