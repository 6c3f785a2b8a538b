// Places of a point cloud in the stage: tiles on the CAD, coloured by their deviation; and the
// surface without any.
#include "stage/stage.h"

#include "stage/deviation_meshes.h"
#include <algorithm>
#include <cmath>
#include <utility>

namespace alder::app {
namespace {

constexpr double kLifted = 0.15;          // over the CAD, mm
constexpr std::size_t kMostWhiskers = 60; // those that are farthest off

// A direction in the surface along which cells lie side by side.
Vec3 alongCells(const Ideal& ideal, const Vec3& normal) {
  Vec3 along = ideal.direction - ideal.direction.dot(normal) * normal;
  if (along.norm() < 0.1) along = std::abs(normal.x()) < 0.9 ? Vec3::UnitX() : Vec3::UnitY();
  return (along - along.dot(normal) * normal).normalized();
}

} // namespace

void Stage::showPlaces() {
  if (map_.features.empty()) return;
  const Plan& plan = document_.plan();
  DeviationMeshes tiles;
  for (const MapFeature& f : map_.features) {
    const Ideal& ideal = plan.nominal(f.feature).ideal;
    for (const std::size_t i : f.places) {
      const MapPlace& place = map_.places[i];
      const Vec3 p = plan.placement * (place.at + kLifted * place.normal),
                 n = turn(plan.placement, place.normal);
      const Vec3 u = 0.52 * f.spacing * turn(plan.placement, alongCells(ideal, place.normal)),
                 v = n.cross(u);
      addQuad(tiles.at(place.share), p - u - v, p + u - v, p + u + v, p - u + v);
    }
  }
  tiles.take(theme_, [&](SceneGeometry g) { showObject(std::move(g)); });
  showUnshown();
  if (document_.section())
    showSection();
  else
    showWhiskers();
}

void Stage::showWhiskers() {
  const Plan& plan = document_.plan();
  std::vector<const MapPlace*> farthest;
  for (const MapFeature& f : map_.features) {
    std::vector<const MapPlace*> own;
    for (const std::size_t i : f.places)
      if (map_.places[i].deviation) own.push_back(&map_.places[i]);
    std::stable_sort(own.begin(), own.end(), [](const MapPlace* a, const MapPlace* b) {
      return std::abs(a->off) > std::abs(b->off);
    });
    farthest.insert(farthest.end(), own.begin(),
                    own.begin() + static_cast<long>(std::min(kMostWhiskers, own.size())));
  }
  SceneGeometry lines;
  for (const MapPlace* place : farthest)
    lines.lines.push_back(
        {plan.placement * place->at,
         plan.placement * (place->at + enlarged(place->off, place->allowed) * place->normal)});
  lines.line_color = theme_.color("second");
  lines.line_width = 1.5;
  showObject(std::move(lines));
}

// Surface of the features on the map that no place stands for.
void Stage::showUnshown() {
  const Plan& plan = document_.plan();
  const UnshownSurface unshown = unshownSurface(plan, map_, document_.leftOutOfMap());
  not_seen_ = unshown.not_seen, left_out_ = unshown.left_out;
  for (const auto& [why, color] :
       {std::pair{Unshown::NotSeen, "unmeasured"}, {Unshown::LeftOut, "wait"}}) {
    SceneGeometry g;
    g.mesh_color = theme_.color(color);
    for (std::size_t i = 0; i < unshown.mesh.triangles.size(); ++i) {
      if (unshown.mesh.tags[i] != static_cast<int>(why)) continue;
      const Triangle t = unshown.mesh.triangle(i);
      const Vec3 lift = 0.5 * kLifted * (t.b - t.a).cross(t.c - t.a).normalized();
      const int base = static_cast<int>(g.mesh.vertices.size());
      for (const Vec3& corner : {t.a, t.b, t.c})
        g.mesh.vertices.push_back(plan.placement * (corner + lift));
      g.mesh.triangles.push_back({base, base + 1, base + 2});
      g.mesh.tags.push_back(0);
    }
    showObject(std::move(g));
  }
}

std::vector<MapPlace> Stage::worstPlaces(std::size_t most) const {
  constexpr double kApart = 6; // spacings
  if (map_.places.empty() || !view_->ready()) return {};
  const gp_Dir d = view_->view()->Camera()->Direction();
  const Frame& placement = document_.plan().placement;
  const Vec3 eye = turn(placement.inverse(), Vec3(d.X(), d.Y(), d.Z()));
  double apart = 0;
  for (const MapFeature& f : map_.features)
    apart = std::max(apart, kApart * f.spacing);
  std::vector<const MapPlace*> facing;
  for (const MapPlace& p : map_.places)
    if (p.deviation && p.normal.dot(eye) < -0.15 && isKept(p.at)) facing.push_back(&p);
  std::stable_sort(facing.begin(), facing.end(), [](const MapPlace* a, const MapPlace* b) {
    return std::abs(a->share) > std::abs(b->share);
  });
  std::vector<MapPlace> worst;
  for (const MapPlace* p : facing) {
    if (worst.size() >= most) break;
    const bool near = std::any_of(worst.begin(), worst.end(), [&](const MapPlace& other) {
      return (other.at - p->at).norm() < apart;
    });
    if (!near) worst.push_back(*p);
  }
  return worst;
}

bool Stage::findUnderMouse() {
  const auto before = std::exchange(under_mouse_, std::nullopt);
  if (const auto at = map_.places.empty() ? std::nullopt : pickedPlace()) {
    double least = 1e300;
    for (const MapFeature& f : map_.features)
      for (const std::size_t i : f.places)
        if (const double d = (map_.places[i].at - *at).norm();
            d < f.spacing && d < least && map_.places[i].deviation)
          least = d, under_mouse_ = i;
  }
  return under_mouse_ != before;
}

std::optional<MapPlace> Stage::placeUnderMouse() const {
  if (!under_mouse_ || *under_mouse_ >= map_.places.size()) return {};
  return map_.places[*under_mouse_];
}

} // namespace alder::app
