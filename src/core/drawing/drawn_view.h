// Views of the part found on a sheet: which way the part is seen, where it lies and how large, by
// the corners and circles that the sheet and the model have in common.
#pragma once

#include "part/model.h"
#include "sheet/strokes.h"

namespace alder {

struct DrawnView {
  Vec3 right = Vec3::UnitX(), up = Vec3::UnitZ(); // of the sheet, in the CAD frame
  Vec2 origin = Vec2::Zero();                     // of the CAD frame, on the sheet
  double scale = 1;                               // mm on the sheet for a mm of the part
  Box2 area;                                      // of the part, on the sheet
  int found = 0, asked = 0; // corners and circles of the model: met on the sheet, and all

  Vec3 toward() const { return right.cross(up); } // from the part to who looks at it
  Vec2 project(const Vec3& p) const { return {p.dot(right), p.dot(up)}; } // mm of the part
  Vec2 onSheet(const Vec3& p) const { return origin + scale * project(p); }
  Vec2 inPart(const Vec2& sheet) const { return (sheet - origin) / scale; }
};

// Along the axes of the CAD frame only. `scales`: those that are tried, from the title block and
// the titles of views. The best first; none where too little fits to be no accident.
std::vector<DrawnView> viewsOn(const Strokes& strokes, const SheetSize& size, const PartModel& part,
                               const std::vector<double>& scales);

} // namespace alder
