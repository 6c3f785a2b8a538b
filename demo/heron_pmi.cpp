#include "heron.h"

#include "base/units.h"
#include "part/recognise.h"
#include "pmi_writer.h"
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <cmath>
#include <functional>

namespace alder::demo {
namespace {

using T = ToleranceType;
constexpr auto kMax = MaterialModifier::Maximum;

FaceShapes facesWhere(const TopoDS_Shape& shape, const std::function<bool(const Ideal&)>& holds) {
  FaceShapes result;
  for (TopExp_Explorer f(shape, TopAbs_FACE); f.More(); f.Next())
    if (holds(idealOf(TopoDS::Face(f.Current())))) result.push_back(TopoDS::Face(f.Current()));
  return result;
}

bool near(double a, double b) {
  return std::abs(a - b) < 1e-6;
}

// The faces of the Heron by the names its drawing uses.
struct HeronFaces {
  FaceShapes mounting, bore, dowel, hole_circle, seat, cup, sensor_port, flank, groove_low, groove,
      side_ports, keyway, fairing, boss, top, rim, vent;

  explicit HeronFaces(const TopoDS_Shape& s) {
    const auto plane = [&](Vec3 normal, double offset) {
      return facesWhere(s, [=](const Ideal& i) {
        return i.type == SurfaceType::Plane && (i.direction - normal).norm() < 1e-6 &&
               near(i.point.dot(normal), offset);
      });
    };
    const auto cylinder = [&](double diameter, auto&& also) {
      return facesWhere(s, [=](const Ideal& i) {
        return i.type == SurfaceType::Cylinder && near(i.diameter, diameter) && also(i);
      });
    };
    const auto any = [](const Ideal&) { return true; };
    mounting = plane(Vec3::UnitZ(), 20);
    top = plane(Vec3::UnitZ(), 60);
    flank = plane(Vec3::UnitX(), 26);
    groove_low = plane(Vec3::UnitZ(), 36);
    groove = groove_low;
    for (const auto& f : plane(-Vec3::UnitZ(), -42))
      groove.push_back(f);
    keyway = plane(Vec3::UnitX(), -4);
    for (const auto& f : plane(-Vec3::UnitX(), -4))
      keyway.push_back(f);
    bore = cylinder(32, any);
    boss = cylinder(60, any);
    rim = cylinder(120, any);
    dowel = cylinder(8, [](const Ideal& i) { return std::abs(i.direction.z()) > 0.9; });
    side_ports = cylinder(8, [](const Ideal& i) { return std::abs(i.direction.z()) < 0.1; });
    hole_circle = cylinder(11, any);
    sensor_port = cylinder(9, any);
    vent = cylinder(7, any);
    seat = facesWhere(s, [](const Ideal& i) { return i.type == SurfaceType::Cone; });
    cup = facesWhere(s, [](const Ideal& i) { return i.type == SurfaceType::Sphere; });
    fairing = facesWhere(s, [](const Ideal& i) { return i.type == SurfaceType::Freeform; });
  }
};

void writeForms(PmiWriter& w, const HeronFaces& f, bool c) {
  w.tolerance({.type = T::Flatness, .magnitude = c ? 0.015 : 0.02, .faces = f.mounting});
  w.size({.faces = f.bore, .nominal = 32, .fit = "H7"});
  w.tolerance({.type = T::Perpendicularity,
               .magnitude = 0.03,
               .faces = f.bore,
               .datums = {{"A"}},
               .zone = ZoneForm::Cylindrical});
  w.tolerance({.type = T::Cylindricity, .magnitude = 0.015, .faces = f.bore});
  w.tolerance({.type = T::Straightness, .magnitude = 0.012, .faces = f.bore});
}

void writeHoles(PmiWriter& w, const HeronFaces& f, bool c) {
  w.size({.faces = f.dowel, .nominal = 8, .fit = "H8"});
  w.tolerance({.type = T::Position,
               .magnitude = 0.06,
               .faces = f.dowel,
               .datums = {{"A"}, {"B"}},
               .zone = ZoneForm::Cylindrical});
  w.size({.faces = f.hole_circle, .nominal = 11, .lower = -0.1, .upper = 0.2, .decimals = 1});
  const int upper = w.tolerance({.type = T::Position,
                                 .magnitude = 0.25,
                                 .faces = f.hole_circle,
                                 .datums = {{"A"}, {"B"}, {"C"}},
                                 .zone = ZoneForm::Cylindrical,
                                 .material = kMax});
  w.tolerance({.type = T::Position,
               .magnitude = 0.1,
               .faces = f.hole_circle,
               .datums = {{"A"}},
               .zone = ZoneForm::Cylindrical,
               .material = kMax,
               .upper_segment = upper});
  w.size({.faces = f.side_ports, .nominal = 8, .lower = -0.1, .upper = 0.1, .decimals = 1});
  w.tolerance({.type = T::Position,
               .magnitude = c ? 0.25 : 0.3,
               .faces = f.side_ports,
               .datums = {{"A"}, {"B"}, {"C"}},
               .zone = ZoneForm::Cylindrical});
  w.size({.faces = f.sensor_port, .nominal = 9, .lower = -0.1, .upper = 0.1, .decimals = 1});
  w.tolerance({.type = T::Angularity,
               .magnitude = 0.12,
               .faces = f.sensor_port,
               .datums = {{"A"}},
               .zone = ZoneForm::Cylindrical});
  w.tolerance({.type = T::Position,
               .magnitude = 0.2,
               .faces = f.sensor_port,
               .datums = {{"A"}, {"B"}, {"C"}},
               .zone = ZoneForm::Cylindrical});
}

void writeSeatAndCup(PmiWriter& w, const HeronFaces& f) {
  w.size({.name = "angle",
          .faces = f.seat,
          .nominal = radians(90),
          .lower = radians(-0.5),
          .upper = radians(0.5),
          .decimals = 1});
  w.tolerance({.type = T::CircularRunout, .magnitude = 0.05, .faces = f.seat, .datums = {{"B"}}});
  w.tolerance({.type = T::Roundness, .magnitude = 0.02, .faces = f.seat});
  w.size(
      {.name = "spherical diameter", .faces = f.cup, .nominal = 18, .lower = -0.05, .upper = 0.05});
  w.tolerance({.type = T::Position,
               .magnitude = 0.2,
               .faces = f.cup,
               .datums = {{"A"}, {"B"}, {"C"}},
               .zone = ZoneForm::Spherical});
}

void writeFlanks(PmiWriter& w, const HeronFaces& f) {
  w.size({.name = "width", .faces = f.groove, .nominal = 6, .lower = 0, .upper = 0.1});
  w.tolerance({.type = T::Position, .magnitude = 0.2, .faces = f.groove, .datums = {{"A"}}});
  w.tolerance(
      {.type = T::Parallelism, .magnitude = 0.05, .faces = f.groove_low, .datums = {{"A"}}});
  if (!f.keyway.empty()) {
    w.size({.name = "width", .faces = f.keyway, .nominal = 8, .lower = -0.03, .upper = 0.03});
    w.tolerance({.type = T::Symmetry,
                 .magnitude = 0.08,
                 .faces = f.keyway,
                 .datums = {{"A"}, {"B"}, {"C"}}});
  }
  w.tolerance(
      {.type = T::Perpendicularity, .magnitude = 0.04, .faces = f.flank, .datums = {{"A"}}});
  w.angle(f.flank, f.mounting, radians(90), radians(-0.2), radians(0.2));
  w.tolerance({.type = T::SurfaceProfile,
               .magnitude = 0.12,
               .faces = f.fairing,
               .datums = {{"A"}, {"B"}, {"C"}},
               .unequal = 0.02});
}

void writeBoss(PmiWriter& w, const HeronFaces& f, bool c) {
  w.size({.faces = f.boss, .nominal = 60, .lower = -0.1, .upper = 0.1, .decimals = 1});
  w.tolerance({.type = T::TotalRunout, .magnitude = 0.08, .faces = f.boss, .datums = {{"B"}}});
  w.tolerance({.type = T::Coaxiality,
               .magnitude = 0.05,
               .faces = f.boss,
               .datums = {{"B"}},
               .zone = ZoneForm::Cylindrical});
  w.tolerance({.type = T::Parallelism, .magnitude = 0.05, .faces = f.top, .datums = {{"A"}}});
  w.distance(f.mounting, f.top, 40, c ? -0.08 : -0.1, c ? 0.08 : 0.1);
  w.size({.faces = f.rim, .nominal = 120, .lower = -0.2, .upper = 0.2, .decimals = 1});
  w.tolerance({.type = T::CircularRunout, .magnitude = 0.1, .faces = f.rim, .datums = {{"B"}}});
}

void writeVent(PmiWriter& w, const HeronFaces& f) {
  w.size({.faces = f.vent, .nominal = 7, .lower = -0.05, .upper = 0.05});
  w.tolerance({.type = T::Position,
               .magnitude = 0.1,
               .faces = f.vent,
               .datums = {{"A"}, {"B"}, {"C"}},
               .zone = ZoneForm::Cylindrical});
}

} // namespace

Result<std::string> heronPlainStep(HeronRevision revision) {
  auto writer = PmiWriter::begin(heronShape(revision), "TW-40 Heron");
  if (!writer) return pass(writer.error());
  return writer->text();
}

Result<std::string> heronStep(const std::string& unit, HeronRevision revision) {
  const bool c = revision == HeronRevision::C;
  const TopoDS_Shape shape = heronShape(revision);
  auto writer = PmiWriter::begin(shape, "TW-40 Heron", unit);
  if (!writer) return pass(writer.error());
  const HeronFaces faces(shape);
  writer->datum("A", faces.mounting);
  writer->datum("B", faces.bore);
  writer->datum("C", faces.dowel);
  writeForms(*writer, faces, c);
  writeHoles(*writer, faces, c);
  writeSeatAndCup(*writer, faces);
  writeFlanks(*writer, faces);
  writeBoss(*writer, faces, c);
  if (c) writeVent(*writer, faces);
  return writer->text();
}

} // namespace alder::demo
