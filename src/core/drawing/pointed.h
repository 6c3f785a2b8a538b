// Which surfaces of the part a place in a view of it speaks of: those seen edge-on there, whose
// outline passes through it.
#pragma once

#include "drawing/drawn_view.h"

namespace alder {

struct PointedSurface {
  std::size_t surface = 0; // position in PartModel::surfaces
  double off = 0;          // mm on the sheet from its outline
};

class PointedSurfaces {
 public:
  PointedSurfaces(const PartModel& part, const DrawnView& view);

  // The nearest first.
  std::vector<PointedSurface> at(const Vec2& sheet, double within) const;
  // Planes and axes that an extension line at this place stands for: square to `along` (a direction
  // on the sheet), at this distance along it. The foot of the line is not asked for.
  std::vector<PointedSurface> level(const Vec2& sheet, const Vec2& along, double within) const;
  // Planes edge-on and cones whose straight outline, however far drawn out, passes here.
  std::vector<PointedSurface> drawnOut(const Vec2& sheet, double within) const;

 private:
  struct Projected {
    Box2 box;                  // of its triangles, mm of the part
    std::vector<Vec2> edge_on; // where its normal lies in the sheet, of freeform surfaces
  };
  double outline(std::size_t surface, const Vec2& p) const; // mm of the part
  const PartModel& part_;
  DrawnView view_;
  std::vector<Projected> projected_;
};

} // namespace alder
