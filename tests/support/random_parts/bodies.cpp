#include "maker.h"

#include <BRepBuilderAPI_Transform.hxx>
#include <TopoDS_Shape.hxx>
#include <gp_Ax1.hxx>

namespace alder::test {
namespace {
const Vec3 x = Vec3::UnitX(), y = Vec3::UnitY(), z = Vec3::UnitZ();
} // namespace

void PartMaker::turned(std::size_t family) {
  const double d = between(40, 260), height = family == 1 ? between(14, 50) : between(30, 150);
  size_ = Vec3(d, d, height);
  shape_ = rod(Vec3::Zero(), z, d, height);
  const double bore = between(0.15 * d, 0.3 * d);
  cut(rod(-z, z, bore, height + 2));
  made_.push_back({Form::Hole, height * z, z, bore, height, "", Vec3::Zero(), 0});
  made_.push_back({Form::Boss, height * z, z, d, height, "", Vec3::Zero(), 0});
  axis_datum_ = 0;
  plane("A", z, height);
  circle(d, bore, height);
}

void PartMaker::inclined(double l, double w, double h) {
  shape_ = box(Vec3::Zero(), size_);
  const double angle = random_.uniform(0.2, 0.7), drop = std::min(0.5 * h, l * std::tan(angle));
  const double run = drop / std::tan(angle);
  gp_Trsf turn;
  turn.SetRotation(gp_Ax1(gp_Pnt(l - run, 0, h), gp_Dir(0, 1, 0)), angle);
  cut(BRepBuilderAPI_Transform(box(Vec3(l - run, -1, h), Vec3(l + run + h, w + 1, 3 * h)), turn,
                               true)
          .Shape());
  const Vec3 u(std::cos(angle), 0, -std::sin(angle));
  place(Vec3(l - run, 0, h), u, run / std::cos(angle), y, w, 0.5 * h);
  const Vec3 normal = places_.back().normal;
  inclined_.push_back({"", normal, normal.dot(places_.back().corner)});
  place(Vec3(0, 0, h), x, l - run, y, w, h, "A");
  place(Vec3(0, 0, 0), x, l, z, h - drop, w, "B");
  plane("A", z, h);
  plane("B", -y, 0);
  plane("C", -x, 0);
}

void PartMaker::channel(double l, double w) {
  const double t = between(8, 18), wall = between(30, 120);
  size_ = Vec3(l, w, wall);
  shape_ = box(Vec3::Zero(), Vec3(l, w, t));
  add(box(Vec3::Zero(), Vec3(l, t, wall)));
  add(box(Vec3(0, w - t, 0), Vec3(l, w, wall)));
  place(Vec3(0, t + 6, t), x, l, y, std::max(2., w - 2 * t - 12), t);
  place(Vec3(0, 0, t + 4), x, l, z, wall - t - 4, t, "B"); // outside of the wall: normal -y
  plane("A", -z, 0);
  plane("B", -y, 0);
  plane("C", -x, 0);
}

// Furnished from above and from below, and on one side.
void PartMaker::bothSides(double l, double w, double h) {
  size_ = Vec3(l, w, h);
  shape_ = box(Vec3::Zero(), size_);
  place(Vec3(0, 0, h), x, l, y, w, 0.4 * h, "A");
  place(Vec3(0, 0, 0), y, w, x, l, 0.4 * h);
  sides(l, w, 0, h, 0.15 * std::min(l, w));
  plane("A", z, h);
  plane("B", -y, 0);
  plane("C", -x, 0);
}

void PartMaker::sides(double l, double w, double low, double high, double depth) {
  const double h = high - low;
  place(Vec3(0, 0, low), x, l, z, h, depth, "B");
  place(Vec3(l, w, low), -x, l, z, h, depth);
  place(Vec3(0, w, low), -y, w, z, h, depth, "C");
  place(Vec3(l, 0, low), y, w, z, h, depth);
}

// A shell that is open below, with a floor that is furnished from both sides.
void PartMaker::housing(double l, double w) {
  const double wall = between(7, 14), high = between(25, 70), floor = between(14, 24);
  size_ = Vec3(l, w, high + floor);
  shape_ = box(Vec3::Zero(), size_);
  cut(box(Vec3(wall, wall, -1), Vec3(l - wall, w - wall, high)));
  place(Vec3(0, 0, size_.z()), x, l, y, w, 0.4 * floor, "A");
  place(Vec3(wall + 8, wall + 8, high), y, w - 2 * wall - 16, x, l - 2 * wall - 16, 0.4 * floor);
  sides(l, w, 0, high + floor, 0.7 * wall);
  plane("A", z, size_.z());
  plane("B", -y, 0);
  plane("C", -x, 0);
}

// A body with its datum planes, or a datum axis.
void PartMaker::body(std::size_t family) {
  const double l = between(40, chance(0.25) ? 480 : 220), w = between(35, std::min(l, 300.)),
               h = between(18, std::max(20., std::min(w, 140.)));
  size_ = Vec3(l, w, h);
  switch (family) {
  case 1:
  case 6:
    return turned(family);
  case 2: {
    const double t = between(10, 0.3 * h + 10), wall = between(t + 25, t + 25 + 0.8 * l);
    size_ = Vec3(l, w, t);
    shape_ = box(Vec3::Zero(), Vec3(l, w, t));
    add(box(Vec3::Zero(), Vec3(t, w, wall)));
    place(Vec3(t + 5, 0, t), x, l - t - 5, y, w, t);
    place(Vec3(0, w, t + 5), -y, w, z, wall - t - 5, t, "B"); // the wall, from outside
    plane("A", -z, 0);
    plane("B", -x, 0);
    plane("C", -y, 0);
    return;
  }
  case 3:
    return channel(l, w);
  case 4:
    return inclined(l, w, h);
  case 5: {
    size_.z() = between(8, 20);
    shape_ = box(Vec3::Zero(), size_);
    const Vec3 in = 0.28 * size_;
    const double depth = chance(0.5) ? size_.z() + 1 : 0.5 * size_.z();
    cut(box(Vec3(in.x(), in.y(), size_.z() - depth),
            Vec3(size_.x() - in.x(), size_.y() - in.y(), size_.z() + 1)));
    place(Vec3(0, 0, size_.z()), x, size_.x(), y, in.y(), size_.z(), "A");
    place(Vec3(0, size_.y() - in.y(), size_.z()), x, size_.x(), y, in.y(), size_.z(), "A");
    plane("A", z, size_.z());
    plane("B", -y, 0);
    plane("C", -x, 0);
    return;
  }
  case 8:
    return bothSides(l, w, std::max(h, 30.0));
  case 9:
    return housing(std::max(l, 80.0), std::max(w, 70.0));
  case 7: {
    shape_ = box(Vec3::Zero(), size_);
    const double step = between(0.3 * l, 0.6 * l), low = between(0.4 * h, 0.7 * h);
    cut(box(Vec3(step, -1, low), Vec3(l + 1, w + 1, h + 1)));
    place(Vec3(0, 0, h), x, step, y, w, h);
    place(Vec3(step + 4, 0, low), x, l - step - 4, y, w, low);
    place(Vec3(0, 0, 0), x, l, z, low, w, "B");
    plane("A", -z, 0);
    plane("B", -y, 0);
    plane("C", -x, 0);
    return;
  }
  default:
    if (family >= 10) return awkwardBody(family);
    shape_ = box(Vec3::Zero(), size_);
    place(Vec3(0, 0, h), x, l, y, w, h, "A");
    place(Vec3(0, 0, 0), x, l, z, h, w, "B");
    place(Vec3(l, 0, 0), y, w, z, h, l);
    plane("A", z, h);
    plane("B", -y, 0);
    plane("C", -x, 0);
  }
}

} // namespace alder::test
