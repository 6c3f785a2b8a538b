#include "plan/touches/nominal_surface.h"

#include "part/ideal_distance.h"
#include <map>

namespace alder {

struct NominalSurface::Impl {
  PartPtr part;
  NominalFeature feature;
  std::optional<FaceRegion> region; // of CAD faces without ideal geometry; the rest needs none
  Impl(PartPtr p, NominalFeature f)
      : part(std::move(p))
      , feature(std::move(f)) {
    if (part && !isIdeal() && !feature.faces.empty()) region.emplace(*part, feature.faces);
  }

  bool isIdeal() const { return hasIdealDistance(feature.ideal.type); }
};

NominalSurface::NominalSurface(PartPtr part, NominalFeature feature)
    : impl_(std::make_shared<Impl>(std::move(part), std::move(feature))) {}

double NominalSurface::distance(FaceId face, const Vec3& p) const {
  if (impl_->isIdeal()) return signedDistance(impl_->feature.ideal, p);
  return impl_->region ? impl_->region->signedDistance(face, p) : 0;
}

Vec3 NominalSurface::normal(FaceId face, const Vec3& p) const {
  if (impl_->isIdeal()) return outwardNormal(impl_->feature.ideal, p);
  return impl_->region ? impl_->region->normalNear(face, p) : impl_->feature.ideal.direction;
}

bool NominalSurface::hasSize() const {
  const auto t = impl_->feature.ideal.type;
  return t == SurfaceType::Cylinder || t == SurfaceType::Sphere || t == SurfaceType::Slot;
}

std::vector<SurfacePoints>
NominalSurface::group(const Points& points, const std::vector<FaceId>& faces, double offset) const {
  std::map<FaceId, SurfacePoints> by_face;
  const FaceId first = impl_->feature.faces.empty() ? FaceId{} : impl_->feature.faces.front();
  // Both sides of a slot share one size, so they stay one group.
  const bool joined = impl_->isIdeal();
  for (std::size_t i = 0; i < points.size(); ++i) {
    const FaceId face = i < faces.size() && faces[i].valid() ? faces[i] : first;
    by_face[joined ? first : face].points.push_back(points[i]);
  }
  std::vector<SurfacePoints> result;
  for (auto& [face, group] : by_face) {
    const NominalSurface self = *this;
    const FaceId own = face;
    group.distance = [self, own](const Vec3& p) { return self.distance(own, p); };
    group.normal = [self, own](const Vec3& p) { return self.normal(own, p); };
    group.offset = offset;
    group.free_size = hasSize();
    const Ideal& i = impl_->feature.ideal;
    // A circle or a line passes for a cylinder here; the direction of one is not its own to choose.
    const bool cylinder = i.type == SurfaceType::Cylinder && i.length > 0 && i.diameter > 0;
    if (cylinder || i.type == SurfaceType::Sphere)
      group.round =
          RoundSurface{cylinder ? Shape::Cylinder : Shape::Sphere, i.point, i.direction, i.hole};
    result.push_back(std::move(group));
  }
  return result;
}

} // namespace alder
