#include "stage/zone_geometry.h"

#include "base/units.h"
#include "bench/solids.h"
#include "judge/actual.h"
#include <algorithm>
#include <cmath>
#include <map>

namespace alder::app {
namespace {

constexpr double kZoneTransparency = 0.82;

// The faces of the feature, moved along their normals.
Mesh movedFaces(const Plan& plan, const NominalFeature& n, double by) {
  const Mesh& all = plan.part->mesh;
  Mesh mesh;
  std::map<int, int> kept; // vertex of the part -> of this mesh
  for (std::size_t i = 0; i < all.triangles.size(); ++i) {
    if (!std::binary_search(n.faces.begin(), n.faces.end(), FaceId{all.tags[i]})) continue;
    std::array<int, 3> triangle{};
    for (std::size_t k = 0; k < 3; ++k) {
      const int v = all.triangles[i][k];
      const auto [at, added] = kept.emplace(v, static_cast<int>(mesh.vertices.size()));
      if (added) mesh.vertices.push_back(all.vertices[static_cast<std::size_t>(v)]);
      triangle[k] = at->second;
    }
    mesh.triangles.push_back(triangle);
  }
  Points normals(mesh.vertices.size(), Vec3::Zero());
  for (std::size_t i = 0; i < mesh.triangles.size(); ++i) {
    const Triangle t = mesh.triangle(i);
    for (const int v : mesh.triangles[i])
      normals[static_cast<std::size_t>(v)] += (t.b - t.a).cross(t.c - t.a);
  }
  for (std::size_t v = 0; v < normals.size(); ++v) {
    const double length = normals[v].norm();
    mesh.vertices[v] =
        plan.placement * (mesh.vertices[v] + (length > 0 ? by / length : 0) * normals[v]);
  }
  mesh.tags.assign(mesh.triangles.size(), 0);
  return mesh;
}

SceneGeometry zoneOf(Mesh mesh, const Theme& theme) {
  SceneGeometry g;
  g.mesh = std::move(mesh);
  g.mesh_color = theme.color("accent");
  g.transparency = kZoneTransparency;
  return g;
}

// Two rectangles round the places, square to the normal.
Mesh between(const Plan& plan, const Points& places, const Vec3& normal, double half) {
  const Frame frame = frameOf(places.front(), normal);
  Box3 box;
  for (const Vec3& p : places)
    box.extend(frame.inverse() * p);
  const Vec3 pad(1, 1, 0);
  Mesh mesh;
  for (const double side : {-half, half}) {
    const int first = static_cast<int>(mesh.vertices.size());
    const Vec3 a = box.min() - pad, b = box.max() + pad;
    for (const auto& [x, y] :
         {std::pair{a.x(), a.y()}, {b.x(), a.y()}, {b.x(), b.y()}, {a.x(), b.y()}})
      mesh.vertices.push_back(plan.placement * (frame * Vec3(x, y, side)));
    mesh.triangles.push_back({first, first + 1, first + 2});
    mesh.triangles.push_back({first, first + 2, first + 3});
  }
  mesh.tags.assign(mesh.triangles.size(), 0);
  return mesh;
}

// Axis, plane or centre: what was measured, displaced from the nominal one.
SceneGeometry actualOf(const Plan& plan, const FeatureResult& f, Derived::Kind kind, double factor,
                       const Theme& theme) {
  SceneGeometry g;
  Points line;
  for (const auto& [place, off] : f.samples)
    line.push_back(plan.placement * (place + factor * off));
  g.line_color = theme.verdictColor(f.verdict);
  g.line_width = 3;
  g.on_top = true;
  if (kind == Derived::Kind::Axis && line.size() > 1)
    g.lines.push_back(line);
  else
    for (const Vec3& p : line)
      g.points.push_back({p, theme.verdictColor(f.verdict)});
  return g;
}

} // namespace

std::vector<SceneGeometry> zoneGeometry(const Plan& plan, const Requirement& r,
                                        const FeatureResult& f, double factor, const Theme& theme) {
  const NominalFeature& n = plan.nominal(f.feature);
  const double half = factor * f.allowed / 2;
  if (isDimension(r.kind) || half <= 0) return {};
  if (f.samples.empty()) {
    if (f.deviations.empty() || n.faces.empty()) return {};
    return {zoneOf(movedFaces(plan, n, half), theme), zoneOf(movedFaces(plan, n, -half), theme)};
  }
  Points places;
  for (const auto& sample : f.samples)
    places.push_back(sample.first);
  const Derived nominal = nominalDerived(n);
  SceneGeometry middle; // the nominal place
  middle.line_color = theme.color("second");
  middle.dashed = true;
  middle.on_top = true;
  Mesh zone;
  if (nominal.kind == Derived::Kind::Axis) {
    const auto [first, last] =
        std::minmax_element(places.begin(), places.end(), [&](const Vec3& a, const Vec3& b) {
          return a.dot(nominal.direction) < b.dot(nominal.direction);
        });
    const Vec3 more = 0.15 * std::max(1.0, (*last - *first).norm()) * nominal.direction;
    const Vec3 from = plan.placement * (*first - more), to = plan.placement * (*last + more);
    middle.lines = {{from, to}};
    appendCylinder(zone, from, to, 2 * half);
  } else if (nominal.kind == Derived::Kind::Point) {
    zone = ballMesh(plan.placement * places.front(), half);
  } else {
    zone = between(plan, places, nominal.direction, half);
  }
  SceneGeometry shown = zoneOf(std::move(zone), theme);
  shown.on_top = true; // it lies inside the part
  return {std::move(shown), std::move(middle), actualOf(plan, f, nominal.kind, factor, theme)};
}

} // namespace alder::app
