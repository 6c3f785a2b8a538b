// Points, directions and placements of a STEP file (ISO 10303-42).
#pragma once

#include "geometry/vec.h"
#include "part/step_text.h"
#include <optional>

namespace alder {

struct StepPlace {
  Vec3 origin = Vec3::Zero(), x = Vec3::UnitX(), z = Vec3::UnitZ();
};

// In the file's own unit. Nothing where the instance is none, or has not three numbers.
std::optional<Vec3> pointAt(const StepText& text, int cartesian_point);
// Origin in mm, axes of unit length. Nothing where the instance is none; an axis that is left out
// is the standard's.
std::optional<StepPlace> placeAt(const StepText& text, int axis2_placement_3d, double mm_per_unit);

} // namespace alder
