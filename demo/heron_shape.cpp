#include "heron.h"

#include "base/units.h"
#include <BRepAlgoAPI_Common.hxx>
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepAlgoAPI_Fuse.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepPrimAPI_MakeCone.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <BRepPrimAPI_MakePrism.hxx>
#include <BRepPrimAPI_MakeSphere.hxx>
#include <GeomAPI_PointsToBSplineSurface.hxx>
#include <Geom_BSplineSurface.hxx>
#include <ShapeUpgrade_UnifySameDomain.hxx>
#include <TColgp_Array2OfPnt.hxx>
#include <TopExp_Explorer.hxx>
#include <cmath>

namespace alder::demo {
namespace {

gp_Ax2 axis(double x, double y, double z, const gp_Dir& d = gp_Dir(0, 0, 1)) {
  return {gp_Pnt(x, y, z), d};
}

TopoDS_Shape cylinder(const gp_Ax2& at, double diameter, double length) {
  return BRepPrimAPI_MakeCylinder(at, diameter / 2, length).Shape();
}

TopoDS_Shape box(double x0, double y0, double z0, double x1, double y1, double z1) {
  return BRepPrimAPI_MakeBox(gp_Pnt(x0, y0, z0), gp_Pnt(x1, y1, z1)).Shape();
}

TopoDS_Shape cut(const TopoDS_Shape& from, const TopoDS_Shape& tool) {
  return BRepAlgoAPI_Cut(from, tool).Shape();
}

// A faired flank towards -X: a freeform face with a soft crown, made solid back into the boss.
TopoDS_Shape fairing() {
  TColgp_Array2OfPnt grid(1, 9, 1, 9);
  for (int i = 1; i <= 9; ++i)
    for (int j = 1; j <= 9; ++j) {
      const double y = -24 + 6.0 * (i - 1), z = 12 + 6.0 * (j - 1);
      const double x = -34 + 0.004 * y * y + 1.6 * std::sin((z - 20) / 14.0) * std::cos(y / 18.0);
      grid.SetValue(i, j, gp_Pnt(x, y, z));
    }
  const Handle(Geom_BSplineSurface) surface = GeomAPI_PointsToBSplineSurface(grid, 3, 5).Surface();
  const TopoDS_Shape face = BRepBuilderAPI_MakeFace(surface, 1e-6).Shape();
  const TopoDS_Shape body = BRepPrimAPI_MakePrism(face, gp_Vec(16, 0, 0)).Shape();
  return BRepAlgoAPI_Common(body, box(-50, -15, 20, 0, 15, 50)).Shape();
}

} // namespace

TopoDS_Shape heronShape(HeronRevision revision) {
  const bool c = revision == HeronRevision::C;
  TopoDS_Shape body = cylinder(axis(0, 0, 0), 120, 20);
  body = BRepAlgoAPI_Fuse(body, cylinder(axis(0, 0, 20), 60, 40)).Shape();
  body = BRepAlgoAPI_Fuse(body, fairing()).Shape();
  body = cut(body, cylinder(axis(0, 0, -1), 32, 62));                        // well bore
  body = cut(body, BRepPrimAPI_MakeCone(axis(0, 0, 54), 16, 23, 7).Shape()); // valve seat
  body = cut(body, cylinder(axis(46, 0, -1), 8, 22));                        // dowel
  for (int k = 0; k < 6; ++k) {
    const double shifted = !c ? 0 : k == 2 ? -2 : k == 3 ? 2 : 0;
    const double a = radians(30 + 60 * k + shifted);
    body = cut(body, cylinder(axis(46 * std::cos(a), 46 * std::sin(a), -1), 11, 22));
  }
  if (c)
    body = cut(body,
               cylinder(axis(50 * std::cos(radians(105)), 50 * std::sin(radians(105)), -1), 7, 22));
  body = cut(body, BRepPrimAPI_MakeSphere(gp_Pnt(-47, 0, 23), 9).Shape()); // cup
  const double tilt = radians(35);
  const gp_Dir port(0, -std::cos(tilt), std::sin(tilt));
  body = cut(body,
             cylinder(axis(0, -30 + 26 * std::cos(tilt), 44 - 26 * std::sin(tilt), port), 9, 60));
  body = cut(body, box(26, -40, 20, 40, 40, 61)); // flat flank
  body = cut(body, box(20, -40, 36, 40, 40, 42)); // undercut groove
  for (double angle : {120.0, 240.0}) {           // side ports
    const gp_Dir out(std::cos(radians(angle)), std::sin(radians(angle)), 0);
    body = cut(body, cylinder(axis(46 * out.X(), 46 * out.Y(), 10, out), 8, 20));
  }
  if (!c) body = cut(body, box(-4, 18, 54, 4, 40, 61)); // keyway
  ShapeUpgrade_UnifySameDomain unify(body, true, true, false);
  unify.Build();
  // The booleans wrap the solid in a compound; STEP should hold the solid itself.
  TopExp_Explorer solid(unify.Shape(), TopAbs_SOLID);
  return solid.Current();
}

} // namespace alder::demo
