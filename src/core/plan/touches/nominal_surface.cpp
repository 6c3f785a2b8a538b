#include "plan/touches/nominal_surface.h"

#include <cmath>
#include <map>

namespace alder {
namespace {

double roundDistance(const Ideal& i, const Vec3& p) {
  const Vec3 r = p - i.point;
  const double along = r.dot(i.direction);
  const double rho = (r - along * i.direction).norm();
  double d = 0;
  if (i.type == SurfaceType::Sphere)
    d = r.norm() - i.diameter / 2;
  else
    d = (rho - i.diameter / 2) * std::cos(i.half_angle) - along * std::sin(i.half_angle);
  return i.hole ? -d : d;
}

Vec3 roundNormal(const Ideal& i, const Vec3& p) {
  const Vec3 r = p - i.point;
  Vec3 n;
  if (i.type == SurfaceType::Sphere) {
    n = r.norm() > 1e-12 ? Vec3(r.normalized()) : i.direction;
  } else {
    const Vec3 radial = r - r.dot(i.direction) * i.direction;
    n = radial.norm() > 1e-12 ? Vec3(radial.normalized()) : anyPerpendicular(i.direction);
    n = n * std::cos(i.half_angle) - i.direction * std::sin(i.half_angle);
  }
  return i.hole ? Vec3(-n) : n;
}

} // namespace

struct NominalSurface::Impl {
  PartPtr part;
  NominalFeature feature;
  std::optional<FaceRegion> region; // of CAD faces without ideal geometry; the rest needs none
  Impl(PartPtr p, NominalFeature f)
      : part(std::move(p))
      , feature(std::move(f)) {
    const bool ideal = isRound() || feature.ideal.type == SurfaceType::Plane ||
                       feature.ideal.type == SurfaceType::Slot;
    if (part && !ideal && !feature.faces.empty()) region.emplace(*part, feature.faces);
  }

  bool isRound() const {
    const auto t = feature.ideal.type;
    return t == SurfaceType::Cylinder || t == SurfaceType::Cone || t == SurfaceType::Sphere;
  }
};

NominalSurface::NominalSurface(PartPtr part, NominalFeature feature)
    : impl_(std::make_shared<Impl>(std::move(part), std::move(feature))) {}

double NominalSurface::distance(FaceId face, const Vec3& p) const {
  const Ideal& i = impl_->feature.ideal;
  if (impl_->isRound()) return roundDistance(i, p);
  const double along = (p - i.point).dot(i.direction);
  if (i.type == SurfaceType::Plane) return along;
  if (i.type == SurfaceType::Slot) return (std::abs(along) - i.diameter / 2) * (i.hole ? -1 : 1);
  return impl_->region ? impl_->region->signedDistance(face, p) : 0;
}

Vec3 NominalSurface::normal(FaceId face, const Vec3& p) const {
  if (impl_->isRound()) return roundNormal(impl_->feature.ideal, p);
  const Ideal& i = impl_->feature.ideal;
  if (i.type == SurfaceType::Plane) return i.direction;
  if (i.type == SurfaceType::Slot) {
    const bool far = (p - i.point).dot(i.direction) >= 0;
    return far == i.hole ? Vec3(-i.direction) : i.direction;
  }
  return impl_->region ? impl_->region->normalNear(face, p) : i.direction;
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
  const bool joined = impl_->isRound() || impl_->feature.ideal.type == SurfaceType::Plane ||
                      impl_->feature.ideal.type == SurfaceType::Slot;
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
