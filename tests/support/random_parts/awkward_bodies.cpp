#include "maker.h"

#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_Transform.hxx>
#include <BRepPrimAPI_MakeCone.hxx>
#include <BRepPrimAPI_MakePrism.hxx>
#include <GeomAPI_PointsToBSplineSurface.hxx>
#include <Geom_BSplineSurface.hxx>
#include <TColgp_Array2OfPnt.hxx>
#include <gp_Ax3.hxx>

namespace alder::test {
namespace {
const Vec3 x = Vec3::UnitX(), y = Vec3::UnitY(), z = Vec3::UnitZ();

// Everything above a wavy surface: heights are given at a grid of 6 by 6 over the rectangle.
TopoDS_Shape above(const Vec3& low, const Vec3& high, const std::function<double(int, int)>& height,
                   double reach) {
  constexpr int kGrid = 6;
  TColgp_Array2OfPnt points(1, kGrid, 1, kGrid);
  for (int i = 0; i < kGrid; ++i)
    for (int j = 0; j < kGrid; ++j) {
      const double u = i / (kGrid - 1.0), v = j / (kGrid - 1.0);
      points.SetValue(i + 1, j + 1,
                      gp_Pnt(low.x() + u * (high.x() - low.x()), low.y() + v * (high.y() - low.y()),
                             height(i, j)));
    }
  const Handle(Geom_BSplineSurface) surface = GeomAPI_PointsToBSplineSurface(points).Surface();
  return BRepPrimAPI_MakePrism(BRepBuilderAPI_MakeFace(surface, 1e-6).Face(), gp_Vec(0, 0, reach))
      .Shape();
}

} // namespace

void PartMaker::awkwardBody(std::size_t family) {
  const double l = between(60, 220), w = between(50, std::min(l, 180.)),
               h = between(30, std::max(32., std::min(w, 100.)));
  size_ = Vec3(l, w, h);
  switch (family) {
  case 10:
    return faired(l, w, h);
  case 11:
    return thin(l, w);
  case 12:
    return chance(0.5) ? grooved() : teeSlot(l, w, h);
  case 13:
    return deep(l, w);
  case 14:
    return longer();
  default:
    return tapered();
  }
}

// A block whose far half is faired down.
void PartMaker::faired(double l, double w, double h) {
  shape_ = box(Vec3::Zero(), size_);
  const double from = between(0.4 * l, 0.6 * l), drop = between(0.15 * h, 0.4 * h);
  const double wave = random_.uniform(0, 0.06) * h, phase = random_.uniform(0, kFullTurn);
  cut(above(
      Vec3(from, -0.1 * w, 0), Vec3(1.1 * l, 1.1 * w, 0),
      [&](int i, int j) {
        return h - 0.04 * h - drop * i * i / 25. - wave * (1 + std::sin(phase + 0.9 * j + 0.4 * i));
      },
      2 * h));
  freeform_ = true;
  place(Vec3(0, 0, h), x, from, y, w, h, "A");
  place(Vec3(0, 0, 0), x, l, z, 0.5 * h, w, "B");
  if (chance(0.4)) place(Vec3(0, 0, 0), y, w, x, l, 0.3 * h);
  plane("A", z, h);
  plane("B", -y, 0);
  plane("C", -x, 0);
}

// A box that is open above, with walls of 1.2 to 3 mm.
void PartMaker::thin(double l, double w) {
  const double wall = between(1.2, 3), floor = between(3, 7), high = between(20, 80);
  size_ = Vec3(l, w, floor + high);
  shape_ = box(Vec3::Zero(), size_);
  cut(box(Vec3(wall, wall, floor), Vec3(l - wall, w - wall, size_.z() + 1)));
  const double in = wall + 10;
  place(Vec3(in, in, floor), x, l - 2 * in, y, w - 2 * in, floor, "A");
  place(Vec3(0, 0, floor + 8), x, l, z, high - 8, wall, "B");
  place(Vec3(l, 0, floor + 8), y, w, z, high - 8, wall);
  walls_.push_back({-y, 0, -wall});
  walls_.push_back({-x, 0, -wall});
  plane("A", z, floor);
  plane("B", -y, 0);
  plane("C", -x, 0);
}

// A turned part with a groove outside and a recess in its bore.
void PartMaker::grooved() {
  const double d = between(50, 160), height = between(40, 110), bore = between(0.3 * d, 0.55 * d);
  size_ = Vec3(d, d, height);
  shape_ = rod(Vec3::Zero(), z, d, height);
  cut(rod(-z, z, bore, height + 2));
  const double width = between(5, 0.25 * height), depth = between(3, 0.12 * d),
               at = between(0.4 * height, 0.6 * height);
  TopoDS_Shape ring = rod((at - width / 2) * z, z, 1.2 * d, width);
  const TopoDS_Shape kept = shape_;
  shape_ = ring;
  cut(rod((at - width) * z, z, d - 2 * depth, 2 * width));
  ring = shape_, shape_ = kept;
  cut(ring);
  const double recess = between(bore + 3, bore + 0.4 * (d - 2 * depth - bore)),
               long_ = between(6, 0.3 * height), low = between(5, 0.3 * height);
  const bool recessed = recess < d - 2 * depth - 4;
  if (recessed) cut(rod(low * z, z, recess, long_));
  // The bore above the recess is the datum: what is below is on the same axis.
  const double bore_from = recessed ? low + long_ : 0;
  made_.push_back({Form::Hole, height * z, z, bore, height - bore_from, "", Vec3::Zero(), 0});
  axis_datum_ = 0;
  made_.push_back({Form::Boss, height * z, z, d, height, "", Vec3::Zero(), 0});
  made_.push_back({Form::Boss, at * z, z, d - 2 * depth, width, "", Vec3::Zero(), 0});
  made_.push_back({Form::Slot, at * z, x, width, depth, "", z, 0});
  if (recessed) made_.push_back({Form::Hole, low * z, z, recess, long_, "", Vec3::Zero(), 0});
  plane("A", z, height);
}

// A block with a slot that is wider at its bottom.
void PartMaker::teeSlot(double l, double w, double h) {
  shape_ = box(Vec3::Zero(), size_);
  const double narrow = between(7, std::min(18., 0.25 * w)), wide = narrow + between(6, 14),
               neck = between(6, 0.3 * h), foot = between(5, 0.25 * h),
               at = between(0.6 * w, 0.7 * w);
  const auto channel = [&](double width, double from, double to) {
    cut(box(Vec3(-1, at - width / 2, from), Vec3(l + 1, at + width / 2, to)));
    made_.push_back({Form::Slot, Vec3(l / 2, at, to), z, width, to - from, "", y, 0});
  };
  channel(narrow, h - neck, h);
  channel(wide, h - neck - foot, h - neck);
  place(Vec3(0, 0, h), x, l, y, at - wide / 2 - 4, h, "A");
  place(Vec3(0, 0, 0), x, l, z, h, 0.3 * w, "B");
  plane("A", z, h);
  plane("B", -y, 0);
  plane("C", -x, 0);
}

// A block with bores of 6 to 15 times their diameter.
void PartMaker::deep(double l, double w) {
  const double h = between(60, 150);
  size_ = Vec3(l, w, h);
  shape_ = box(Vec3::Zero(), size_);
  const int count = 2 + pick(4);
  const double pitch = l / (count + 1);
  for (int k = 0; k < count; ++k) {
    const double d = between(4.5, std::min(14., 0.4 * pitch));
    deepBore(Vec3((k + 1) * pitch, between(0.3 * w, 0.4 * w), h), z, d, h);
  }
  place(Vec3(0, 0.6 * w, h), x, l, y, 0.4 * w, 0.3 * h, "A");
  place(Vec3(0, 0, 0), x, l, z, h, 0.15 * w, "B");
  plane("A", z, h);
  plane("B", -y, 0);
  plane("C", -x, 0);
}

// A beam that is longer than the machine can travel.
void PartMaker::longer() {
  const double l = between(1230, 1700), w = between(60, 180), h = between(30, 90);
  size_ = Vec3(l, w, h);
  shape_ = box(Vec3::Zero(), size_);
  for (int k = 0; k < 4; ++k)
    place(Vec3(k * l / 4, 0, h), x, l / 4, y, w, h, "A");
  place(Vec3(0, 0, 0), x, l, z, h, 0.3 * w, "B");
  place(Vec3(l, 0, 0), y, w, z, h, 0.2 * l);
  plane("A", z, h);
  plane("B", -y, 0);
  plane("C", -x, 0);
}

// A cone with a bore, and flats milled at different angles.
void PartMaker::tapered() {
  const double d = between(60, 140), top = between(0.55 * d, 0.85 * d), height = between(35, 90),
               foot = between(10, 20);
  size_ = Vec3(d, d, foot + height);
  shape_ = rod(Vec3::Zero(), z, d, foot);
  add(BRepPrimAPI_MakeCone(axes(foot * z, z), d / 2, top / 2, height).Shape());
  const double bore = between(0.2 * top, 0.45 * top);
  cut(rod(-z, z, bore, size_.z() + 2));
  made_.push_back({Form::Hole, size_.z() * z, z, bore, size_.z(), "", Vec3::Zero(), 0});
  axis_datum_ = 0;
  made_.push_back({Form::Boss, foot * z, z, d, foot, "", Vec3::Zero(), 0});
  made_.push_back({Form::Cone, foot * z, z, d, height, "", Vec3::Zero(), 0});
  const int flats = 1 + pick(3);
  for (int k = 0; k < flats; ++k) {
    const double round_axis = kFullTurn * k / 3 + random_.uniform(0, 0.3),
                 up = random_.uniform(0.3, 1.2);
    const Vec3 out(std::cos(round_axis), std::sin(round_axis), 0);
    const Vec3 normal = std::cos(up) * out + std::sin(up) * z, u = z.cross(out);
    // Through a point that lies in the material, near the upper rim.
    const Vec3 at = (top / 2 - 0.1 * d) * out + (size_.z() - 0.12 * height) * z;
    gp_Trsf turn;
    turn.SetDisplacement(gp_Ax3(), gp_Ax3(gp_Pnt(at.x(), at.y(), at.z()),
                                          gp_Dir(normal.x(), normal.y(), normal.z()),
                                          gp_Dir(u.x(), u.y(), u.z())));
    cut(BRepBuilderAPI_Transform(box(Vec3(-d, -d, 0), Vec3(d, d, 2 * d)), turn, true).Shape());
    inclined_.push_back({"", normal, normal.dot(at)});
  }
  plane("A", z, size_.z());
}

} // namespace alder::test
