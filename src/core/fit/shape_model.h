// The shapes as functions of a few local parameters: distance of a point to the surface and its
// derivatives, for one point or for lanes of four at once.
//
// A shape is a frame and up to two lengths and an angle. Parameters are small changes of it: the
// origin moves along the frame's axes, the Z axis tilts towards X and Y, sizes grow.
// Parametrisation after Forbes, "Least-squares best-fit geometric elements", NPL report DITC
// 140/89.
#pragma once

#include "fit/association.h"
#include <cmath>

namespace alder {

enum class Parameter { ShiftX, ShiftY, ShiftZ, TiltX, TiltY, Size, Angle, Minor };

struct Estimate {
  Frame frame = Frame::Identity();
  double radius = 0;     // at the origin; slot: half the width; torus: of the centre line
  double half_angle = 0; // cone, signed: positive opens towards +Z
  double minor = 0;      // torus: radius of the tube
};

constexpr int kMostParameters = 7;
using Lane = Eigen::Array4d;

// In the order of the gradient that `shapeDistance` gives.
const std::vector<Parameter>& parametersOf(Shape shape);
Estimate moved(Shape shape, const Estimate& e, const double* step);

inline double atLeast(double v, double low) {
  return v > low ? v : low;
}
inline Lane atLeast(const Lane& v, double low) {
  return v.max(low);
}
inline double root(double v) {
  return std::sqrt(v);
}
inline Lane root(const Lane& v) {
  return v.sqrt();
}

// Signed distance of the point (x, y, z), given in the estimate's frame, outside positive; `side`
// is +1 or -1 for the two planes of a slot. `g` takes the derivatives with respect to the
// parameters.
template <Shape S, class T>
inline T shapeDistance(const Estimate& e, const T& x, const T& y, const T& z, const T& side, T* g) {
  if constexpr (S == Shape::Plane) {
    g[0] = T(z * 0.0 - 1.0), g[1] = x, g[2] = y;
    return z;
  } else if constexpr (S == Shape::Slot) {
    g[0] = T(-side), g[1] = T(side * x), g[2] = T(side * y), g[3] = T(z * 0.0 - 1.0);
    return T(side * z - e.radius);
  } else if constexpr (S == Shape::Sphere) {
    const T r = atLeast(root(T(x * x + y * y + z * z)), 1e-300);
    g[0] = T(-x / r), g[1] = T(-y / r), g[2] = T(-z / r), g[3] = T(z * 0.0 - 1.0);
    return T(r - e.radius);
  } else if constexpr (S == Shape::Torus) {
    const T rho = atLeast(root(T(x * x + y * y)), 1e-300);
    const T cx = T(x / rho), cy = T(y / rho), across = T(rho - e.radius);
    const T r = atLeast(root(T(across * across + z * z)), 1e-300);
    const T a = T(across / r), b = T(z / r);
    // A tilt towards X turns (x, z) into (x - z t, z + x t).
    g[0] = T(-a * cx), g[1] = T(-a * cy), g[2] = T(-b);
    g[3] = T(-a * cx * z + b * x), g[4] = T(-a * cy * z + b * y);
    g[5] = T(-a), g[6] = T(z * 0.0 - 1.0);
    return T(r - e.minor);
  } else {
    const T rho = atLeast(root(T(x * x + y * y)), 1e-300);
    const T cx = T(x / rho), cy = T(y / rho);
    if constexpr (S == Shape::Circle) {
      g[0] = T(-cx), g[1] = T(-cy), g[2] = T(z * 0.0 - 1.0);
      return T(rho - e.radius);
    } else if constexpr (S == Shape::Line) {
      g[0] = T(-cx), g[1] = T(-cy), g[2] = T(-cx * z), g[3] = T(-cy * z);
      return rho;
    } else if constexpr (S == Shape::Cylinder) {
      g[0] = T(-cx), g[1] = T(-cy), g[2] = T(-cx * z), g[3] = T(-cy * z), g[4] = T(z * 0.0 - 1.0);
      return T(rho - e.radius);
    } else {
      static_assert(S == Shape::Cone);
      const double c = std::cos(e.half_angle), s = std::sin(e.half_angle);
      const T out = T(rho - e.radius);
      g[0] = T(-cx * c), g[1] = T(-cy * c);
      g[2] = T(-cx * z * c - x * s), g[3] = T(-cy * z * c - y * s);
      g[4] = T(z * 0.0 - c), g[5] = T(-out * s - z * c);
      return T(out * c - z * s);
    }
  }
}

// Calls `f` with the shape as a compile-time constant.
template <class F> decltype(auto) withShape(Shape shape, F&& f) {
  switch (shape) {
  case Shape::Line:
    return f.template operator()<Shape::Line>();
  case Shape::Plane:
    return f.template operator()<Shape::Plane>();
  case Shape::Circle:
    return f.template operator()<Shape::Circle>();
  case Shape::Cylinder:
    return f.template operator()<Shape::Cylinder>();
  case Shape::Cone:
    return f.template operator()<Shape::Cone>();
  case Shape::Slot:
    return f.template operator()<Shape::Slot>();
  case Shape::Torus:
    return f.template operator()<Shape::Torus>();
  default:
    return f.template operator()<Shape::Sphere>();
  }
}

} // namespace alder
