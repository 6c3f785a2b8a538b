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

} // namespace alder
