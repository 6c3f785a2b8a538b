#include "drawing/pointed.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace alder {
namespace {

constexpr double kSquare = 1e-4; // cosine between a direction and the line of sight
constexpr double kFar = std::numeric_limits<double>::infinity();
constexpr double kEdgeOn = 0.12; // of freeform surfaces: triangles turned less to who looks
constexpr double kReach = 1;     // mm that a place may lie beyond the end of an outline

double distanceToSegment(const Vec2& p, const Vec2& a, const Vec2& b) {
  const Vec2 d = b - a;
  const double t = d.squaredNorm() > 0 ? std::clamp((p - a).dot(d) / d.squaredNorm(), 0., 1.) : 0;
  return (a + t * d - p).norm();
}

} // namespace

PointedSurfaces::PointedSurfaces(const PartModel& part, const DrawnView& view)
    : part_(part)
    , view_(view)
    , projected_(part.surfaces.size()) {
  std::vector<std::size_t> of_face(part.faces.size());
  for (std::size_t s = 0; s < part.surfaces.size(); ++s)
    for (const FaceId f : part.surfaces[s].faces)
      of_face[static_cast<std::size_t>(f.value)] = s;
  for (std::size_t t = 0; t < part.mesh.triangles.size(); ++t) {
    const int tag = part.mesh.tags[t];
    if (tag < 0 || static_cast<std::size_t>(tag) >= of_face.size()) continue;
    const std::size_t s = of_face[static_cast<std::size_t>(tag)];
    Projected& p = projected_[s];
    std::array<Vec3, 3> corners;
    for (std::size_t i = 0; i < 3; ++i) {
      corners[i] = part.mesh.vertices[static_cast<std::size_t>(part.mesh.triangles[t][i])];
      p.box.extend(view.project(corners[i]));
    }
    const SurfaceType type = part.surfaces[s].ideal.type;
    if (type != SurfaceType::Freeform && type != SurfaceType::Torus) continue;
    const Vec3 n = (corners[1] - corners[0]).cross(corners[2] - corners[0]);
    if (n.norm() > 0 && std::abs(n.normalized().dot(view.toward())) < kEdgeOn)
      for (std::size_t i = 0; i < 3; ++i) {
        p.edge_on.push_back(view.project(corners[i]));
        p.edge_on.push_back(view.project(corners[(i + 1) % 3]));
      }
  }
}

double PointedSurfaces::outline(std::size_t surface, const Vec2& p) const {
  const Ideal& i = part_.surfaces[surface].ideal;
  const Projected& shape = projected_[surface];
  if (shape.box.isEmpty()) return kFar;
  const Box2 reach(shape.box.min() - Vec2(kReach, kReach), shape.box.max() + Vec2(kReach, kReach));
  if (!reach.contains(p)) return kFar;
  const Vec3 toward = view_.toward();
  const Vec2 centre = view_.project(i.point);
  const double along = std::abs(i.direction.dot(toward));
  switch (i.type) {
  case SurfaceType::Plane: {
    if (along > kSquare) return kFar;
    const Vec2 n = view_.project(i.direction);
    return std::abs(n.dot(p - centre));
  }
  case SurfaceType::Sphere:
    return std::abs((p - centre).norm() - i.diameter / 2);
  case SurfaceType::Cylinder:
  case SurfaceType::Cone: {
    if (along > 1 - kSquare) {
      // its rims; a cone seen along its axis is no outline between them
      const double r0 = i.diameter / 2, r1 = r0 + i.length * std::tan(i.half_angle);
      const double r = (p - centre).norm();
      return std::min(std::abs(r - r0), std::abs(r - r1));
    }
    const Vec2 d = view_.project(i.direction);
    const Vec2 u = d.normalized(), v(-u.y(), u.x());
    const double at = u.dot(p - centre) / d.norm(), off = std::abs(v.dot(p - centre));
    if (at < -kReach || at > i.length + kReach) return kFar;
    // Square to the axis of a cone its outline is less steep than its half angle in a slanted view;
    // there only the upright one is asked for.
    if (i.type == SurfaceType::Cone && along > kSquare) return kFar;
    const double r = i.diameter / 2 + at * std::tan(i.half_angle);
    return std::abs(off - r) * std::cos(i.half_angle);
  }
  default:
    break;
  }
  double least = kFar;
  for (std::size_t k = 0; k + 1 < shape.edge_on.size(); k += 2)
    least = std::min(least, distanceToSegment(p, shape.edge_on[k], shape.edge_on[k + 1]));
  return least;
}

std::vector<PointedSurface> PointedSurfaces::at(const Vec2& sheet, double within) const {
  std::vector<PointedSurface> found;
  const Vec2 p = view_.inPart(sheet);
  for (std::size_t s = 0; s < projected_.size(); ++s) {
    const double off = outline(s, p) * view_.scale;
    if (off <= within) found.push_back({s, off});
  }
  std::stable_sort(found.begin(), found.end(),
                   [](const PointedSurface& a, const PointedSurface& b) { return a.off < b.off; });
  return found;
}

std::vector<PointedSurface> PointedSurfaces::level(const Vec2& sheet, const Vec2& along,
                                                   double within) const {
  std::vector<PointedSurface> found;
  const Vec2 p = view_.inPart(sheet);
  const Vec3 direction = along.x() * view_.right + along.y() * view_.up;
  for (std::size_t s = 0; s < projected_.size(); ++s) {
    const Ideal& i = part_.surfaces[s].ideal;
    if (projected_[s].box.isEmpty()) continue;
    const bool plane =
        i.type == SurfaceType::Plane && std::abs(i.direction.dot(direction)) > 1 - kSquare;
    const bool axis = (i.type == SurfaceType::Cylinder || i.type == SurfaceType::Cone) &&
                      std::abs(i.direction.dot(direction)) < kSquare;
    const bool centre = i.type == SurfaceType::Sphere;
    if (!plane && !axis && !centre) continue;
    const double off = std::abs(along.dot(view_.project(i.point) - p)) * view_.scale;
    if (off <= within) found.push_back({s, off});
  }
  // How far the surface is across the dimension: extension lines are drawn from near ones.
  const Vec2 across(-along.y(), along.x());
  const auto apart = [&](const PointedSurface& f) {
    const Box2& b = projected_[f.surface].box;
    const double c = across.dot(b.center() - p), half = std::abs(across.dot(b.sizes())) / 2;
    return std::max(0., std::abs(c) - half);
  };
  std::stable_sort(
      found.begin(), found.end(),
      [&](const PointedSurface& a, const PointedSurface& b) { return apart(a) < apart(b); });
  return found;
}

std::vector<PointedSurface> PointedSurfaces::drawnOut(const Vec2& sheet, double within) const {
  std::vector<PointedSurface> found;
  const Vec2 p = view_.inPart(sheet);
  const Vec3 toward = view_.toward();
  for (std::size_t s = 0; s < projected_.size(); ++s) {
    const Ideal& i = part_.surfaces[s].ideal;
    if (projected_[s].box.isEmpty() || std::abs(i.direction.dot(toward)) > kSquare) continue;
    const Vec2 centre = view_.project(i.point);
    double off = kFar;
    if (i.type == SurfaceType::Plane) {
      off = std::abs(view_.project(i.direction).dot(p - centre));
    } else if (i.type == SurfaceType::Cone) {
      const Vec2 u = view_.project(i.direction), v(-u.y(), u.x());
      const double r = i.diameter / 2 + u.dot(p - centre) * std::tan(i.half_angle);
      off = std::abs(std::abs(v.dot(p - centre)) - std::abs(r)) * std::cos(i.half_angle);
    }
    if (off * view_.scale <= within) found.push_back({s, off * view_.scale});
  }
  return found;
}

} // namespace alder
