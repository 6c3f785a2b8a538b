// Places of a point cloud in the stage: tiles on the CAD, coloured by their deviation.
#include "stage/stage.h"

#include "plan/touches/nominal_surface.h"
#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

namespace alder::app {
namespace {

constexpr int kSteps = 12;                // of the colour on either side of zero
constexpr double kLifted = 0.15;          // over the CAD, mm
constexpr std::size_t kMostWhiskers = 60; // of a feature, those that are farthest off

// How far apart the places are: the median over some of them of the distance to the nearest other.
double spacingOf(const Points& places) {
  std::vector<double> nearest;
  for (std::size_t i = 0; i < places.size(); i += 1 + places.size() / 40) {
    double least = 1e300;
    for (std::size_t k = 0; k < places.size(); ++k)
      if (k != i) least = std::min(least, (places[k] - places[i]).squaredNorm());
    nearest.push_back(std::sqrt(least));
  }
  if (nearest.empty()) return 1;
  const auto middle = nearest.begin() + static_cast<long>(nearest.size() / 2);
  std::nth_element(nearest.begin(), middle, nearest.end());
  return std::min(*middle, 20.0);
}

// A direction in the surface along which cells lie side by side.
Vec3 alongCells(const Ideal& ideal, const Vec3& normal) {
  Vec3 along = ideal.direction - ideal.direction.dot(normal) * normal;
  if (along.norm() < 0.1) along = std::abs(normal.x()) < 0.9 ? Vec3::UnitX() : Vec3::UnitY();
  return (along - along.dot(normal) * normal).normalized();
}

void addTile(Mesh& mesh, const Vec3& at, const Vec3& u, const Vec3& v) {
  const int base = static_cast<int>(mesh.vertices.size());
  for (const auto& [a, b] : {std::pair{-1, -1}, {1, -1}, {1, 1}, {-1, 1}})
    mesh.vertices.push_back(at + a * u + b * v);
  mesh.triangles.push_back({base, base + 1, base + 2});
  mesh.triangles.push_back({base, base + 2, base + 3});
  mesh.tags.insert(mesh.tags.end(), {0, 0});
}

} // namespace

bool Stage::isCloud(const MeasuredFeature& measured) {
  return !measured.noise.empty();
}

void Stage::showPlaces(const FeatureResult& f, const MeasuredFeature& m) {
  const Plan& plan = document_.plan();
  const NominalFeature& nominal = plan.nominal(f.feature);
  const NominalSurface surface(plan.part, nominal);
  const double half = std::max(f.allowed / 2, 1e-9);
  const double side = 0.52 * spacingOf(m.nominals);
  place_side_ = std::max(place_side_, 2 * side);
  std::array<Mesh, 2 * kSteps + 1> tiles;
  std::vector<std::pair<double, Points>> whiskers; // by how far off
  for (std::size_t i = 0; i < m.points.size() && i < m.nominals.size(); ++i) {
    const bool own = i < f.deviations.size();
    if (own && !std::isfinite(f.deviations[i])) continue; // left out as an outlier
    const double off = own ? f.deviations[i] - f.moved : 0;
    const double share = own ? off / half : (f.share > 1 ? 1.0 : 0.0);
    const Vec3 normal = surface.normal(i < m.faces.size() ? m.faces[i] : FaceId{}, m.nominals[i]);
    const Vec3 p = plan.placement * m.nominals[i], n = turn(plan.placement, normal);
    const Vec3 u = side * turn(plan.placement, alongCells(nominal.ideal, normal));
    const auto step =
        static_cast<std::size_t>(kSteps + std::lround(kSteps * std::clamp(share, -1.0, 1.0)));
    addTile(tiles[step], p + kLifted * n, u, n.cross(u));
    if (own) places_.push_back({p, n, f.deviations[i], share});
    const double shown =
        exaggerationFor(f.allowed) *
        (document_.exaggeration() > 0 ? off : std::clamp(off, -3 * half, 3 * half));
    if (own) whiskers.push_back({std::abs(off), {p, p + n * shown}});
  }
  for (int step = -kSteps; step <= kSteps; ++step) {
    SceneGeometry g;
    g.mesh = std::move(tiles[static_cast<std::size_t>(kSteps + step)]);
    if (g.mesh.triangles.empty()) continue;
    g.mesh_color = theme_.deviationColor(static_cast<double>(step) / kSteps);
    showObject(std::move(g));
  }
  std::stable_sort(whiskers.begin(), whiskers.end(),
                   [](const auto& a, const auto& b) { return a.first > b.first; });
  SceneGeometry lines;
  for (std::size_t i = 0; i < std::min(kMostWhiskers, whiskers.size()); ++i)
    lines.lines.push_back(std::move(whiskers[i].second));
  lines.line_color = theme_.color("second");
  lines.line_width = 1.5;
  showObject(std::move(lines));
}

std::vector<Stage::ShownPlace> Stage::worstPlaces(std::size_t most) const {
  constexpr double kApart = 6; // sides of a tile
  if (places_.empty() || !view_->ready()) return {};
  const gp_Dir d = view_->view()->Camera()->Direction();
  const Vec3 eye(d.X(), d.Y(), d.Z());
  std::vector<const ShownPlace*> facing;
  for (const ShownPlace& p : places_)
    if (p.normal.dot(eye) < -0.15) facing.push_back(&p);
  std::stable_sort(facing.begin(), facing.end(), [](const ShownPlace* a, const ShownPlace* b) {
    return std::abs(a->share) > std::abs(b->share);
  });
  std::vector<ShownPlace> worst;
  for (const ShownPlace* p : facing) {
    if (worst.size() >= most) break;
    const bool near = std::any_of(worst.begin(), worst.end(), [&](const ShownPlace& other) {
      return (other.at - p->at).norm() < kApart * place_side_;
    });
    if (!near) worst.push_back(*p);
  }
  return worst;
}

bool Stage::findUnderMouse() {
  const auto before = std::exchange(under_mouse_, std::nullopt);
  if (const auto picked = places_.empty() ? std::nullopt : pickedPlace()) {
    const Vec3 at = document_.plan().placement * *picked;
    double least = place_side_ * place_side_;
    for (std::size_t i = 0; i < places_.size(); ++i)
      if (const double d = (places_[i].at - at).squaredNorm(); d < least)
        least = d, under_mouse_ = i;
  }
  return under_mouse_ != before;
}

std::optional<Stage::ShownPlace> Stage::placeUnderMouse() const {
  if (!under_mouse_ || *under_mouse_ >= places_.size()) return {};
  return places_[*under_mouse_];
}

} // namespace alder::app
