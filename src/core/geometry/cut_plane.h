// A plane through the part, and which side of it a picture leaves out.
#pragma once

#include "geometry/vec.h"

namespace alder {

// normal unit, normal.dot(p) == at; CAD frame, mm.
struct CutPlane {
  Vec3 normal = Vec3::UnitX();
  double at = 0;
  double height(const Vec3& p) const { return normal.dot(p) - at; }
  friend bool operator==(const CutPlane&, const CutPlane&) = default;
};

// The same plane with its normal on the eye's side, which is left out; seen edge-on, as it is.
inline CutPlane facing(const CutPlane& plane, const Vec3& towards_eye) {
  return plane.normal.dot(towards_eye) < -1e-9 ? CutPlane{-plane.normal, -plane.at} : plane;
}

} // namespace alder
