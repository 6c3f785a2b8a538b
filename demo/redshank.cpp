#include "redshank.h"

#include "part/recognise.h"
#include "pmi_writer.h"
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepAlgoAPI_Fuse.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <Standard_Failure.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <cmath>
#include <functional>

namespace alder::demo {
namespace {

using T = ToleranceType;
const Vec3 kUp = Vec3::UnitZ();

TopoDS_Shape rod(const Vec3& at, const Vec3& along, double diameter, double length) {
  return BRepPrimAPI_MakeCylinder(
             gp_Ax2(gp_Pnt(at.x(), at.y(), at.z()), gp_Dir(along.x(), along.y(), along.z())),
             diameter / 2, length)
      .Shape();
}

constexpr int kScrews = 6;
constexpr double kScrewCircle = 97;
Vec3 screw(int k) {
  const double angle = (k + 0.5) * 2 * 3.14159265358979323846 / kScrews;
  return kScrewCircle / 2 * Vec3(std::cos(angle), std::sin(angle), 0);
}

// A round shell, open below, with a boss on its floor and pegs under it.
TopoDS_Shape housing() {
  TopoDS_Shape s = rod(Vec3::Zero(), kUp, 110, 46);
  const auto cut = [&](const TopoDS_Shape& tool) { s = BRepAlgoAPI_Cut(s, tool).Shape(); };
  const auto add = [&](const TopoDS_Shape& more) { s = BRepAlgoAPI_Fuse(s, more).Shape(); };
  cut(rod(Vec3(0, 0, -1), kUp, 84, 31));
  add(rod(Vec3(0, 0, 46), kUp, 34, 10));
  for (const double x : {-28.0, 28.0})
    add(rod(Vec3(x, 0, 30), -kUp, 8, 12));
  cut(rod(Vec3(0, 0, 20), kUp, 18, 50));
  cut(rod(Vec3(0, 0, 20), kUp, 26, 15));
  for (int k = 0; k < kScrews; ++k)
    cut(rod(screw(k) - kUp, kUp, 6.6, 60));
  cut(rod(Vec3(0, 38, 34), kUp, 8, 13));
  cut(rod(Vec3(0, -30, 22), -Vec3::UnitY(), 12, 30));
  return s;
}

// Its faces by the names of its drawing.
struct Faces {
  FaceShapes top, boss, bore, dowel, screws, rim, floor, seat, seat_face, pegs, port;

  explicit Faces(const TopoDS_Shape& shape) {
    const auto where = [&](const std::function<bool(const Ideal&)>& holds) {
      FaceShapes found;
      for (TopExp_Explorer f(shape, TopAbs_FACE); f.More(); f.Next())
        if (holds(idealOf(TopoDS::Face(f.Current())))) found.push_back(TopoDS::Face(f.Current()));
      return found;
    };
    const auto plane = [&](const Vec3& normal, double offset) {
      return where([=](const Ideal& i) {
        return i.type == SurfaceType::Plane && (i.direction - normal).norm() < 1e-6 &&
               std::abs(i.point.dot(normal) - offset) < 1e-6;
      });
    };
    const auto cylinder = [&](double diameter) {
      return where([=](const Ideal& i) {
        return i.type == SurfaceType::Cylinder && std::abs(i.diameter - diameter) < 1e-6;
      });
    };
    top = plane(kUp, 46), rim = plane(-kUp, 0);
    floor = plane(-kUp, -30), seat_face = plane(-kUp, -35);
    boss = cylinder(34), bore = cylinder(18), screws = cylinder(6.6), seat = cylinder(26);
    port = cylinder(12);
    for (const TopoDS_Face& f : cylinder(8))
      (idealOf(f).hole ? dowel : pegs).push_back(f);
  }
};

void demand(PmiWriter& w, const Faces& f) {
  constexpr auto round = ZoneForm::Cylindrical;
  constexpr auto maximum = MaterialModifier::Maximum;
  const std::vector<DatumUse> abc{{"A"}, {"B"}, {"C"}};
  w.datum("A", f.top);
  w.datum("B", f.bore);
  w.datum("C", f.dowel);
  w.tolerance({.type = T::Flatness, .magnitude = 0.03, .faces = f.top});
  w.size({.faces = f.bore, .nominal = 18, .fit = "H7"});
  w.tolerance({.type = T::Perpendicularity,
               .magnitude = 0.05,
               .faces = f.bore,
               .datums = {{"A"}},
               .zone = round});
  w.tolerance({.type = T::Cylindricity, .magnitude = 0.02, .faces = f.bore});
  w.size({.faces = f.dowel, .nominal = 8, .fit = "H7"});
  w.tolerance({.type = T::Position,
               .magnitude = 0.1,
               .faces = f.dowel,
               .datums = {{"A"}, {"B"}},
               .zone = round});
  w.size({.faces = f.boss, .nominal = 34, .lower = -0.1, .upper = 0});
  w.tolerance({.type = T::TotalRunout, .magnitude = 0.1, .faces = f.boss, .datums = {{"B"}}});
  w.size({.faces = f.screws, .nominal = 6.6, .lower = 0, .upper = 0.2});
  w.tolerance({.type = T::Position,
               .magnitude = 0.25,
               .faces = f.screws,
               .datums = abc,
               .zone = round,
               .material = maximum});
  w.size({.faces = f.port, .nominal = 12, .lower = -0.1, .upper = 0.1});
  w.tolerance(
      {.type = T::Position, .magnitude = 0.3, .faces = f.port, .datums = abc, .zone = round});
  // From below, to datums that are above.
  w.tolerance({.type = T::Parallelism, .magnitude = 0.06, .faces = f.rim, .datums = {{"A"}}});
  w.distance(f.top, f.rim, 46, -0.1, 0.1);
  w.distance(f.top, f.floor, 16, -0.08, 0.08);
  w.size({.faces = f.seat, .nominal = 26, .lower = 0, .upper = 0.1});
  w.tolerance({.type = T::Coaxiality,
               .magnitude = 0.12,
               .faces = f.seat,
               .datums = {{"B"}},
               .zone = round});
  w.tolerance({.type = T::SurfaceProfile, .magnitude = 0.1, .faces = f.seat_face, .datums = abc});
  w.size({.faces = f.pegs, .nominal = 8, .lower = -0.05, .upper = 0});
  w.tolerance(
      {.type = T::Position, .magnitude = 0.15, .faces = f.pegs, .datums = abc, .zone = round});
}

} // namespace

Result<std::string> redshankStep() {
  try {
    const TopoDS_Shape shape = housing();
    auto writer = PmiWriter::begin(shape, "Redshank", "MM");
    if (!writer) return pass(writer.error());
    demand(*writer, Faces(shape));
    return writer->text();
  } catch (const Standard_Failure& e) {
    return fail("Redshank: {}", e.GetMessageString());
  }
}

std::string redshankDefectsJson() {
  return R"json({
  "format": "alderpoint-defects", "version": 1,
  "part": {"move_mm": [0.8, 0.5, 0], "turn_deg": [0, 0, -0.3]},
  "features": [
    {"feature": "Boss ø8 · 2", "move_mm": [0.08, 0.06, 0]},
    {"feature": "Bore ø26", "resize_mm": 0.04}
  ]
}
)json";
}

} // namespace alder::demo
