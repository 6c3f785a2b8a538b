#include "random_parts.h"

#include "base/random.h"
#include "part/recognise.h"
#include "pmi_writer.h"
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepAlgoAPI_Fuse.hxx>
#include <BRepBuilderAPI_Transform.hxx>
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepPrimAPI_MakeCone.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <BRepPrimAPI_MakeSphere.hxx>
#include <Standard_Failure.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <array>
#include <functional>

namespace alder::test {
namespace {

using demo::DatumUse;
using demo::FaceShapes;
using demo::PmiWriter;
using T = ToleranceType;
const Vec3 x = Vec3::UnitX(), y = Vec3::UnitY(), z = Vec3::UnitZ();
constexpr auto round = ZoneForm::Cylindrical;

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

// Holes and the like are drilled into flat places: a corner, two directions along it, its normal,
// and how deep the material is below.
struct Place {
  Vec3 corner, u, v, normal;
  double width = 0, height = 0, depth = 0;
  std::string datum; // letter of the plane, where it is one
};

enum class Form { Hole, Boss, Cup, Cone, Slot };
struct Made {
  Form form = Form::Hole;
  Vec3 at, direction; // on the surface of the place; out of the material
  double diameter = 0, length = 0;
  std::string datum;
  Vec3 across = Vec3::Zero(); // of a slot
  int group = 0;              // holes of one circle or row, from 1
};

class PartMaker {
 public:
  explicit PartMaker(unsigned seed)
      : random_(seed * 7919ull + 13) {}

  Result<RandomPart> make(unsigned seed) {
    static constexpr std::array<const char*, 10> kNames{"block", "disc",   "bracket", "channel",
                                                        "wedge", "plate",  "tube",    "steps",
                                                        "both",  "housing"};
    static constexpr std::array<const char*, 3> kUnits{"MM", "INCH", "M"};
    const auto family = static_cast<std::size_t>(seed < kTwoSided ? pick(8) : 8 + pick(2));
    const auto unit = static_cast<std::size_t>(pick(3));
    body(family);
    const int wanted = (seed < kTwoSided ? 4 : 2) + pick(seed < kTwoSided ? 9 : 6);
    // From all sides: on whichever it stands, something is below.
    if (seed >= kTwoSided)
      for (std::size_t k = 0; k < places_.size(); ++k)
        furnish(k);
    for (int k = 0; k < wanted && !places_.empty(); ++k)
      furnish(static_cast<std::size_t>(pick(static_cast<int>(places_.size()))));
    const gp_Trsf motion = seed % 2 ? anyMotion() : gp_Trsf();
    shape_ = BRepBuilderAPI_Transform(shape_, motion, true).Shape();
    back_ = motion.Inverted();
    RandomPart part;
    part.name = std::to_string(seed) + "-" + kNames[family] + "-" + kUnits[unit];
    auto writer = PmiWriter::begin(shape_, part.name, kUnits[unit]);
    if (!writer) return pass(writer.error());
    writer_ = &*writer;
    demand();
    part.step = writer->text();
    part.requirements = requirements_;
    return part;
  }

 private:
  int pick(int below) { return static_cast<int>(random_.uniform() * below); }
  bool chance(double share) { return random_.uniform() < share; }
  double between(double low, double high) { // to 0.1 mm
    return std::round(10 * random_.uniform(low, high)) / 10;
  }

  gp_Trsf anyMotion() {
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

  void add(const TopoDS_Shape& s) { shape_ = BRepAlgoAPI_Fuse(shape_, s).Shape(); }
  void cut(const TopoDS_Shape& s) { shape_ = BRepAlgoAPI_Cut(shape_, s).Shape(); }
  void place(const Vec3& corner, const Vec3& u, double width, const Vec3& v, double height,
             double depth, const std::string& datum = "") {
    places_.push_back({corner, u, v, u.cross(v), width, height, depth, datum});
  }
  void plane(const std::string& letter, const Vec3& normal, double offset) {
    planes_.push_back({letter, normal, offset});
  }

  void turned(std::size_t family) {
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
  void inclined(double l, double w, double h) {
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
    inclined_ = places_.back().normal;
    inclined_offset_ = inclined_.dot(places_.back().corner);
    place(Vec3(0, 0, h), x, l - run, y, w, h, "A");
    place(Vec3(0, 0, 0), x, l, z, h - drop, w, "B");
    plane("A", z, h);
    plane("B", -y, 0);
    plane("C", -x, 0);
  }
  void channel(double l, double w) {
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
  void bothSides(double l, double w, double h) {
    size_ = Vec3(l, w, h);
    shape_ = box(Vec3::Zero(), size_);
    place(Vec3(0, 0, h), x, l, y, w, 0.4 * h, "A");
    place(Vec3(0, 0, 0), y, w, x, l, 0.4 * h);
    sides(l, w, 0, h, 0.15 * std::min(l, w));
    plane("A", z, h);
    plane("B", -y, 0);
    plane("C", -x, 0);
  }
  void sides(double l, double w, double low, double high, double depth) {
    const double h = high - low;
    place(Vec3(0, 0, low), x, l, z, h, depth, "B");
    place(Vec3(l, w, low), -x, l, z, h, depth);
    place(Vec3(0, w, low), -y, w, z, h, depth, "C");
    place(Vec3(l, 0, low), y, w, z, h, depth);
  }
  // A shell that is open below, with a floor that is furnished from both sides.
  void housing(double l, double w) {
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
  void body(std::size_t family) {
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
      shape_ = box(Vec3::Zero(), size_);
      place(Vec3(0, 0, h), x, l, y, w, h, "A");
      place(Vec3(0, 0, 0), x, l, z, h, w, "B");
      place(Vec3(l, 0, 0), y, w, z, h, l);
      plane("A", z, h);
      plane("B", -y, 0);
      plane("C", -x, 0);
    }
  }

  // Holes on a circle between bore and rim.
  void circle(double outer, double bore, double height) {
    const int count = 3 + pick(5);
    const double radius = (outer + bore) / 4;
    const double d =
        std::round(10 * std::min({0.5 * (outer - bore) / 2, 0.5 * kTwoPi * radius / count, 25.})) /
        10;
    if (d < 4) return;
    const double first = random_.uniform(0, 1);
    for (int k = 0; k < count; ++k) {
      const double a = first + kTwoPi * k / count;
      const Vec3 at(radius * std::cos(a), radius * std::sin(a), 0);
      cut(rod(at - z, z, d, height + 2));
      made_.push_back({Form::Hole, at + height * z, z, d, height, "", Vec3::Zero(), 1});
    }
    groups_ = 1;
  }

  // One more thing in a free rectangle of some place.
  void furnish(std::size_t which) {
    Place& p = places_[which];
    const bool wide = p.width >= p.height;
    const double length = wide ? p.width : p.height, other = wide ? p.height : p.width;
    const double room = std::min({other, 0.45 * length, 60.});
    if (room < 14) return;
    // The strip that is used up is cut off the place.
    const double strip = room;
    Vec3 middle = p.corner + (wide ? strip / 2 * p.u + p.height / 2 * p.v
                                   : p.width / 2 * p.u + strip / 2 * p.v);
    middle += (wide ? p.v : p.u) * between(-0.2, 0.2) * (other - room);
    make(p, middle, room);
    p.corner += strip * (wide ? p.u : p.v);
    (wide ? p.width : p.height) -= strip;
  }

  void make(const Place& p, const Vec3& at, double room) {
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

  // Faces of the moved shape by what they were before the motion.
  FaceShapes where(const std::function<bool(const Ideal&)>& holds) const {
    FaceShapes r;
    for (TopExp_Explorer f(shape_, TopAbs_FACE); f.More(); f.Next()) {
      Ideal i = idealOf(TopoDS::Face(f.Current()));
      const gp_Pnt p = gp_Pnt(i.point.x(), i.point.y(), i.point.z()).Transformed(back_);
      const gp_Vec v = gp_Vec(i.direction.x(), i.direction.y(), i.direction.z()).Transformed(back_);
      i.point = Vec3(p.X(), p.Y(), p.Z());
      i.direction = Vec3(v.X(), v.Y(), v.Z());
      if (holds(i)) r.push_back(TopoDS::Face(f.Current()));
    }
    return r;
  }
  FaceShapes facesOn(const Vec3& normal, double offset) const {
    return where([&](const Ideal& i) {
      return i.type == SurfaceType::Plane && (i.direction - normal).norm() < 1e-6 &&
             std::abs(i.point.dot(normal) - offset) < 1e-4;
    });
  }
  FaceShapes facesOf(const Made& m) const {
    if (m.form == Form::Slot) {
      FaceShapes sides = facesOn(m.across, m.at.dot(m.across) - m.diameter / 2);
      const FaceShapes other = facesOn(-m.across, -(m.at.dot(m.across) + m.diameter / 2));
      if (sides.size() != 1 || other.size() != 1) return {};
      sides.push_back(other.front());
      return sides;
    }
    return where([&](const Ideal& i) {
      const Vec3 off = i.point - m.at;
      if (m.form == Form::Cup)
        return i.type == SurfaceType::Sphere && off.norm() < 1e-4 &&
               std::abs(i.diameter - m.diameter) < 1e-4;
      const bool on_axis =
          off.cross(m.direction).norm() < 1e-4 && i.direction.cross(m.direction).norm() < 1e-6;
      if (m.form == Form::Cone) return i.type == SurfaceType::Cone && on_axis;
      return i.type == SurfaceType::Cylinder && on_axis && i.hole == (m.form == Form::Hole) &&
             std::abs(i.diameter - m.diameter) < 1e-4;
    });
  }

  void asked() { ++requirements_; }
  void tolerance(demo::ToleranceSpec spec) {
    writer_->tolerance(std::move(spec));
    asked();
  }
  double small(double low = 0.03, double high = 0.25) {
    return std::round(100 * random_.uniform(low, high)) / 100;
  }

  std::vector<DatumUse> system() {
    std::vector<DatumUse> all;
    for (const std::string& letter : letters_)
      all.push_back({letter, MaterialModifier::None});
    return all;
  }

  void demand() {
    for (const auto& [letter, normal, offset] : planes_) {
      const FaceShapes faces = facesOn(normal, offset);
      if (faces.empty()) continue;
      writer_->datum(letter, faces);
      letters_.push_back(letter);
      if (letter == "A")
        tolerance({.type = T::Flatness, .magnitude = small(0.02, 0.1), .faces = faces});
      else if (chance(0.6))
        tolerance(
            {.type = T::Perpendicularity, .magnitude = small(), .faces = faces, .datums = {{"A"}}});
    }
    if (axis_datum_ >= 0) {
      writer_->datum("B", facesOf(made_[static_cast<std::size_t>(axis_datum_)]));
      letters_.push_back("B");
    }
    for (std::size_t k = 0; k < made_.size(); ++k)
      if (made_[k].group == 0) demandOf(made_[k], static_cast<int>(k) == axis_datum_);
    for (int g = 1; g <= groups_; ++g)
      demandOfGroup(g);
    if (inclined_.norm() > 0.5) {
      const FaceShapes faces = facesOn(inclined_, inclined_offset_);
      if (!faces.empty())
        tolerance({.type = T::Angularity,
                   .magnitude = small(0.05, 0.2),
                   .faces = faces,
                   .datums = {{"A"}}});
    }
    // The far sides.
    for (const auto& [letter, normal, offset] : planes_) {
      if (letter == "A" || axis_datum_ >= 0 || !chance(0.6)) continue;
      const double far = std::abs(normal.dot(size_));
      const FaceShapes faces = facesOn(-normal, far), datum = facesOn(normal, offset);
      if (faces.size() != 1 || datum.size() != 1) continue;
      if (chance(0.5)) {
        writer_->distance(datum, faces, far + offset, -0.2, 0.2);
        asked();
      } else {
        tolerance({.type = chance(0.5) ? T::Parallelism : T::SurfaceProfile,
                   .magnitude = small(0.08, 0.3),
                   .faces = faces,
                   .datums = {{letter}}});
      }
    }
  }

  void demandOf(const Made& m, bool is_datum) {
    const FaceShapes faces = facesOf(m);
    if (faces.empty()) return;
    const bool axial = m.form == Form::Hole || m.form == Form::Boss;
    if (axial || m.form == Form::Slot) {
      if (m.form == Form::Hole && chance(0.25))
        writer_->size({.faces = faces, .nominal = m.diameter, .fit = "H8"});
      else
        writer_->size({.name = axial ? "diameter" : "width",
                       .faces = faces,
                       .nominal = m.diameter,
                       .lower = -0.1,
                       .upper = 0.1});
      asked();
    }
    if (is_datum) {
      tolerance({.type = T::Perpendicularity,
                 .magnitude = small(),
                 .faces = faces,
                 .datums = {{"A"}},
                 .zone = round});
      return;
    }
    switch (m.form) {
    case Form::Hole:
    case Form::Boss:
      if (axis_datum_ >= 0 && chance(0.7)) {
        tolerance({.type = chance(0.5) ? T::TotalRunout : T::CircularRunout,
                   .magnitude = small(),
                   .faces = faces,
                   .datums = {{"B"}}});
      } else {
        tolerance({.type = T::Position,
                   .magnitude = small(0.1, 0.4),
                   .faces = faces,
                   .datums = system(),
                   .zone = round,
                   .material = chance(0.3) ? MaterialModifier::Maximum : MaterialModifier::None});
      }
      if (chance(0.3))
        tolerance({.type = chance(0.5) ? T::Cylindricity : T::Roundness,
                   .magnitude = small(0.03, 0.1),
                   .faces = faces});
      break;
    case Form::Cup:
      tolerance({.type = T::SurfaceProfile,
                 .magnitude = small(0.1, 0.3),
                 .faces = faces,
                 .datums = system()});
      break;
    case Form::Cone:
      tolerance({.type = chance(0.5) ? T::SurfaceProfile : T::Roundness,
                 .magnitude = small(0.05, 0.2),
                 .faces = faces});
      break;
    case Form::Slot:
      tolerance(
          {.type = T::Position, .magnitude = small(0.1, 0.3), .faces = faces, .datums = system()});
      break;
    }
  }

  void demandOfGroup(int group) {
    FaceShapes faces;
    double diameter = 0;
    for (const Made& m : made_) {
      if (m.group != group) continue;
      const FaceShapes own = facesOf(m);
      faces.insert(faces.end(), own.begin(), own.end());
      diameter = m.diameter;
    }
    writer_->size({.faces = faces, .nominal = diameter, .lower = -0.05, .upper = 0.15});
    asked();
    tolerance({.type = T::Position,
               .magnitude = small(0.15, 0.4),
               .faces = faces,
               .datums = {{"A"}, {"B"}},
               .zone = round,
               .material = chance(0.5) ? MaterialModifier::Maximum : MaterialModifier::None});
  }

  static constexpr double kTwoPi = 2 * 3.14159265358979323846;

  struct Plane {
    std::string letter;
    Vec3 normal;
    double offset;
  };
  Random random_;
  TopoDS_Shape shape_;
  gp_Trsf back_;
  Vec3 size_ = Vec3::Zero();
  std::vector<Place> places_;
  std::vector<Made> made_;
  std::vector<Plane> planes_;
  std::vector<std::string> letters_;
  int axis_datum_ = -1, groups_ = 0, requirements_ = 0;
  Vec3 inclined_ = Vec3::Zero();
  double inclined_offset_ = 0;
  PmiWriter* writer_ = nullptr;
};

} // namespace

Result<RandomPart> randomPart(unsigned seed) {
  try {
    return PartMaker(seed).make(seed);
  } catch (const Standard_Failure& e) {
    return fail("seed {}: {}", seed, e.GetMessageString());
  }
}

} // namespace alder::test
