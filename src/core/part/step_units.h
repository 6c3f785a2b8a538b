// Units and measures of a STEP file (ISO 10303-41). All results in mm and radians.
#pragma once

#include "part/step_text.h"
#include <optional>

namespace alder {

struct Measure {
  double value = 0; // mm, radians, or the plain number
  bool angle = false;
};

// A MEASURE_WITH_UNIT of any subtype, simple or complex. Nothing when it holds no number or its
// unit is unknown.
std::optional<Measure> readMeasure(const StepText& text, int entity);
// mm or radians per unit.
std::optional<Measure> readUnit(const StepText& text, int entity);

// Of a representation's context: numbers of its first units of length and angle, 0 where it has
// none, and what one of them is.
struct ContextUnits {
  int length = 0, angle = 0;
  double mm = 1, radians = 1;
};
ContextUnits unitsOfContext(const StepText& text, int context);

} // namespace alder
