#include "route/standing.h"

#include "base/units.h"
#include "geometry/mesh_check.h"
#include "made_parts.h"
#include "part/step_import.h"
#include "random_parts.h"
#include "requirement/from_pmi.h"
#include "route/draft.h"
#include "route/rest_places.h"
#include "support.h"
#include <BRepAlgoAPI_Fuse.hxx>
#include <BRepBuilderAPI_MakeVertex.hxx>
#include <BRepClass3d_SolidClassifier.hxx>
#include <BRepExtrema_DistShapeShape.hxx>
#include <BRepGProp.hxx>
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <GProp_GProps.hxx>

using namespace alder;

// How a part stands, checked by the shapes of the CAD library rather than by our triangles.
class StandingTest : public QObject {
  Q_OBJECT

  static gp_Pnt point(const Vec3& p) { return {p.x(), p.y(), p.z()}; }
  static double distance(const TopoDS_Shape& shape, const Vec3& place) {
    return BRepExtrema_DistShapeShape(shape, BRepBuilderAPI_MakeVertex(point(place)).Vertex())
        .Value();
  }
  static Vec3 centreOf(const TopoDS_Shape& shape) {
    GProp_GProps sums;
    BRepGProp::VolumeProperties(shape, sums);
    const gp_Pnt c = sums.CentreOfMass();
    return {c.X(), c.Y(), c.Z()};
  }
  // Is some place of the post, a little below its top, inside of the part?
  static bool within(const TopoDS_Shape& shape, const Support& s, const Vec3& up) {
    BRepClass3d_SolidClassifier inside(shape);
    const Vec3 x = anyPerpendicular(up), y = up.cross(x);
    for (double below = 0.05; below < 400; below = 1.5 * below + 0.5)
      for (int k = 0; k < 8; ++k) {
        const double a = k * kPi / 4;
        const Vec3 p =
            s.at - below * up + (0.5 * s.length - 0.05) * (std::cos(a) * x + std::sin(a) * y);
        inside.Perform(point(p), 1e-4);
        if (inside.State() == TopAbs_IN) return true;
      }
    return false;
  }
  // Corners of what bears the part: each rest as a ring of places where there is material above it.
  static Points borne(const TopoDS_Shape& shape, const Supports& supports, const Vec3& up) {
    BRepClass3d_SolidClassifier inside(shape);
    const Vec3 x = anyPerpendicular(up), y = up.cross(x);
    Points corners;
    for (const Support& s : supports)
      for (double r : {0.0, 0.3, 0.6, 0.95})
        for (int k = 0; k < (r == 0 ? 1 : 24); ++k) {
          const double a = k * kPi / 12;
          const Vec3 p = s.at + 0.5 * r * s.length * (std::cos(a) * x + std::sin(a) * y);
          inside.Perform(point(p + 0.02 * up), 1e-5);
          if (inside.State() == TopAbs_IN) corners.push_back(p);
        }
    return corners;
  }

  static std::string faultOf(const PartModel& part, const Standing& s) {
    const Vec3 up = turn(s.placement, s.up);
    if ((up - Vec3::UnitZ()).norm() > 1e-9) return "is not placed upright";
    if (s.supports.empty()) return "stands on nothing";
    if (s.held <= 0) return "tips";
    const auto corners = borne(part.shape, s.supports, s.up);
    if (insideOf(corners, centreOf(part.shape), s.up) < 0.25)
      return fmt::format("the centre of mass is {} mm inside of {} places that bear it",
                         insideOf(corners, centreOf(part.shape), s.up), corners.size());
    for (const Support& support : s.supports) {
      if (s.supports.size() > 1 && distance(part.shape, support.at) > 0.002)
        return "a rest does not touch it";
      if (within(part.shape, support, s.up)) return "a rest is inside of it";
      if ((s.placement * support.at).z() < 10) return "a rest is below the table";
    }
    return {};
  }

 private slots:
  void centreOfMass() {
    Mesh mesh;
    mesh.appendBox(Box3(Vec3(0, 0, 0), Vec3(2, 4, 6)), Frame::Identity(), 0);
    const Frame far = Frame(Eigen::Translation3d(1000, -50, 3));
    mesh.appendBox(Box3(Vec3(0, 0, 0), Vec3(2, 4, 6)), far, 0);
    QVERIFY((alder::centreOfMass(mesh) - Vec3(501, -23, 4.5)).norm() < 1e-9);
    std::swap(mesh.triangles[3][0], mesh.triangles[3][1]);
    for (auto& t : mesh.triangles)
      std::swap(t[0], t[1]); // inside out: of the surface
    QVERIFY((alder::centreOfMass(mesh) - Vec3(501, -23, 4.5)).norm() < 1e-9);
  }
  void inside() {
    const Points square{{0, 0, 5}, {10, 0, 5}, {10, 10, 5}, {0, 10, 5}};
    NEAR(insideOf(square, Vec3(3, 4, 90), Vec3::UnitZ()), 3.0, 1e-12);
    NEAR(insideOf(square, Vec3(-2, 5, 0), Vec3::UnitZ()), -2.0, 1e-12);
    QVERIFY(insideOf({{0, 0, 0}, {1, 1, 0}}, Vec3(0, 0, 0), Vec3::UnitZ()) < 0);
  }
  // Every proposed standing of parts by lot, turned and far away.
  void standsSafely_data() {
    QTest::addColumn<unsigned>("seed");
    for (unsigned seed = 1; seed <= 24; ++seed)
      QTest::addRow("%u", seed) << seed;
  }
  void standsSafely() {
    QFETCH(unsigned, seed);
    const auto random = test::randomPart(seed);
    VERIFY_OK(random);
    const auto part = importStep(random->step, random->name);
    VERIFY_OK(part);
    std::vector<Note> notes;
    const auto bench = defaultBench();
    const Specification spec = specificationFromPmi(**part, notes);
    const auto all = standingsOf(**part, spec, *bench);
    QVERIFY2(!all.empty(), random->name.c_str());
    for (const Standing& s : all) {
      const std::string fault = faultOf(**part, s);
      QVERIFY2(fault.empty(),
               fmt::format("{}, up {} {} {}: {}", random->name, s.up.x(), s.up.y(), s.up.z(), fault)
                   .c_str());
    }
  }
  // A T that stands on its stem does so; with the bar down on the bar; never on the bar's edge.
  void hangingBetweenRests() {
    const TopoDS_Shape bar = BRepPrimAPI_MakeBox(gp_Pnt(-60, -20, 0), gp_Pnt(60, 20, 12)),
                       stem = BRepPrimAPI_MakeBox(gp_Pnt(-2, -2, 12), gp_Pnt(2, 2, 80));
    const TopoDS_Shape both = BRepAlgoAPI_Fuse(bar, stem);
    PartModel part;
    part.shape = both;
    part.mesh = meshOf(both, 0.02);
    for (int i = 0; i < 32 && part.mesh.tags.back() >= i; ++i) {
      Face face;
      face.id = FaceId{i};
      face.ideal.type = SurfaceType::Plane;
      Vec3 sum = Vec3::Zero();
      for (std::size_t k = 0; k < part.mesh.triangles.size(); ++k)
        if (part.mesh.tags[k] == i) {
          const Triangle t = part.mesh.triangle(k);
          sum += (t.b - t.a).cross(t.c - t.a) / 2;
          face.ideal.point = t.a;
        }
      face.area = sum.norm(), face.ideal.direction = sum.normalized();
      part.faces.push_back(face);
    }
    const RestPlaces places(part);
    const auto flat = places.bearing(Vec3::UnitZ()), hanging = places.bearing(-Vec3::UnitZ());
    QVERIFY(flat && flat->supports.size() == 3 && flat->held > 5);
    // Upside down it hangs by the bar, the stem between the rests.
    QVERIFY(hanging && hanging->supports.size() == 3 && hanging->held > 5);
    for (const Support& s : hanging->supports) {
      NEAR(s.at.z(), 12.0, 1e-9);
      QVERIFY(std::hypot(s.at.x(), s.at.y()) > 4);
    }
    QVERIFY(!places.bearing(Vec3(1, 0, 1).normalized()));
  }
  // What a person has placed stays where it is when all is planned.
  void placedByHandStays() {
    auto step = test::bracketStep("MM", 0);
    VERIFY_OK(step);
    const auto part = importStep(*step, "bracket");
    VERIFY_OK(part);
    auto bench = defaultBench();
    Plan plan = beginPlan(*part, *bench);
    plan.placement = Frame(Eigen::Translation3d(30, 0, 5)) * plan.placement;
    standOn(plan.bench, plan.placement, plan.supports);
    const Frame placed = plan.placement;
    const auto done = completePlan(plan);
    VERIFY_OK(done);
    QVERIFY(done->placement.isApprox(placed));
    // Its rests went with it.
    for (std::size_t k = 0; k < 3; ++k)
      NEAR(done->bench.fixture.bodies[k].mesh.box().max().z(), (placed * done->supports[k].at).z(),
           1e-9);
  }
};
ALDER_TEST(StandingTest)
#include "standing_test.moc"
