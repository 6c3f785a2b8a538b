// Signed distance from ideal geometry and its outward normal. mm; positive outside the material.
#pragma once

#include "part/model.h"

namespace alder {

// Plane, cylinder, cone, sphere and slot have them; a torus and a freeform surface are not ideal
// geometry here.
constexpr bool hasIdealDistance(SurfaceType type) {
  return type != SurfaceType::Torus && type != SurfaceType::Freeform;
}
// Of the endless surface. Call only where there is one.
double signedDistance(const Ideal& ideal, const Vec3& point);
Vec3 outwardNormal(const Ideal& ideal, const Vec3& point);

} // namespace alder
