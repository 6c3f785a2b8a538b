#include "large_part.h"

#include "random_parts/maker.h"
#include <BRepAlgoAPI_Cut.hxx>
#include <Standard_Failure.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_ListOfShape.hxx>
#include <TopoDS.hxx>
#include <cmath>

namespace alder::test {
namespace {

constexpr double kPitch = 12, kThick = 20, kWide = 6, kNarrow = 4.5, kStep = 8; // mm

Vec3 placeOf(int k, int columns) {
  return {(k % columns + 1) * kPitch, (k / columns + 1) * kPitch,
          0}; // NOLINT(bugprone-integer-division)
}

Result<RandomPart> made(int holes) {
  const int columns = static_cast<int>(std::ceil(std::sqrt(1.5 * holes))),
            rows = (holes + columns - 1) / columns;
  const TopoDS_Shape plate =
      box(Vec3::Zero(), Vec3((columns + 1) * kPitch, (rows + 1) * kPitch, kThick));
  TopTools_ListOfShape body, tools;
  body.Append(plate);
  for (int k = 0; k < holes; ++k) {
    const Vec3 at = placeOf(k, columns);
    tools.Append(rod(at - Vec3::UnitZ(), Vec3::UnitZ(), kNarrow, kThick + 2));
    tools.Append(rod(at + (kThick - kStep) * Vec3::UnitZ(), Vec3::UnitZ(), kWide, kStep + 1));
  }
  BRepAlgoAPI_Cut cut;
  cut.SetArguments(body);
  cut.SetTools(tools);
  cut.SetRunParallel(true);
  cut.Build();
  const TopoDS_Shape shape = cut.Shape();
  auto writer = demo::PmiWriter::begin(shape, "die plate", "MM");
  if (!writer) return pass(writer.error());
  FaceShapes top, front, left;
  std::vector<FaceShapes> wide(static_cast<std::size_t>(holes));
  for (TopExp_Explorer f(shape, TopAbs_FACE); f.More(); f.Next()) {
    const TopoDS_Face face = TopoDS::Face(f.Current());
    const Ideal i = idealOf(face);
    if (i.type == SurfaceType::Plane && i.direction.z() > 0.9 && i.point.z() > kThick - 0.1)
      top.push_back(face);
    if (i.type == SurfaceType::Plane && i.direction.y() < -0.9) front.push_back(face);
    if (i.type == SurfaceType::Plane && i.direction.x() < -0.9) left.push_back(face);
    if (i.type != SurfaceType::Cylinder || std::abs(i.diameter - kWide) > 1e-6) continue;
    const int column = static_cast<int>(std::lround(i.point.x() / kPitch)) - 1,
              row = static_cast<int>(std::lround(i.point.y() / kPitch)) - 1;
    wide[static_cast<std::size_t>(row * columns + column)].push_back(face);
  }
  writer->datum("A", top);
  writer->datum("B", front);
  writer->datum("C", left);
  RandomPart part{"die plate", "", 0};
  for (const FaceShapes& faces : wide) {
    writer->size({.faces = faces, .nominal = kWide, .lower = 0, .upper = 0.05});
    writer->tolerance({.type = ToleranceType::Position,
                       .magnitude = 0.1,
                       .faces = faces,
                       .datums = {{"A"}, {"B"}, {"C"}},
                       .zone = ZoneForm::Cylindrical});
    part.requirements += 2;
  }
  part.step = writer->text();
  return part;
}

} // namespace

Result<RandomPart> largePart(int holes) {
  try {
    return made(holes);
  } catch (const Standard_Failure& e) {
    return fail("large part: {}", e.GetMessageString());
  }
}

} // namespace alder::test
