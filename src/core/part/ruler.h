// A ruler on the model: sizes of one thing, distances and angles between two, exact from the CAD
// geometry (ideal surfaces, and the distance of the faces as trimmed). CAD frame, mm and radians.
#pragma once

#include "part/model.h"
#include <optional>

namespace alder {

// What a surface stands for where distances and angles are meant: a slot for its mid plane,
// cylinder and cone for their axis, a sphere for its centre.
enum class StandsFor { Plane, Axis, Point, Other };
StandsFor standsFor(const Ideal& ideal);

// A face, or the faces that one feature is of; without faces an ideal alone, without ends.
struct Ruled {
  Ideal ideal;
  std::vector<FaceId> faces;
  friend bool operator==(const Ruled&, const Ruled&) = default;
};

enum class RulerUnit { Length, Angle, Area };
struct RulerFigure {
  std::string what; // "diameter", "smallest distance", "along X"
  double value = 0; // mm, radians, mm²
  RulerUnit unit = RulerUnit::Length;
};

struct RulerReading {
  std::vector<RulerFigure> figures;
  std::optional<std::pair<Vec3, Vec3>> between; // of the first distance
};

RulerReading sizesOf(const PartModel& part, const Ruled& a);
// The distance of planes that are parallel, of an axis along a plane, of two axes at their common
// perpendicular, of centres; else the smallest distance of the faces; the angle between what has a
// direction (0 to 90 degrees). Then the smallest distance of the faces, where it is another.
RulerReading between(const PartModel& part, const Ruled& a, const Ruled& b);

} // namespace alder
