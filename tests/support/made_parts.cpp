#include "made_parts.h"

#include "base/units.h"
#include "part/recognise.h"
#include "part/step_import.h"
#include "route/draft.h"
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepAlgoAPI_Fuse.hxx>
#include <BRepBuilderAPI_Transform.hxx>
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepPrimAPI_MakeCone.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>

namespace alder::test {
namespace {

using demo::FaceShapes;
using demo::PmiWriter;
using T = ToleranceType;
const Vec3 x = Vec3::UnitX(), y = Vec3::UnitY(), z = Vec3::UnitZ();

gp_Ax2 at(double px, double py, double pz, const gp_Dir& d = gp_Dir(0, 0, 1)) {
  return {gp_Pnt(px, py, pz), d};
}
TopoDS_Shape cut(const TopoDS_Shape& a, const TopoDS_Shape& b) {
  return BRepAlgoAPI_Cut(a, b).Shape();
}
TopoDS_Shape fuse(const TopoDS_Shape& a, const TopoDS_Shape& b) {
  return BRepAlgoAPI_Fuse(a, b).Shape();
}
TopoDS_Shape rod(const gp_Ax2& a, double diameter, double length) {
  return BRepPrimAPI_MakeCylinder(a, diameter / 2, length).Shape();
}
TopoDS_Shape box(double x0, double y0, double z0, double x1, double y1, double z1) {
  return BRepPrimAPI_MakeBox(gp_Pnt(x0, y0, z0), gp_Pnt(x1, y1, z1)).Shape();
}

// Finds faces of the moved shape by what they were before the motion.
class Finder {
 public:
  Finder(const TopoDS_Shape& shape, const gp_Trsf& motion)
      : shape_(BRepBuilderAPI_Transform(shape, motion, true).Shape())
      , back_(motion.Inverted()) {}
  const TopoDS_Shape& shape() const { return shape_; }

  FaceShapes plane(const Vec3& normal, double offset) const {
    return where([&](const Ideal& i) {
      return i.type == SurfaceType::Plane && (direction(i) - normal).norm() < 1e-6 &&
             std::abs(point(i).dot(normal) - offset) < 1e-5;
    });
  }
  FaceShapes cylinder(double diameter) const {
    return where([&](const Ideal& i) {
      return i.type == SurfaceType::Cylinder && std::abs(i.diameter - diameter) < 1e-5;
    });
  }
  FaceShapes cone() const {
    return where([](const Ideal& i) { return i.type == SurfaceType::Cone; });
  }

 private:
  FaceShapes where(const std::function<bool(const Ideal&)>& holds) const {
    FaceShapes r;
    for (TopExp_Explorer f(shape_, TopAbs_FACE); f.More(); f.Next())
      if (holds(idealOf(TopoDS::Face(f.Current())))) r.push_back(TopoDS::Face(f.Current()));
    return r;
  }
  Vec3 point(const Ideal& i) const {
    const gp_Pnt p = gp_Pnt(i.point.x(), i.point.y(), i.point.z()).Transformed(back_);
    return {p.X(), p.Y(), p.Z()};
  }
  Vec3 direction(const Ideal& i) const {
    const gp_Vec v = gp_Vec(i.direction.x(), i.direction.y(), i.direction.z()).Transformed(back_);
    return {v.X(), v.Y(), v.Z()};
  }
  TopoDS_Shape shape_;
  gp_Trsf back_;
};

FaceShapes joined(FaceShapes a, const FaceShapes& b) {
  a.insert(a.end(), b.begin(), b.end());
  return a;
}

} // namespace

gp_Trsf placed(int k) {
  gp_Trsf turn, move;
  if (k == 0) return turn;
  turn.SetRotation(gp_Ax1(gp_Pnt(0, 0, 0), gp_Dir(1, k, 0.5)), 0.7 * k);
  move.SetTranslation(gp_Vec(1500 * k, -900 * k, 700));
  return move * turn;
}

Result<std::string> bracketStep(const std::string& unit, int motion) {
  TopoDS_Shape s = fuse(box(0, 0, 0, 120, 80, 15), box(0, 0, 0, 15, 80, 90));
  s = fuse(s, rod(at(85, 40, 15), 30, 25));
  s = cut(s, rod(at(85, 40, -1), 16, 60));
  for (double py : {20., 60.})
    s = cut(s, rod(at(-1, py, 60, gp_Dir(1, 0, 0)), 12, 30));
  for (double py : {15., 65.})
    s = cut(s, rod(at(40, py, -1), 9, 30));
  s = cut(s, box(105, 30, 5, 130, 50, 30));
  const Finder f(s, placed(motion));
  auto w = PmiWriter::begin(f.shape(), "bracket", unit);
  if (!w) return pass(w.error());
  const std::vector<demo::DatumUse> abc{{"A"}, {"B"}, {"C"}};
  constexpr auto round = ZoneForm::Cylindrical;
  w->datum("A", f.plane(-z, 0));
  w->datum("B", f.plane(-x, 0));
  w->datum("C", f.plane(-y, 0));
  w->tolerance({.type = T::Flatness, .magnitude = 0.05, .faces = f.plane(-z, 0)});
  w->size({.faces = f.cylinder(16), .nominal = 16, .fit = "H7"});
  w->tolerance({.type = T::Position,
                .magnitude = 0.1,
                .faces = f.cylinder(16),
                .datums = abc,
                .zone = round});
  w->tolerance({.type = T::Position,
                .magnitude = 0.2,
                .faces = f.cylinder(12),
                .datums = abc,
                .zone = round,
                .material = MaterialModifier::Maximum});
  w->size({.faces = f.cylinder(12), .nominal = 12, .lower = 0, .upper = 0.2});
  w->size({.faces = f.cylinder(9), .nominal = 9, .lower = -0.1, .upper = 0.1});
  w->tolerance({.type = T::Position,
                .magnitude = 0.3,
                .faces = f.cylinder(9),
                .datums = abc,
                .zone = round});
  w->tolerance(
      {.type = T::Parallelism, .magnitude = 0.08, .faces = f.plane(z, 40), .datums = {{"A"}}});
  w->tolerance(
      {.type = T::Perpendicularity, .magnitude = 0.08, .faces = f.plane(x, 15), .datums = {{"A"}}});
  w->tolerance(
      {.type = T::SurfaceProfile, .magnitude = 0.3, .faces = f.plane(z, 90), .datums = abc});
  const FaceShapes slot = joined(f.plane(y, 30), f.plane(-y, -50));
  w->size({.name = "width", .faces = slot, .nominal = 20, .lower = -0.1, .upper = 0.1});
  w->tolerance({.type = T::Position, .magnitude = 0.2, .faces = slot, .datums = abc});
  w->tolerance({.type = T::Cylindricity, .magnitude = 0.05, .faces = f.cylinder(30)});
  w->tolerance({.type = T::Coaxiality,
                .magnitude = 0.1,
                .faces = f.cylinder(30),
                .datums = abc,
                .zone = round});
  w->distance(f.plane(-x, 0), f.plane(x, 120), 120, -0.2, 0.2);
  return w->text();
}

Result<std::string> shaftStep(const std::string& unit, int motion) {
  TopoDS_Shape s = fuse(rod(at(0, 0, 0), 40, 40), rod(at(0, 0, 40), 28, 60));
  s = fuse(s, BRepPrimAPI_MakeCone(at(0, 0, 100), 14, 8, 20).Shape());
  s = cut(s, box(-4, 8, 60, 4, 30, 90));
  const Finder f(s, placed(motion));
  auto w = PmiWriter::begin(f.shape(), "shaft", unit);
  if (!w) return pass(w.error());
  w->datum("A", f.cylinder(40));
  w->datum("B", f.cylinder(28));
  w->size({.faces = f.cylinder(40), .nominal = 40, .fit = "h6"});
  w->tolerance(
      {.type = T::TotalRunout, .magnitude = 0.03, .faces = f.cylinder(28), .datums = {{"A"}}});
  w->tolerance(
      {.type = T::CircularRunout, .magnitude = 0.05, .faces = f.cone(), .datums = {{"A-B"}}});
  w->tolerance({.type = T::Coaxiality,
                .magnitude = 0.04,
                .faces = f.cylinder(28),
                .datums = {{"A"}},
                .zone = ZoneForm::Cylindrical});
  w->tolerance({.type = T::Roundness, .magnitude = 0.02, .faces = f.cylinder(40)});
  w->tolerance({.type = T::Straightness, .magnitude = 0.02, .faces = f.cylinder(28)});
  return w->text();
}

Result<std::string> plateStep(double q) {
  TopoDS_Shape s = box(0, 0, 0, 100 * q, 70 * q, 10 * q);
  for (double px : {20., 80.})
    s = cut(s, rod(at(px * q, 35 * q, -1), 12 * q, 20 * q));
  const Finder f(s, {});
  auto w = PmiWriter::begin(f.shape(), "plate", "MM");
  if (!w) return pass(w.error());
  w->datum("A", f.plane(z, 10 * q));
  w->tolerance({.type = T::Flatness, .magnitude = 0.1, .faces = f.plane(z, 10 * q)});
  w->size({.faces = f.cylinder(12 * q), .nominal = 12 * q, .lower = -0.05, .upper = 0.05});
  w->tolerance({.type = T::Position,
                .magnitude = 0.2,
                .faces = f.cylinder(12 * q),
                .datums = {{"A"}},
                .zone = ZoneForm::Cylindrical});
  return w->text();
}

Result<Job> jobFor(const std::string& step) {
  auto part = importStep(step, "made.step");
  if (!part) return pass(part.error());
  auto bench = defaultBench();
  if (!bench) return pass(bench.error());
  auto plan = draftPlan(*part, std::move(*bench));
  if (!plan) return pass(plan.error());
  Job job{std::move(*plan), {}, {}};
  job.obstacles = obstaclesOf(job.plan);
  auto way = routePlan(job.plan, job.obstacles);
  if (!way) return pass(way.error());
  job.way = std::move(*way);
  return job;
}

} // namespace alder::test
