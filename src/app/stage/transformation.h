// Frames as the CAD library takes them.
#pragma once

#include "geometry/vec.h"
#include <gp_Trsf.hxx>

namespace alder::app {

inline gp_Trsf transformation(const Frame& f) {
  gp_Trsf t;
  const auto& m = f.matrix();
  t.SetValues(m(0, 0), m(0, 1), m(0, 2), m(0, 3), m(1, 0), m(1, 1), m(1, 2), m(1, 3), m(2, 0),
              m(2, 1), m(2, 2), m(2, 3));
  return t;
}

} // namespace alder::app
