#include "base/error.h"
#include "part/step_import.h"

#include "part/recognise.h"

#include "base/units.h"
#include "part/face_region.h"
#include "pmi_writer.h"
#include "support.h"
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepAlgoAPI_Fuse.hxx>
#include <BRepBuilderAPI_NurbsConvert.hxx>
#include <BRepBuilderAPI_Transform.hxx>
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepPrimAPI_MakeCone.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <BRepPrimAPI_MakeSphere.hxx>
#include <BRepPrimAPI_MakeTorus.hxx>

using namespace alder;

namespace {

PartPtr partOf(const TopoDS_Shape& shape) {
  const auto w = demo::PmiWriter::begin(shape, "shape");
  if (!w) return nullptr;
  const auto part = importStep(w->text(), "shape.step");
  return part ? *part : nullptr;
}

std::vector<Surface> ofType(const PartModel& part, SurfaceType type) {
  std::vector<Surface> result;
  for (const Surface& s : part.surfaces)
    if (s.ideal.type == type) result.push_back(s);
  return result;
}

gp_Ax2 up(double x, double y, double z) {
  return {gp_Pnt(x, y, z), gp_Dir(0, 0, 1)};
}

} // namespace

class RecogniseTest : public QObject {
  Q_OBJECT
 private slots:
  void insideAndOutside() {
    const auto part = partOf(BRepAlgoAPI_Cut(BRepPrimAPI_MakeCylinder(up(0, 0, 0), 20, 30).Shape(),
                                             BRepPrimAPI_MakeCylinder(up(0, 0, -1), 8, 40).Shape())
                                 .Shape());
    QVERIFY(part);
    const auto round = ofType(*part, SurfaceType::Cylinder);
    QCOMPARE(round.size(), std::size_t(2));
    for (const Surface& s : round) {
      QCOMPARE(s.ideal.hole, s.ideal.diameter < 20);
      NEAR(s.ideal.length, 30.0, 1e-6);
      NEAR(std::abs(s.ideal.direction.z()), 1.0, 1e-9);
    }
  }
  // A bore cut through by a slot lengthwise is two faces; they are one surface where they touch.
  void halvesAreJoined() {
    TopoDS_Shape s = BRepPrimAPI_MakeBox(gp_Pnt(-20, -20, 0), gp_Pnt(20, 20, 30)).Shape();
    // two half bores made apart and fused keep a seam between them
    s = BRepAlgoAPI_Cut(
            s, BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(0, 0, -1), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0)),
                                        8, 40, kPi)
                   .Shape())
            .Shape();
    s = BRepAlgoAPI_Cut(
            s, BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(0, 0, -1), gp_Dir(0, 0, 1), gp_Dir(-1, 0, 0)),
                                        8, 40, kPi)
                   .Shape())
            .Shape();
    const auto part = partOf(s);
    QVERIFY(part);
    int faces = 0;
    for (const Face& f : part->faces)
      faces += f.ideal.type == SurfaceType::Cylinder;
    QCOMPARE(faces, 2);
    const auto bores = ofType(*part, SurfaceType::Cylinder);
    QCOMPARE(bores.size(), std::size_t(1));
    QCOMPARE(bores[0].faces.size(), std::size_t(2));
    // naming one half means the whole bore
    const auto asked = surfacesOf(*part, {bores[0].faces[1]}, Grouping::Surfaces);
    QCOMPARE(asked.size(), std::size_t(1));
    QCOMPARE(asked[0].faces.size(), std::size_t(2));
    // the seam is no edge to keep away from
    const FaceRegion region(*part, bores[0].faces);
    NEAR(region.edgeDistance({8, 0, 15}), 15.0, 1e-6);
  }
  void conesPointToTheirWideSide() {
    const auto part = partOf(BRepPrimAPI_MakeCone(up(0, 0, 0), 20, 10, 25).Shape());
    QVERIFY(part);
    const auto cones = ofType(*part, SurfaceType::Cone);
    QCOMPARE(cones.size(), std::size_t(1));
    const Ideal& c = cones[0].ideal;
    NEAR(c.direction.z(), -1.0, 1e-9);
    NEAR(c.diameter, 20.0, 1e-6); // at the narrow end
    NEAR(c.point.z(), 25.0, 1e-6);
    NEAR(c.length, 25.0, 1e-6);
    NEAR(std::tan(c.half_angle), 10.0 / 25, 1e-9);
    QVERIFY(!c.hole);
  }
  void spheresAndTori() {
    const auto ball =
        partOf(BRepAlgoAPI_Cut(BRepPrimAPI_MakeBox(gp_Pnt(-20, -20, 0), gp_Pnt(20, 20, 20)).Shape(),
                               BRepPrimAPI_MakeSphere(gp_Pnt(0, 0, 22), 9).Shape())
                   .Shape());
    QVERIFY(ball);
    const auto cups = ofType(*ball, SurfaceType::Sphere);
    QCOMPARE(cups.size(), std::size_t(1));
    QVERIFY(cups[0].ideal.hole);
    NEAR(cups[0].ideal.diameter, 18.0, 1e-6);
    NEAR((cups[0].ideal.point - Vec3(0, 0, 22)).norm(), 0.0, 1e-6);
    const auto ring = partOf(BRepPrimAPI_MakeTorus(30, 5).Shape());
    QVERIFY(ring);
    QVERIFY(!ofType(*ring, SurfaceType::Torus).empty());
  }
  // Two pads at one height: apart each its own plane, together one.
  void coplanarFaces() {
    TopoDS_Shape s = BRepPrimAPI_MakeBox(100., 40., 10.).Shape();
    s = BRepAlgoAPI_Fuse(s, BRepPrimAPI_MakeBox(gp_Pnt(5, 5, 10), gp_Pnt(25, 35, 15)).Shape())
            .Shape();
    s = BRepAlgoAPI_Fuse(s, BRepPrimAPI_MakeBox(gp_Pnt(75, 5, 10), gp_Pnt(95, 35, 15)).Shape())
            .Shape();
    const auto part = partOf(s);
    QVERIFY(part);
    std::vector<FaceId> pads;
    for (const Face& f : part->faces)
      if (f.ideal.type == SurfaceType::Plane && f.ideal.direction.z() > 0.9 &&
          std::abs(f.ideal.point.z() - 15) < 1e-6)
        pads.push_back(f.id);
    QCOMPARE(pads.size(), std::size_t(2));
    QCOMPARE(surfacesOf(*part, {pads[0]}, Grouping::Surfaces)[0].faces.size(), std::size_t(1));
    const auto both = surfacesOf(*part, pads, Grouping::Surfaces);
    QCOMPARE(both.size(), std::size_t(1));
    QCOMPARE(both[0].faces.size(), std::size_t(2));
    NEAR(both[0].ideal.point.x(), 50.0, 1e-6); // the middle of both
  }
  void slotsAndRibs() {
    TopoDS_Shape s = BRepPrimAPI_MakeBox(60., 40., 20.).Shape();
    s = BRepAlgoAPI_Cut(s, BRepPrimAPI_MakeBox(gp_Pnt(20, -1, 10), gp_Pnt(32, 41, 30)).Shape())
            .Shape();
    const auto part = partOf(s);
    QVERIFY(part);
    const auto planes = [&](double x, double sign) {
      std::vector<FaceId> r;
      for (const Face& f : part->faces)
        if (f.ideal.type == SurfaceType::Plane && f.ideal.direction.x() * sign > 0.9 &&
            std::abs(f.ideal.point.x() - x) < 1e-6)
          r.push_back(f.id);
      return r;
    };
    auto walls = planes(20, 1);
    for (FaceId f : planes(32, -1))
      walls.push_back(f);
    const auto slot = surfacesOf(*part, walls, Grouping::SlotIfParallel);
    QCOMPARE(slot.size(), std::size_t(1));
    QVERIFY(slot[0].ideal.type == SurfaceType::Slot && slot[0].ideal.hole);
    NEAR(slot[0].ideal.diameter, 12.0, 1e-6);
    NEAR(slot[0].ideal.point.x(), 26.0, 1e-6);
    // the same faces for their form stay two planes
    QCOMPARE(surfacesOf(*part, walls, Grouping::Surfaces).size(), std::size_t(2));
    auto ends = planes(0, -1);
    for (FaceId f : planes(60, 1))
      ends.push_back(f);
    const auto rib = surfacesOf(*part, ends, Grouping::SlotIfParallel);
    QVERIFY(!rib[0].ideal.hole);
    NEAR(rib[0].ideal.diameter, 60.0, 1e-6);
  }
  // Exporters that write everything as splines: planes are found again.
  void splinePlanes() {
    const auto part =
        partOf(BRepBuilderAPI_NurbsConvert(BRepPrimAPI_MakeBox(60., 40., 20.).Shape()).Shape());
    QVERIFY(part);
    for (const Face& f : part->faces)
      QVERIFY(f.ideal.type == SurfaceType::Plane);
    for (const Face& f : part->faces) { // outward normals
      const Vec3 out = f.box.center() - Vec3(30, 20, 10);
      QVERIFY(out.dot(f.ideal.direction) > 0);
    }
  }
  void mirroredPartsKeepOutwardNormals() {
    gp_Trsf mirror;
    mirror.SetMirror(gp_Ax2(gp_Pnt(0, 0, 0), gp_Dir(1, 0, 0)));
    const auto part =
        partOf(BRepBuilderAPI_Transform(
                   BRepAlgoAPI_Cut(BRepPrimAPI_MakeBox(60., 40., 20.).Shape(),
                                   BRepPrimAPI_MakeCylinder(up(20, 20, -1), 6, 40).Shape())
                       .Shape(),
                   mirror, true)
                   .Shape());
    QVERIFY(part);
    double volume = 0;
    for (std::size_t i = 0; i < part->mesh.triangles.size(); ++i) {
      const Triangle t = part->mesh.triangle(i);
      volume += t.a.dot(t.b.cross(t.c)) / 6;
    }
    NEAR(volume, 60.0 * 40 * 20 - kPi * 36 * 20, 60.0);
    for (const Surface& s : part->surfaces)
      if (s.ideal.type == SurfaceType::Cylinder) QVERIFY(s.ideal.hole);
    const FaceRegion region(*part, {FaceId{0}});
    for (const SurfacePoint& p : region.grid(20))
      QVERIFY(part->face(FaceId{0}).ideal.type != SurfaceType::Plane ||
              (p.normal - part->face(FaceId{0}).ideal.direction).norm() < 1e-9);
  }
  void regionsKnowTheirEdges() {
    const auto part =
        partOf(BRepAlgoAPI_Cut(BRepPrimAPI_MakeBox(60., 40., 20.).Shape(),
                               BRepPrimAPI_MakeCylinder(up(20, 20, -1), 6, 40).Shape())
                   .Shape());
    QVERIFY(part);
    FaceId top;
    for (const Face& f : part->faces)
      if (f.ideal.type == SurfaceType::Plane && f.ideal.direction.z() > 0.9) top = f.id;
    const FaceRegion region(*part, {top});
    QVERIFY(region.at({40, 20, 20}));
    QVERIFY(!region.at({20, 20, 20}));     // in the hole
    QVERIFY(!region.at({70, 20, 20}));     // beside the face
    QVERIFY(!region.at({40, 20, 21}));     // above it
    QVERIFY(region.at({40, 20, 20.5}, 1)); // within reach
    NEAR(region.edgeDistance({40, 20, 20}), 14.0, 0.02);
    NEAR(region.edgeDistance({55, 20, 20}), 5.0, 1e-9);
    NEAR(region.signedDistance(top, {10, 10, 23}), 3.0, 1e-9);
    NEAR(region.signedDistance(top, {10, 10, 18}), -2.0, 1e-9);
    for (const SurfacePoint& p : region.grid(300)) {
      QVERIFY((p.point - Vec3(20, 20, 20)).norm() > 6 - 1e-6);
      NEAR(p.normal.z(), 1.0, 1e-12);
    }
  }
};
ALDER_TEST(RecogniseTest)
#include "recognise_test.moc"
