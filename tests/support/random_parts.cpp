#include "random_parts.h"

#include "random_parts/maker.h"
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepAlgoAPI_Fuse.hxx>
#include <BRepBuilderAPI_Transform.hxx>
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <Standard_Failure.hxx>
#include <array>

namespace alder::test {

gp_Ax2 axes(const Vec3& p, const Vec3& d) {
  return {gp_Pnt(p.x(), p.y(), p.z()), gp_Dir(d.x(), d.y(), d.z())};
}
TopoDS_Shape rod(const Vec3& from, const Vec3& direction, double diameter, double length) {
  return BRepPrimAPI_MakeCylinder(axes(from, direction), diameter / 2, length).Shape();
}
TopoDS_Shape box(const Vec3& low, const Vec3& high) {
  return BRepPrimAPI_MakeBox(gp_Pnt(low.x(), low.y(), low.z()),
                             gp_Pnt(high.x(), high.y(), high.z()))
      .Shape();
}

PartMaker::PartMaker(unsigned seed)
    : random_(seed * 7919ull + 13) {}

double PartMaker::between(double low, double high) {
  return std::round(10 * random_.uniform(low, high)) / 10;
}

double PartMaker::small(double low, double high) {
  return std::round(100 * random_.uniform(low, high)) / 100;
}

gp_Trsf PartMaker::anyMotion() {
  // One by one: in which order arguments are evaluated is the compiler's choice.
  const double angle = random_.uniform(-3, 3), k = random_.uniform(0.1, 1),
               j = random_.uniform(-1, 1), i = random_.uniform(-1, 1);
  const double dz = random_.uniform(-4000, 4000), dy = random_.uniform(-4000, 4000),
               dx = random_.uniform(-4000, 4000);
  gp_Trsf turn, move;
  turn.SetRotation(gp_Ax1(gp_Pnt(0, 0, 0), gp_Dir(i, j, k)), angle);
  move.SetTranslation(gp_Vec(dx, dy, dz));
  return move * turn;
}

void PartMaker::add(const TopoDS_Shape& s) {
  shape_ = BRepAlgoAPI_Fuse(shape_, s).Shape();
}
void PartMaker::cut(const TopoDS_Shape& s) {
  shape_ = BRepAlgoAPI_Cut(shape_, s).Shape();
}
void PartMaker::place(const Vec3& corner, const Vec3& u, double width, const Vec3& v, double height,
                      double depth, const std::string& datum) {
  places_.push_back({corner, u, v, u.cross(v), width, height, depth, datum});
}

Result<RandomPart> PartMaker::make(unsigned seed) {
  static constexpr std::array<const char*, 16> kNames{
      "block", "disc",    "bracket", "channel", "wedge",    "plate", "tube", "steps",
      "both",  "housing", "faired",  "thin",    "undercut", "deep",  "long", "tapered"};
  static constexpr std::array<const char*, 3> kUnits{"MM", "INCH", "M"};
  const bool two_sided = seed >= kTwoSided && seed < kAwkward;
  const int family = seed < kTwoSided ? pick(8) : two_sided ? 8 + pick(2) : 10 + pick(6);
  const auto unit = static_cast<std::size_t>(pick(3));
  body(static_cast<std::size_t>(family));
  const int wanted = two_sided ? 2 + pick(6) : (seed < kTwoSided ? 4 : 2) + pick(9);
  // From all sides: on whichever it stands, something is below.
  if (two_sided)
    for (std::size_t k = 0; k < places_.size(); ++k)
      furnish(k);
  for (int k = 0; k < wanted && !places_.empty(); ++k)
    furnish(static_cast<std::size_t>(pick(static_cast<int>(places_.size()))));
  const gp_Trsf motion = seed % 2 ? anyMotion() : gp_Trsf();
  shape_ = BRepBuilderAPI_Transform(shape_, motion, true).Shape();
  back_ = motion.Inverted();
  RandomPart part;
  part.name =
      std::to_string(seed) + "-" + kNames[static_cast<std::size_t>(family)] + "-" + kUnits[unit];
  auto writer = demo::PmiWriter::begin(shape_, part.name, kUnits[unit]);
  if (!writer) return pass(writer.error());
  writer_ = &*writer;
  demand();
  part.step = writer->text();
  part.requirements = requirements_;
  return part;
}

Result<RandomPart> randomPart(unsigned seed) {
  try {
    return PartMaker(seed).make(seed);
  } catch (const Standard_Failure& e) {
    return fail("seed {}: {}", seed, e.GetMessageString());
  }
}

} // namespace alder::test
