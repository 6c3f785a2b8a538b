// What the callouts of a sheet point at: the tips of leaders, the ends of dimension lines, the feet
// of datum triangles.
#pragma once

#include "drawing/callout.h"

namespace alder {

enum class PointerKind {
  Leader,
  DimensionLine, // two tips that belong together
  Arc,           // of an angle or a radius
  DatumFoot,
};

struct Pointer {
  PointerKind kind = PointerKind::Leader;
  Vec2 tip = Vec2::Zero();
  std::optional<Vec2> other;  // the other end of a dimension line or arc
  std::optional<Vec2> centre; // of an arc
};

// For each of the written in their order; those of one callout share theirs.
std::vector<std::vector<Pointer>> pointersOf(const std::vector<Written>& written,
                                             const Strokes& strokes);

} // namespace alder
