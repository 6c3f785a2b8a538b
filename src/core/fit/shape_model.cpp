#include "fit/shape_model.h"

namespace alder {

const std::vector<Parameter>& parametersOf(Shape shape) {
  using P = Parameter;
  static const std::vector<P> line{P::ShiftX, P::ShiftY, P::TiltX, P::TiltY},
      plane{P::ShiftZ, P::TiltX, P::TiltY}, circle{P::ShiftX, P::ShiftY, P::Size},
      cylinder{P::ShiftX, P::ShiftY, P::TiltX, P::TiltY, P::Size},
      cone{P::ShiftX, P::ShiftY, P::TiltX, P::TiltY, P::Size, P::Angle},
      sphere{P::ShiftX, P::ShiftY, P::ShiftZ, P::Size},
      slot{P::ShiftZ, P::TiltX, P::TiltY, P::Size},
      torus{P::ShiftX, P::ShiftY, P::ShiftZ, P::TiltX, P::TiltY, P::Size, P::Minor};
  switch (shape) {
  case Shape::Line:
    return line;
  case Shape::Plane:
    return plane;
  case Shape::Circle:
    return circle;
  case Shape::Cylinder:
    return cylinder;
  case Shape::Cone:
    return cone;
  case Shape::Slot:
    return slot;
  case Shape::Torus:
    return torus;
  default:
    return sphere;
  }
}

Estimate moved(Shape shape, const Estimate& e, const double* step) {
  Estimate next = e;
  const Mat3& axes = e.frame.linear();
  Vec3 origin = e.frame.translation(), z = axes.col(2);
  bool tilted = false;
  for (const Parameter p : parametersOf(shape)) {
    const double s = *step++;
    switch (p) {
    case Parameter::ShiftX:
      origin += axes.col(0) * s;
      break;
    case Parameter::ShiftY:
      origin += axes.col(1) * s;
      break;
    case Parameter::ShiftZ:
      origin += axes.col(2) * s;
      break;
    case Parameter::TiltX:
      z += axes.col(0) * s, tilted = true;
      break;
    case Parameter::TiltY:
      z += axes.col(1) * s, tilted = true;
      break;
    case Parameter::Size:
      next.radius += s;
      break;
    case Parameter::Angle:
      next.half_angle += s;
      break;
    case Parameter::Minor:
      next.minor += s;
      break;
    }
  }
  if (tilted)
    next.frame = frameOf(origin, z, axes.col(0));
  else
    next.frame.translation() = origin;
  return next;
}

} // namespace alder
