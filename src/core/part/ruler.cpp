#include "part/ruler.h"

#include "base/units.h"
#include <BRepExtrema_DistShapeShape.hxx>
#include <BRep_Builder.hxx>
#include <Standard_Failure.hxx>
#include <TopoDS_Compound.hxx>
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

constexpr double kRulerParallel = 1e-6; // rad
constexpr double kNoLength = 1e-7;      // mm

// What stands for it in a distance that is not one of faces.
std::string nameOf(const Ideal& ideal) {
  switch (ideal.type) {
  case SurfaceType::Plane:
    return "plane";
  case SurfaceType::Slot:
    return "mid plane";
  case SurfaceType::Cylinder:
  case SurfaceType::Cone:
    return "axis";
  case SurfaceType::Sphere:
    return "centre";
  default:
    return "surface";
  }
}

double areaOf(const PartModel& part, const Ruled& a) {
  double area = 0;
  for (const FaceId f : a.faces)
    area += part.face(f).area;
  return area;
}

// The middle of it along its axis, or of its faces in the plane.
Vec3 middleOf(const PartModel& part, const Ruled& a) {
  const Ideal& i = a.ideal;
  if (standsFor(i) == StandsFor::Axis) return i.point + i.length / 2 * i.direction;
  if (standsFor(i) == StandsFor::Point || a.faces.empty()) return i.point;
  Box3 box;
  for (const FaceId f : a.faces)
    box.extend(part.face(f).box);
  const Vec3 middle = box.center();
  return standsFor(i) == StandsFor::Plane ? middle - i.direction * i.direction.dot(middle - i.point)
                                          : middle;
}

struct Distance {
  std::string what;
  Vec3 from = Vec3::Zero(), to = Vec3::Zero();
  double length() const { return (to - from).norm(); }
};

Vec3 onto(const Ideal& axis, const Vec3& p) {
  return axis.point + axis.direction * axis.direction.dot(p - axis.point);
}

// Feet of the common perpendicular; of parallel axes at the middle of the first.
Distance betweenAxes(const PartModel& part, const Ruled& a, const Ruled& b) {
  const Vec3 &u = a.ideal.direction, &v = b.ideal.direction;
  const double across = u.cross(v).norm();
  if (across < kRulerParallel) {
    const Vec3 from = middleOf(part, a);
    return {"", from, onto(b.ideal, from)};
  }
  const Vec3 w = b.ideal.point - a.ideal.point;
  const double uv = u.dot(v), det = 1 - uv * uv;
  const double s = (w.dot(u) - uv * w.dot(v)) / det, t = (uv * w.dot(u) - w.dot(v)) / det;
  return {"", a.ideal.point + s * u, b.ideal.point + t * v};
}

// Between what the ideals stand for; nothing where that has no one distance.
std::optional<Distance> betweenIdeals(const PartModel& part, const Ruled& a, const Ruled& b) {
  const StandsFor ka = standsFor(a.ideal), kb = standsFor(b.ideal);
  if (ka == StandsFor::Other || kb == StandsFor::Other) return {};
  if (ka > kb) { // planes first, centres last
    auto turned = betweenIdeals(part, b, a);
    if (turned) std::swap(turned->from, turned->to);
    return turned;
  }
  Distance d;
  if (ka == StandsFor::Plane) {
    const double along = std::abs(a.ideal.direction.dot(b.ideal.direction));
    if (kb == StandsFor::Plane && along < 1 - kRulerParallel * kRulerParallel) return {};
    if (kb == StandsFor::Axis && along > kRulerParallel) return {};
    d.to = middleOf(part, b);
    d.from = d.to - a.ideal.direction * a.ideal.direction.dot(d.to - a.ideal.point);
  } else if (kb == StandsFor::Axis) {
    d = betweenAxes(part, a, b);
  } else if (ka == StandsFor::Axis) {
    d.to = b.ideal.point;
    d.from = onto(a.ideal, d.to);
  } else {
    d.from = a.ideal.point, d.to = b.ideal.point;
  }
  const std::string na = nameOf(a.ideal), nb = nameOf(b.ideal);
  d.what = na == nb ? fmt::format("distance of the {}", na == "axis" ? "axes" : na + "s")
                    : fmt::format("distance of {} and {}", na, nb);
  return d;
}

std::optional<Distance> betweenFaces(const PartModel& part, const Ruled& a, const Ruled& b) {
  if (a.faces.empty() || b.faces.empty()) return {};
  try {
    const auto shapeOf = [&](const Ruled& of) {
      TopoDS_Compound all;
      BRep_Builder builder;
      builder.MakeCompound(all);
      for (const FaceId f : of.faces)
        builder.Add(all, part.shapeOf(f));
      return all;
    };
    const BRepExtrema_DistShapeShape found(shapeOf(a), shapeOf(b));
    if (!found.IsDone() || found.NbSolution() < 1) return {};
    const gp_Pnt p = found.PointOnShape1(1), q = found.PointOnShape2(1);
    return Distance{"smallest distance", Vec3(p.X(), p.Y(), p.Z()), Vec3(q.X(), q.Y(), q.Z())};
  } catch (const Standard_Failure&) {
    return {};
  }
}

// Between what has a direction: planes by their normals, an axis and a plane by what is left of the
// right angle.
std::optional<double> angleBetween(const Ideal& a, const Ideal& b) {
  const StandsFor ka = standsFor(a), kb = standsFor(b);
  if (ka > StandsFor::Axis || kb > StandsFor::Axis) return {};
  const double along = std::abs(a.direction.dot(b.direction)),
               across = a.direction.cross(b.direction).norm();
  const double angle = std::atan2(across, along);
  return ka == kb ? angle : kPi / 2 - angle;
}

} // namespace

StandsFor standsFor(const Ideal& ideal) {
  switch (ideal.type) {
  case SurfaceType::Plane:
  case SurfaceType::Slot:
    return StandsFor::Plane;
  case SurfaceType::Cylinder:
  case SurfaceType::Cone:
    return StandsFor::Axis;
  case SurfaceType::Sphere:
    return StandsFor::Point;
  default:
    return StandsFor::Other;
  }
}

RulerReading sizesOf(const PartModel& part, const Ruled& a) {
  RulerReading r;
  const Ideal& i = a.ideal;
  const auto add = [&](const char* what, double value, RulerUnit unit = RulerUnit::Length) {
    if (value > 0) r.figures.push_back({what, value, unit});
  };
  switch (i.type) {
  case SurfaceType::Cylinder:
    add("diameter", i.diameter);
    add("radius", i.diameter / 2);
    add("length", i.length);
    break;
  case SurfaceType::Cone: {
    const double wide = i.diameter + 2 * i.length * std::tan(i.half_angle);
    add("angle", 2 * i.half_angle, RulerUnit::Angle);
    add("smallest diameter", i.diameter);
    add("largest diameter", wide);
    add("length", i.length);
    break;
  }
  case SurfaceType::Sphere:
    add("diameter", i.diameter);
    add("radius", i.diameter / 2);
    break;
  case SurfaceType::Slot:
    add("width", i.diameter);
    break;
  default:
    break;
  }
  add("area", areaOf(part, a), RulerUnit::Area);
  return r;
}

RulerReading between(const PartModel& part, const Ruled& a, const Ruled& b) {
  RulerReading r;
  const auto ideal = betweenIdeals(part, a, b), faces = betweenFaces(part, a, b);
  const auto& first = ideal ? ideal : faces;
  if (first) {
    r.figures.push_back({first->what, first->length()});
    r.between = {first->from, first->to};
    if (first->length() > kNoLength)
      for (int k = 0; k < 3; ++k) {
        const double along = std::abs((first->to - first->from)[k]);
        if (along > kNoLength && along < first->length() - kNoLength)
          r.figures.push_back({std::string("along ") + "XYZ"[k], along});
      }
  }
  if (const auto angle = angleBetween(a.ideal, b.ideal))
    r.figures.push_back({"angle", *angle, RulerUnit::Angle});
  if (ideal && faces && std::abs(ideal->length() - faces->length()) > kNoLength)
    r.figures.push_back({faces->what, faces->length()});
  return r;
}

} // namespace alder
