// Geometric validation properties (ISO 10303-42 and the recommended practices for them): volume,
// area and centroid as the system that wrote the file had them, to compare with what was read.
#pragma once

#include "part/pmi/pmi.h"
#include "part/step_text.h"
#include <functional>

namespace alder {

// mm, mm², mm³.
struct ShapeSums {
  double volume = 0, area = 0;
  Vec3 centroid = Vec3::Zero();
  double size = 0; // of its box, to which a distance is compared
};

// A note for each property of the part as a whole that differs from what was read by more than a
// thousandth. `read` is asked for its sums only where the file has such properties. Of an assembly
// the properties of components are not compared.
void compareWithFile(const StepText& text, const std::function<ShapeSums()>& read,
                     std::vector<Note>& notes);

} // namespace alder
