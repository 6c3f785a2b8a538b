// Where a part lies by features measured: the rigid motion that takes their nominal surfaces to the
// points touched, for LOCATE of ISO 22093.
#pragma once

#include "space.h"

namespace dmis_machine {

struct Nominal {
  std::string word; // PLANE, CYLNDR, ...
  bool inner = false;
  V point = V::Zero(), direction = V::UnitZ();
  double size = 0;   // diameter, or width of a slot
  double length = 0; // of a cylinder
  double angle = 0;  // that a cone includes, radians
};

struct Located {
  T moved = T::Identity();
  int open = 0; // ways in which the features leave it free
  double worst = 0;
};
// From where it is taken to be; what is open stays as it is there.
Located located(const T& taken, const std::vector<std::pair<Nominal, std::vector<V>>>& touched);

} // namespace dmis_machine
