// A view of a shape on a drawing, hidden lines found by the CAD library; whole or cut.
#pragma once

#include "drafting/paper.h"
#include <TopoDS_Shape.hxx>
#include <optional>

namespace alder::demo {

struct ViewSpec {
  Vec3 right = Vec3::UnitX(), up = Vec3::UnitZ(); // of the sheet, in the part; seen from right x up
  Vec2 at = Vec2::Zero();                         // where the part's origin lies on the sheet
  double scale = 1;
  // The part is cut here along the sheet, and what lies before it is away.
  std::optional<double> cut; // along right x up
  bool hidden = false;       // hidden lines are drawn
};

class View {
 public:
  explicit View(const ViewSpec& spec)
      : spec_(spec) {}
  Vec2 on(const Vec3& point) const {
    return spec_.at + spec_.scale * Vec2(point.dot(spec_.right), point.dot(spec_.up));
  }
  void draw(Paper& paper, const TopoDS_Shape& shape) const;

 private:
  ViewSpec spec_;
};

} // namespace alder::demo
