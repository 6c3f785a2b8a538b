#include "maker.h"

#include <BRepPrimAPI_MakeCone.hxx>
#include <BRepPrimAPI_MakeSphere.hxx>

namespace alder::test {
namespace {
const Vec3 z = Vec3::UnitZ();
} // namespace

// Holes on a circle between bore and rim.
void PartMaker::circle(double outer, double bore, double height) {
  const int count = 3 + pick(5);
  const double radius = (outer + bore) / 4;
  const double d =
      std::round(10 * std::min({0.5 * (outer - bore) / 2, 0.5 * kFullTurn * radius / count, 25.})) /
      10;
  if (d < 4) return;
  const double first = random_.uniform(0, 1);
  for (int k = 0; k < count; ++k) {
    const double a = first + kFullTurn * k / count;
    const Vec3 at(radius * std::cos(a), radius * std::sin(a), 0);
    cut(rod(at - z, z, d, height + 2));
    made_.push_back({Form::Hole, at + height * z, z, d, height, "", Vec3::Zero(), 1});
  }
  groups_ = 1;
}

// One more thing in a free rectangle of some place.
void PartMaker::furnish(std::size_t which) {
  Place& p = places_[which];
  const bool wide = p.width >= p.height;
  const double length = wide ? p.width : p.height, other = wide ? p.height : p.width;
  const double room = std::min({other, 0.45 * length, 60.});
  if (room < 14) return;
  // The strip that is used up is cut off the place.
  const double strip = room;
  Vec3 middle = p.corner +
                (wide ? strip / 2 * p.u + p.height / 2 * p.v : p.width / 2 * p.u + strip / 2 * p.v);
  middle += (wide ? p.v : p.u) * between(-0.2, 0.2) * (other - room);
  make(p, middle, room);
  p.corner += strip * (wide ? p.u : p.v);
  (wide ? p.width : p.height) -= strip;
}

void PartMaker::make(const Place& p, const Vec3& at, double room) {
  const double d = between(std::max(4.5, 0.25 * room), 0.62 * room);
  const Vec3& n = p.normal;
  Made made{Form::Hole, at, n, d, p.depth, p.datum, Vec3::Zero(), 0};
  switch (pick(7)) {
  case 0: // blind
    made.length = std::min(0.6 * p.depth, 2.5 * d);
    if (made.length < 4) return;
    cut(rod(at + n, -n, d, made.length + 1));
    break;
  case 1: // boss
    made.form = Form::Boss;
    made.length = between(8, 8 + d);
    add(rod(at - n, n, d, made.length + 1));
    made.at = at + made.length * n;
    break;
  case 2: { // cup
    made.form = Form::Cup;
    if (d / 2 > 0.7 * p.depth) return;
    cut(BRepPrimAPI_MakeSphere(gp_Pnt(at.x(), at.y(), at.z()), d / 2).Shape());
    break;
  }
  case 3: { // countersunk
    const double sunk = 0.35 * d;
    if (sunk > 0.4 * p.depth || d < 8) return;
    cut(rod(at + n, -n, 0.6 * d, p.depth + 2));
    cut(BRepPrimAPI_MakeCone(axes(at, -n), d / 2, d / 2 - 0.7 * sunk, sunk).Shape());
    made_.push_back(
        {Form::Hole, at - sunk * n, n, 0.6 * d, p.depth - sunk, p.datum, Vec3::Zero(), 0});
    made.form = Form::Cone;
    made.length = sunk;
    break;
  }
  case 4: { // slot, blind, its long sides along u
    made.form = Form::Slot;
    made.across = p.v;
    made.diameter = std::min(d, 0.5 * room);
    made.length = std::min(0.5 * p.depth, 15.);
    if (made.diameter < 5 || made.length < 4) return;
    const Vec3 a = 0.42 * room * p.u, b = made.diameter / 2 * p.v;
    const Vec3 one = at - a - b - made.length * n, two = at + a + b + n;
    cut(box(one.cwiseMin(two), one.cwiseMax(two)));
    if (std::abs(p.u.x()) + std::abs(p.u.y()) + std::abs(p.u.z()) > 1.0001) return; // not square
    break;
  }
  default:
    cut(rod(at + n, -n, d, p.depth + 2));
  }
  made_.push_back(made);
}

void PartMaker::deepBore(const Vec3& at, const Vec3& normal, double diameter, double depth) {
  const bool through = chance(0.5);
  const double length = through ? depth : std::min(depth - 6, diameter * between(6, 15));
  if (length < 6 * diameter) return;
  cut(rod(at + normal, -normal, diameter, length + (through ? 2 : 1)));
  made_.push_back({Form::Hole, at, normal, diameter, length, "A", Vec3::Zero(), 0});
}

} // namespace alder::test
