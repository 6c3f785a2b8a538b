#include "maker.h"

#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>

namespace alder::test {
namespace {
using T = ToleranceType;
constexpr auto round = ZoneForm::Cylindrical;
} // namespace

// Faces of the moved shape by what they were before the motion.
FaceShapes PartMaker::where(const std::function<bool(const Ideal&)>& holds) const {
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

FaceShapes PartMaker::facesOn(const Vec3& normal, double offset) const {
  return where([&](const Ideal& i) {
    return i.type == SurfaceType::Plane && (i.direction - normal).norm() < 1e-6 &&
           std::abs(i.point.dot(normal) - offset) < 1e-4;
  });
}

FaceShapes PartMaker::facesOf(const Made& m) const {
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

std::vector<demo::DatumUse> PartMaker::system() {
  std::vector<demo::DatumUse> all;
  for (const std::string& letter : letters_)
    all.push_back({letter, MaterialModifier::None});
  return all;
}

void PartMaker::demand() {
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
    const FaceShapes faces = facesOf(made_[static_cast<std::size_t>(axis_datum_)]);
    if (faces.empty()) { // what was cut off took it with it
      axis_datum_ = -1;
    } else {
      writer_->datum("B", faces);
      letters_.push_back("B");
    }
  }
  for (std::size_t k = 0; k < made_.size(); ++k)
    if (made_[k].group == 0) demandOf(made_[k], static_cast<int>(k) == axis_datum_);
  for (int g = 1; g <= groups_; ++g)
    demandOfGroup(g);
  for (const Plane& p : inclined_) {
    const FaceShapes faces = facesOn(p.normal, p.offset);
    if (!faces.empty())
      tolerance({.type = T::Angularity,
                 .magnitude = small(0.05, 0.2),
                 .faces = faces,
                 .datums = {{"A"}}});
  }
  demandOfFarSides();
  demandOfWalls();
  if (freeform_)
    tolerance({.type = T::SurfaceProfile,
               .magnitude = small(0.1, 0.4),
               .faces = where([](const Ideal& i) { return i.type == SurfaceType::Freeform; }),
               .datums = system()});
}

// The sides that look away from the datum planes.
void PartMaker::demandOfFarSides() {
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

// Thickness of walls.
void PartMaker::demandOfWalls() {
  for (const Wall& w : walls_) {
    const FaceShapes outer = facesOn(w.outward, w.outer), inner = facesOn(-w.outward, -w.inner);
    if (outer.size() != 1 || inner.size() != 1) continue;
    writer_->distance(outer, inner, w.outer - w.inner, -0.15, 0.15);
    asked();
  }
}

void PartMaker::demandOf(const Made& m, bool is_datum) {
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

void PartMaker::demandOfGroup(int group) {
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

void PartMaker::tolerance(demo::ToleranceSpec spec) {
  // A datum that something else has cut away is none.
  const bool related = !spec.datums.empty();
  std::erase_if(spec.datums, [&](const demo::DatumUse& d) {
    return std::find(letters_.begin(), letters_.end(), d.letters) == letters_.end();
  });
  if (related && spec.datums.empty()) return;
  writer_->tolerance(std::move(spec));
  asked();
}

} // namespace alder::test
