#include "plan/nominal_surface.h"

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
  FaceRegion region;
  Impl(PartPtr p, NominalFeature f)
      : part(std::move(p))
      , feature(std::move(f))
      , region(*part, feature.faces) {}

  bool isRound() const {
    const auto t = feature.ideal.type;
    return t == SurfaceType::Cylinder || t == SurfaceType::Cone || t == SurfaceType::Sphere;
  }
  const Ideal& planeOf(FaceId face) const {
    return feature.ideal.type == SurfaceType::Plane ? feature.ideal : part->face(face).ideal;
  }
};

NominalSurface::NominalSurface(PartPtr part, NominalFeature feature)
    : impl_(std::make_shared<Impl>(std::move(part), std::move(feature))) {}

double NominalSurface::distance(FaceId face, const Vec3& p) const {
  if (impl_->isRound()) return roundDistance(impl_->feature.ideal, p);
  const auto type = impl_->feature.ideal.type;
  if (type == SurfaceType::Plane || type == SurfaceType::Slot) {
    const Ideal& plane = impl_->planeOf(face);
    return (p - plane.point).dot(plane.direction);
  }
  return impl_->region.signedDistance(face, p);
}

Vec3 NominalSurface::normal(FaceId face, const Vec3& p) const {
  if (impl_->isRound()) return roundNormal(impl_->feature.ideal, p);
  const auto type = impl_->feature.ideal.type;
  if (type == SurfaceType::Plane || type == SurfaceType::Slot)
    return impl_->planeOf(face).direction;
  return impl_->region.normalNear(face, p);
}

bool NominalSurface::hasSize() const {
  const auto t = impl_->feature.ideal.type;
  return t == SurfaceType::Cylinder || t == SurfaceType::Sphere || t == SurfaceType::Slot;
}

std::vector<SurfacePoints>
NominalSurface::group(const Points& points, const std::vector<FaceId>& faces, double offset) const {
  std::map<FaceId, SurfacePoints> by_face;
  const FaceId first = impl_->feature.faces.front();
  // Both sides of a slot share one size, so they stay one group; their face is found from the side.
  const bool joined = impl_->isRound() || impl_->feature.ideal.type == SurfaceType::Plane ||
                      impl_->feature.ideal.type == SurfaceType::Slot;
  for (std::size_t i = 0; i < points.size(); ++i) {
    const FaceId face = i < faces.size() && faces[i].valid() ? faces[i] : first;
    by_face[joined ? first : face].points.push_back(points[i]);
  }
  std::vector<SurfacePoints> result;
  for (auto& [face, group] : by_face) {
    const NominalSurface self = *this;
    const bool slot = impl_->feature.ideal.type == SurfaceType::Slot;
    const FaceId own = face;
    const auto faceAt = [self, slot, own](const Vec3& p) { return slot ? self.sideOf(p) : own; };
    group.distance = [self, faceAt](const Vec3& p) { return self.distance(faceAt(p), p); };
    group.normal = [self, faceAt](const Vec3& p) { return self.normal(faceAt(p), p); };
    group.offset = offset;
    group.free_size = hasSize();
    result.push_back(std::move(group));
  }
  return result;
}

FaceId NominalSurface::sideOf(const Vec3& p) const {
  FaceId best = impl_->feature.faces.front();
  double nearest = 1e300;
  for (FaceId f : impl_->feature.faces) {
    const Ideal& plane = impl_->part->face(f).ideal;
    const double d = std::abs((p - plane.point).dot(plane.direction));
    if (d < nearest - 1e-9) nearest = d, best = f;
  }
  return best;
}

} // namespace alder
