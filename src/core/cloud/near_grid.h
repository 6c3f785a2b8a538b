// The place of a part near a point, by a grid that knows for each of its cubes the triangle nearest
// to its middle: very fast, and true to a small share of a cube. For what is corrected afterwards.
#pragma once

#include "part/nearest_surface.h"

namespace alder {

class NearGrid {
 public:
  // Knows places within `reach` of the surface, mm.
  NearGrid(const NearestSurface& surface, double reach);
  // Nothing where the surface is farther than `within`.
  std::optional<Closest> at(const Vec3& point, double within) const;

 private:
  static constexpr int kAcross = 72; // cubes along the longest side

  const Mesh& mesh_;
  Vec3 low_;
  double step_ = 1;
  std::array<int, 3> n_{};
  std::vector<int> triangle_; // by cube; -1: none within reach
};

} // namespace alder
