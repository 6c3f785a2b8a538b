#include "drafting/heron_drawing.h"

#include "base/units.h"
#include "drafting/annotation.h"
#include "drafting/sheet_frame.h"
#include "drafting/view.h"
#include "heron.h"
#include <cmath>
#include <numbers>

namespace alder::demo {
namespace {

constexpr double kWidth = 420, kHeight = 297; // A3
constexpr double kRight = 0, kUp = std::numbers::pi / 2;

TitleBlock title(const std::string& sheet, bool c) {
  return {"TW-40",
          "Heron gauge head",
          "Saltmarsh Instruments",
          "CuSn8 bronze",
          "1:1",
          sheet,
          "2026-09-14",
          "M. Tarn",
          "L. Oake",
          c ? "C" : "B"};
}

// Seen from -Y, cut through the middle: the bore, the seat, the groove and both faces.
void frontSection(Paper& paper, const TopoDS_Shape& shape, bool c) {
  Annotation a(paper);
  View view({Vec3::UnitX(), Vec3::UnitZ(), {140, 190}, 1, 0.0, false});
  view.draw(paper, shape);
  const auto on = [&](double x, double z) { return view.on({x, 0, z}); };
  paper.line(on(0, -5), on(0, 66), Pen::Centre);
  a.leader(on(54, 20), on(72, 34), {{}, {{"flatness", c ? "0.015" : "0.02", {}, false}}, "A"});
  a.distance(on(-16, 0), on(16, 0), kRight, on(0, -12),
             CalloutText{DimensionText{"ø32 H7"},
                         {{"perpendicularity", "ø0.03", {"A"}},
                          {"cylindricity", "0.015", {}},
                          {"straightness", "0.012", {}}},
                         "B"},
             on(66, 0).x());
  a.leader(on(-27, 60), on(-74, 72), {{}, {{"parallelism", "0.05", {"A"}}}, ""});
  a.distance(on(-60, 20), on(-30, 60), kUp, on(-82, 40), DimensionText{c ? "40 ±0.08" : "40 ±0.1"});
  a.angle(on(0, 38), 40, radians(45), radians(135), {"90° ±0.5°"});
  a.leader(on(18.6, 56.6), on(50, 86),
           {{}, {{"circular_runout", "0.05", {"B"}}, {"roundness", "0.02", {}}}, ""});
  a.distance(on(26, 36), on(26, 42), kUp, on(38, 39),
             CalloutText{DimensionText{"6", "+0.1", "0"}, {{"position", "0.2", {"A"}}}, ""},
             on(46, 0).x());
  a.leader(on(23, 36), on(90, 44), {{}, {{"parallelism", "0.05", {"A"}}}, ""});
  a.leader(on(26, 50), on(66, 72), {{}, {{"perpendicularity", "0.04", {"A"}}}, ""});
  a.angle(on(26, 20), 10, 0, radians(90), {"90° ±0.2°"});
  a.leader(on(-34 + 1.6 * std::sin((34 - 20) / 14.0), 34), on(-112, 86),
           {{}, {{"surface_profile", "0.12 UZ+0.02", {"A", "B", "C"}}}, ""});
  a.leader(on(-47, 14), on(-112, -6),
           {DimensionText{"Sø18 ±0.05"}, {{"position", "Sø0.2", {"A", "B", "C"}}}, ""});
  paper.text(on(-10, -28), "A-A", 7);
}

void topView(Paper& paper, const TopoDS_Shape& shape, bool c) {
  Annotation a(paper);
  View view({Vec3::UnitX(), Vec3::UnitY(), {140, 82}, 1, {}, false});
  view.draw(paper, shape);
  const auto on = [&](double x, double y) { return view.on({x, y, 0}); };
  paper.line(on(-66, 0), on(66, 0), Pen::Centre);
  paper.line(on(0, -66), on(0, 66), Pen::Centre);
  paper.circle(on(0, 0), 46, Pen::Centre);
  const auto polar = [&](double r, double degrees) {
    return on(r * std::cos(radians(degrees)), r * std::sin(radians(degrees)));
  };
  a.leader(polar(46, 30) + 5.5 * Vec2(0.8, 0.6), on(100, 50),
           {DimensionText{"6x ø11", "+0.2", "-0.1"},
            {{"position", "ø0.25 (M)", {"A", "B", "C"}}, {"position", "ø0.1 (M)", {"A"}, true}},
            ""});
  a.leader(on(46 + 4 * 0.8, 4 * 0.6), on(100, 14),
           {DimensionText{"ø8 H8"}, {{"position", "ø0.06", {"A", "B"}}}, "C"});
  a.leader(polar(60, -25), on(74, -40),
           {DimensionText{"ø120 ±0.2"}, {{"circular_runout", "0.1", {"B"}}}, ""});
  a.leader(polar(30, 250), on(-112, -44),
           {DimensionText{"ø60 ±0.1"},
            {{"total_runout", "0.08", {"B"}}, {"coaxiality", "ø0.05", {"B"}}},
            ""});
  if (c)
    a.leader(polar(50, 105) + 3.5 * Vec2(-0.7, 0.7), on(-112, 72),
             {DimensionText{"ø7 ±0.05"}, {{"position", "ø0.1", {"A", "B", "C"}}}, ""});
  else
    a.distance(on(-4, 27), on(4, 27), kRight, on(0, 70),
               CalloutText{DimensionText{"8 ±0.03"}, {{"symmetry", "0.08", {"A", "B", "C"}}}, ""},
               on(14, 0).x());
  a.leader(polar(46, 135), on(-112, 48), {DimensionText{"ø92", "", "", true}, {}, ""});
  a.distance(on(0, 0), on(46, 0), kRight, on(0, -65), DimensionText{"46", "", "", true});
  paper.line(on(-72, 0), on(-68, 0), Pen::Thick);
  paper.text(on(-74, 2), "A", 5);
}

// Seen from +X, cut through the middle: the sensor port.
void portSection(Paper& paper, const TopoDS_Shape& shape) {
  Annotation a(paper);
  View view({Vec3::UnitY(), Vec3::UnitZ(), {130, 195}, 1, 0.0, false});
  view.draw(paper, shape);
  const auto on = [&](double y, double z) { return view.on({0, y, z}); };
  const double tilt = radians(35);
  const Vec2 along(-std::cos(tilt), std::sin(tilt)), across(std::sin(tilt), std::cos(tilt));
  const Vec2 axis = on(-30 + 26 * std::cos(tilt), 44 - 26 * std::sin(tilt));
  paper.line(axis + 4 * along, axis + 44 * along, Pen::Centre);
  a.leader(axis + 24 * along + 4.5 * across, on(-98, 84),
           {DimensionText{"ø9 ±0.1"},
            {{"angularity", "ø0.12", {"A"}}, {"position", "ø0.2", {"A", "B", "C"}}},
            ""});
  paper.line(axis + 26 * along, axis + 26 * along - Vec2(16, 0));
  a.angle(axis + 26 * along, 13, radians(145), radians(180), {"35°", "", "", true});
  paper.text(on(-10, -14), "B-B", 7);
}

// Seen from above, cut through the middle of the flange: the side ports.
void flangeSection(Paper& paper, const TopoDS_Shape& shape, bool c) {
  Annotation a(paper);
  View view({Vec3::UnitX(), Vec3::UnitY(), {290, 180}, 1, 10.0, false});
  view.draw(paper, shape);
  const auto on = [&](double x, double y) { return view.on({x, y, 0}); };
  const Vec2 out(std::cos(radians(120)), std::sin(radians(120))), across(out.y(), -out.x());
  const auto at = [&](double r, double off) {
    return on(r * out.x() + off * across.x(), r * out.y() + off * across.y());
  };
  paper.line(at(42, 0), at(66, 0), Pen::Centre);
  a.leader(
      at(54, 4), on(-6, 92),
      {DimensionText{"2x ø8 ±0.1"}, {{"position", c ? "ø0.25" : "ø0.3", {"A", "B", "C"}}}, ""});
  a.angle(on(0, 0), 76, 0, radians(120), {"120°", "", "", true});
  paper.text(on(-10, -74), "C-C", 7);
}

} // namespace

Result<std::string> heronDrawing(HeronRevision revision) {
  const bool c = revision == HeronRevision::C;
  std::string out;
  auto paper = Paper::open(out, kWidth, kHeight);
  if (!paper) return pass(paper.error());
  const TopoDS_Shape shape = heronShape(revision);
  drawFrame(**paper, kWidth, kHeight, title("1/2", c),
            {"All dimensions in mm", "Tolerancing ISO 8015", "General tolerances ISO 2768-mK",
             "Edges ISO 13715, unless stated 0.2 to 0.5"});
  frontSection(**paper, shape, c);
  topView(**paper, shape, c);
  (*paper)->nextSheet();
  drawFrame(**paper, kWidth, kHeight, title("2/2", c), {});
  portSection(**paper, shape);
  flangeSection(**paper, shape, c);
  (*paper)->nextSheet();
  (*paper)->finish();
  return out;
}

} // namespace alder::demo
