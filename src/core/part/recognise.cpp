#include "part/recognise.h"

#include "base/units.h"
#include "part/round_spline.h"
#include "part/vectors.h"
#include <BRepAdaptor_Surface.hxx>
#include <BRepTools.hxx>
#include <BRepTopAdaptor_FClass2d.hxx>
#include <BRep_Tool.hxx>
#include <GeomLib_IsPlanarSurface.hxx>
#include <Standard_Failure.hxx>
#include <algorithm>
#include <cmath>
#include <map>
#include <set>

namespace alder {
namespace {

constexpr double kSameLength = 1e-4; // mm: CAD systems write about 1e-6 relative
constexpr double kSameAngle = 1e-6;

struct ParameterBox {
  double u0 = 0, u1 = 0, v0 = 0, v1 = 0;
};

ParameterBox parameters(const TopoDS_Face& face) {
  ParameterBox b;
  BRepTools::UVBounds(face, b.u0, b.u1, b.v0, b.v1);
  return b;
}

// Does the outward normal point away from `axis_point` (axis along `axis`, or a centre)?
bool normalPointsIn(const TopoDS_Face& face, const BRepAdaptor_Surface& surface,
                    const Ideal& ideal) {
  const auto b = parameters(face);
  gp_Pnt p;
  gp_Vec du, dv;
  surface.D1((b.u0 + b.u1) / 2, (b.v0 + b.v1) / 2, p, du, dv);
  gp_Vec n = du.Crossed(dv);
  if (face.Orientation() == TopAbs_REVERSED) n.Reverse();
  Vec3 out = vec(p) - ideal.point;
  if (ideal.type != SurfaceType::Sphere) out -= out.dot(ideal.direction) * ideal.direction;
  return out.dot(Vec3(n.X(), n.Y(), n.Z())) < 0;
}

// A freeform surface that is a plane in all but name: exporters write such faces often.
bool planarSpline(const TopoDS_Face& face, Ideal& ideal) {
  const Handle(Geom_Surface) surface = BRep_Tool::Surface(face);
  GeomLib_IsPlanarSurface test(surface, 1e-6);
  if (!test.IsPlanar()) return false;
  const gp_Pln plane = test.Plan();
  const auto b = parameters(face);
  gp_Pnt p;
  gp_Vec du, dv;
  surface->D1((b.u0 + b.u1) / 2, (b.v0 + b.v1) / 2, p, du, dv);
  gp_Vec n = du.Crossed(dv);
  if (n.Magnitude() < 1e-12) return false;
  if (face.Orientation() == TopAbs_REVERSED) n.Reverse();
  ideal.type = SurfaceType::Plane;
  ideal.direction = vec(gp_Dir(n));
  ideal.point = vec(plane.Location());
  return true;
}

void fillRound(const TopoDS_Face& face, const BRepAdaptor_Surface& surface, Ideal& ideal) {
  const auto b = parameters(face);
  const auto setAxis = [&](const gp_Ax3& axis, double from, double to) {
    ideal.direction = vec(axis.Direction());
    ideal.point = vec(axis.Location()) + from * ideal.direction;
    ideal.length = to - from;
  };
  if (ideal.type == SurfaceType::Cylinder) {
    setAxis(surface.Cylinder().Position(), b.v0, b.v1);
    ideal.diameter = 2 * surface.Cylinder().Radius();
  } else if (ideal.type == SurfaceType::Cone) {
    const gp_Cone cone = surface.Cone();
    const double a = cone.SemiAngle();
    setAxis(cone.Position(), b.v0 * std::cos(a), b.v1 * std::cos(a));
    double r0 = cone.RefRadius() + b.v0 * std::sin(a), r1 = cone.RefRadius() + b.v1 * std::sin(a);
    if (std::abs(r0) > std::abs(r1)) {
      ideal.point += ideal.length * ideal.direction;
      ideal.direction = -ideal.direction;
      std::swap(r0, r1);
    }
    ideal.diameter = 2 * std::abs(r0);
    ideal.half_angle = radians(shownDegrees(std::abs(a)));
  } else if (ideal.type == SurfaceType::Sphere) {
    ideal.point = vec(surface.Sphere().Location());
    ideal.direction = vec(surface.Sphere().Position().Direction());
    ideal.diameter = 2 * surface.Sphere().Radius();
  } else {
    ideal.point = vec(surface.Torus().Location());
    ideal.direction = vec(surface.Torus().Axis().Direction());
    ideal.diameter = 2 * surface.Torus().MajorRadius();
  }
  ideal.hole = normalPointsIn(face, surface, ideal);
}

bool sameAxis(const Ideal& a, const Ideal& b) {
  const Vec3 r = b.point - a.point;
  return a.direction.cross(b.direction).norm() < kSameAngle * 10 &&
         (r - r.dot(a.direction) * a.direction).norm() < kSameLength;
}

// Extends `a` along its axis so that it covers `b` too.
void cover(Ideal& a, const Ideal& b) {
  if (a.type != SurfaceType::Cylinder && a.type != SurfaceType::Cone) return;
  const double start = (b.point - a.point).dot(a.direction);
  const double end = start + b.length * b.direction.dot(a.direction);
  const double low = std::min({0.0, start, end}), high = std::max({a.length, start, end});
  a.point += low * a.direction;
  a.diameter += 2 * low * std::tan(a.half_angle);
  a.length = high - low;
}

Surface merged(const PartModel& part, std::vector<FaceId> faces) {
  std::sort(faces.begin(), faces.end());
  Surface s;
  s.ideal = part.face(faces.front()).ideal;
  double area = 0;
  Vec3 centre = Vec3::Zero();
  for (FaceId f : faces) {
    cover(s.ideal, part.face(f).ideal);
    area += part.face(f).area;
    centre += part.face(f).area * part.face(f).box.center();
  }
  if (s.ideal.type == SurfaceType::Plane && area > 0) {
    centre /= area;
    s.ideal.point = centre - (centre - s.ideal.point).dot(s.ideal.direction) * s.ideal.direction;
  }
  if (s.ideal.type == SurfaceType::Freeform && area > 0) s.ideal.point = centre / area;
  s.faces = std::move(faces);
  return s;
}

std::optional<Surface> slotOf(const Surface& a, const Surface& b) {
  if (a.ideal.type != SurfaceType::Plane || b.ideal.type != SurfaceType::Plane) return {};
  if (a.ideal.direction.dot(b.ideal.direction) > -1 + 1e-9) return {};
  const double width = (b.ideal.point - a.ideal.point).dot(a.ideal.direction);
  if (std::abs(width) < kSameLength) return {};
  Surface s;
  s.ideal.type = SurfaceType::Slot;
  s.ideal.direction = a.ideal.direction;
  s.ideal.hole = width > 0; // the planes face each other
  s.ideal.diameter = std::abs(width);
  s.ideal.point = (a.ideal.point + b.ideal.point) / 2;
  s.faces = a.faces;
  s.faces.insert(s.faces.end(), b.faces.begin(), b.faces.end());
  std::sort(s.faces.begin(), s.faces.end());
  return s;
}

} // namespace

std::string_view name(SurfaceType type) {
  static constexpr std::array<std::string_view, 7> kNames{"plane", "cylinder", "cone",    "sphere",
                                                          "torus", "slot",     "freeform"};
  return kNames[static_cast<std::size_t>(type)];
}

Ideal idealOf(const TopoDS_Face& face) {
  Ideal ideal;
  try {
    const BRepAdaptor_Surface surface(face);
    switch (surface.GetType()) {
    case GeomAbs_Plane:
      ideal.type = SurfaceType::Plane;
      ideal.point = vec(surface.Plane().Location());
      ideal.direction = vec(surface.Plane().Axis().Direction());
      if (!surface.Plane().Direct()) ideal.direction = -ideal.direction;
      if (face.Orientation() == TopAbs_REVERSED) ideal.direction = -ideal.direction;
      break;
    case GeomAbs_Cylinder:
      ideal.type = SurfaceType::Cylinder;
      break;
    case GeomAbs_Cone:
      ideal.type = SurfaceType::Cone;
      break;
    case GeomAbs_Sphere:
      ideal.type = SurfaceType::Sphere;
      break;
    case GeomAbs_Torus:
      ideal.type = SurfaceType::Torus;
      break;
    default:
      if (planarSpline(face, ideal)) break;
      if (const auto round = roundShapeOf(face)) {
        ideal = *round;
        ideal.hole = normalPointsIn(face, surface, ideal);
        return ideal;
      }
    }
    if (ideal.type != SurfaceType::Plane && ideal.type != SurfaceType::Freeform)
      fillRound(face, surface, ideal);
  } catch (const Standard_Failure&) {
    ideal = Ideal{};
  }
  return ideal;
}

bool sameIdeal(const Ideal& a, const Ideal& b) {
  if (a.type != b.type || a.hole != b.hole) return false;
  switch (a.type) {
  case SurfaceType::Plane:
    return (a.direction - b.direction).norm() < kSameAngle * 10 &&
           std::abs((b.point - a.point).dot(a.direction)) < kSameLength;
  case SurfaceType::Cylinder:
    return sameAxis(a, b) && std::abs(a.diameter - b.diameter) < kSameLength;
  case SurfaceType::Cone: {
    if (!sameAxis(a, b) || std::abs(a.half_angle - b.half_angle) > kSameAngle * 10 ||
        a.direction.dot(b.direction) < 0)
      return false;
    const double along = (b.point - a.point).dot(a.direction);
    return std::abs(a.diameter + 2 * along * std::tan(a.half_angle) - b.diameter) < kSameLength;
  }
  case SurfaceType::Sphere:
    return (a.point - b.point).norm() < kSameLength &&
           std::abs(a.diameter - b.diameter) < kSameLength;
  case SurfaceType::Torus:
    return sameAxis(a, b) && (a.point - b.point).norm() < kSameLength &&
           std::abs(a.diameter - b.diameter) < kSameLength;
  default:
    return false;
  }
}

std::vector<Surface> recogniseSurfaces(const PartModel& part) {
  std::vector<Surface> result;
  std::vector<bool> taken(part.faces.size(), false);
  for (const Face& seed : part.faces) {
    if (taken[seed.id.value] || !part.takes(seed.id)) continue;
    std::vector<FaceId> group{seed.id};
    taken[seed.id.value] = true;
    const bool joins =
        seed.ideal.type != SurfaceType::Plane && seed.ideal.type != SurfaceType::Freeform;
    for (std::size_t i = 0; joins && i < group.size(); ++i)
      for (FaceId next : part.face(group[i]).neighbours)
        if (!taken[next.value] && sameIdeal(seed.ideal, part.face(next).ideal)) {
          taken[next.value] = true;
          group.push_back(next);
        }
    result.push_back(merged(part, std::move(group)));
    result.back().id = SurfaceId{static_cast<int>(result.size()) - 1};
  }
  return result;
}

std::vector<Surface> surfacesOf(const PartModel& part, const std::vector<FaceId>& faces,
                                Grouping grouping) {
  std::vector<Surface> result;
  std::set<FaceId> wanted(faces.begin(), faces.end());
  for (const Surface& s : part.surfaces)
    if (std::any_of(s.faces.begin(), s.faces.end(),
                    [&](FaceId f) { return wanted.count(f) > 0; })) {
      const auto same = std::find_if(result.begin(), result.end(), [&](const Surface& other) {
        return sameIdeal(other.ideal, s.ideal);
      });
      if (same == result.end()) {
        result.push_back(s);
        continue;
      }
      auto all = same->faces;
      all.insert(all.end(), s.faces.begin(), s.faces.end());
      *same = merged(part, std::move(all));
    }
  if (grouping == Grouping::SlotIfParallel && result.size() == 2)
    if (auto slot = slotOf(result[0], result[1])) return {*slot};
  return result;
}

} // namespace alder
