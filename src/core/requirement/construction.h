// Constructed features: computed from others, nominally and from the measured ones, and so
// following them when they change. Lengths mm, angles radians.
#pragma once

#include "base/error.h"
#include "base/id.h"
#include "geometry/vec.h"
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace alder {

enum class ConstructionKind {
  CircleThrough, // through the centres of three or more features: a hole circle
  PlaneThrough,
  LineThrough,  // through the centres of two or more
  Intersection, // two planes: line; two axes: point; round surface and plane: circle
  Pierce,       // the point where an axis goes through a plane
  Middle,       // half way between two points, axes or planes
  Projection,   // of the first onto the second, a plane
  Nearest,      // the point of the first that is nearest to the second
  Copy,         // of the first, turned about its own point and moved
  BestFit,      // one feature through the points of all
  GaugeCircle,  // of a cone, where it has the gauge diameter
  Section,      // the circle of one ring of touches
};
std::string_view name(ConstructionKind kind);  // in files: "circle_through", ...
std::string_view words(ConstructionKind kind); // "circle through centres", ...
std::optional<ConstructionKind> constructionNamed(std::string_view name);

struct Construction {
  ConstructionKind kind = ConstructionKind::Middle;
  std::vector<FeatureId> of;
  Vec3 offset = Vec3::Zero(); // copy: along the axes of the part
  Vec3 turn = Vec3::Zero();   // copy: rotation vector in the same axes
  double diameter = 0;        // gauge circle
  int row = 0;                // section: the ring
  friend bool operator==(const Construction&, const Construction&) = default;
};

} // namespace alder
