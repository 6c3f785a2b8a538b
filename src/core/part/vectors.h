// Between the CAD library's vectors and ours.
#pragma once

#include "geometry/vec.h"
#include <gp_Dir.hxx>
#include <gp_Pnt.hxx>

namespace alder {

inline Vec3 vec(const gp_Pnt& p) {
  return {p.X(), p.Y(), p.Z()};
}
inline Vec3 vec(const gp_Dir& d) {
  return {d.X(), d.Y(), d.Z()};
}

} // namespace alder
