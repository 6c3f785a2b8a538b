#include "plan/repeats/copy_finder.h"

#include "part/recognise.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

constexpr double kOff = 0.02;      // mm between a place and the surface that it should lie on
constexpr double kSameSize = 0.01; // mm
constexpr int kSamples = 12;       // where a feature has no touches

bool sameSize(const Ideal& a, const Ideal& b) {
  return a.type == b.type && a.hole == b.hole && std::abs(a.diameter - b.diameter) < kSameSize &&
         std::abs(a.half_angle - b.half_angle) < 1e-3;
}

} // namespace

const FaceRegion& CopyFinder::region(FaceId face) {
  auto found = regions_.find(face);
  if (found == regions_.end())
    found = regions_.emplace(face, FaceRegion(*plan_.part, {face})).first;
  return found->second;
}

std::optional<FaceId> CopyFinder::faceAt(const Vec3& place, const Vec3& normal) {
  for (const Face& face : plan_.part->faces) {
    Box3 box = face.box;
    box.min().array() -= kOff, box.max().array() += kOff;
    if (!box.contains(place) || !plan_.part->takes(face.id)) continue;
    const auto s = region(face.id).at(place, kOff);
    if (s && s->normal.dot(normal) > 0.99) return face.id;
  }
  return {};
}

CopyFinder::Found CopyFinder::find(FeatureId original, const Motion& motion) {
  const NominalFeature& n = plan_.nominal(original);
  std::vector<std::pair<Vec3, Vec3>> places;
  for (const Touch& t : plan_.feature(original).touches)
    places.emplace_back(t.point, t.normal);
  if (places.empty() && !n.faces.empty())
    for (const SurfacePoint& s : FaceRegion(*plan_.part, n.faces).grid(kSamples))
      places.emplace_back(s.point, s.normal);
  Found found;
  std::vector<FaceId> faces;
  for (const auto& [point, normal] : places)
    if (const auto face = faceAt(motion.place(point), motion.direction(normal).normalized()))
      faces.push_back(*face);
  if (2 * faces.size() < places.size() || faces.empty()) {
    found.why = "the part has no surface there";
    return found;
  }
  std::sort(faces.begin(), faces.end());
  faces.erase(std::unique(faces.begin(), faces.end()), faces.end());
  const bool slot = n.ideal.type == SurfaceType::Slot;
  auto surfaces =
      surfacesOf(*plan_.part, faces, slot ? Grouping::SlotIfParallel : Grouping::Surfaces);
  if (surfaces.size() != 1 || !sameSize(surfaces.front().ideal, n.ideal)) {
    found.why = "what lies there is not its like";
    return found;
  }
  found.surface = std::move(surfaces.front());
  for (const NominalFeature& f : plan_.spec.features)
    if (!f.isConstructed() && f.ideal.type == n.ideal.type &&
        std::includes(f.faces.begin(), f.faces.end(), faces.begin(), faces.end()))
      found.feature = f.id;
  return found;
}

std::vector<Surface> CopyFinder::alike(FeatureId feature) const {
  const NominalFeature& n = plan_.nominal(feature);
  std::vector<Surface> found;
  if (n.ideal.diameter <= 0) return found;
  for (const Surface& s : plan_.part->surfaces) {
    const bool own = std::any_of(s.faces.begin(), s.faces.end(), [&](FaceId f) {
      return std::binary_search(n.faces.begin(), n.faces.end(), f);
    });
    if (!own && sameSize(s.ideal, n.ideal) &&
        std::abs(s.ideal.length - n.ideal.length) < kSameSize &&
        std::abs(s.ideal.direction.dot(n.ideal.direction)) > 1 - 1e-9)
      found.push_back(s);
  }
  return found;
}

} // namespace alder
