// Things in the stage that are not CAD: triangles of fixture and machine, lines, points. Drawn from
// plain arrays; never picked.
#pragma once

#include "geometry/mesh.h"
#include <AIS_InteractiveObject.hxx>
#include <QColor>

namespace alder::app {

struct ColoredPoint {
  Vec3 at;
  QColor color;
};

struct SceneGeometry {
  Mesh mesh;
  QColor mesh_color;
  double transparency = 0;
  bool flat = false;         // in its own colour, whatever the light
  std::vector<Points> lines; // polylines
  QColor line_color;
  double line_width = 1;
  bool dashed = false;
  std::vector<ColoredPoint> points; // drawn as small balls
  double point_radius = 0.8;        // mm
  bool on_top = false;              // drawn over everything else
};

class SceneObject : public AIS_InteractiveObject {
 public:
  explicit SceneObject(SceneGeometry geometry);
  DEFINE_STANDARD_RTTI_INLINE(SceneObject, AIS_InteractiveObject)

 private:
  void Compute(const Handle(PrsMgr_PresentationManager) &,
               const Handle(Prs3d_Presentation) & presentation,
               const Standard_Integer mode) override;
  void ComputeSelection(const Handle(SelectMgr_Selection) &, const Standard_Integer) override {}
  SceneGeometry geometry_;
};

Mesh ballMesh(const Vec3& centre, double radius, int rings = 10);

} // namespace alder::app
