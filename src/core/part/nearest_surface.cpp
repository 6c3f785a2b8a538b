#include "part/nearest_surface.h"

#include "part/ideal_distance.h"
#include "part/surface_foot.h"
#include <unordered_map>

namespace alder {

NearestSurface::NearestSurface(PartPtr part)
    : part_(std::move(part))
    , tree_(part_->mesh) {}
NearestSurface::~NearestSurface() = default;

struct NearestSurface::Asker::Impl {
  const NearestSurface& of;
  int hint = -1;
  // Made when first needed; each remembers where it was asked last, so that no two threads share
  // one.
  std::unordered_map<int, std::unique_ptr<SurfaceFoot>> feet;

  const SurfaceFoot& footOn(FaceId face) {
    auto& foot = feet[static_cast<int>(face.value)];
    if (!foot) foot = std::make_unique<SurfaceFoot>(of.part().shapeOf(face));
    return *foot;
  }
};

NearestSurface::Asker::Asker(const NearestSurface& of)
    : impl_(new Impl{of, -1, {}}) {}
NearestSurface::Asker::~Asker() = default;

std::optional<Closest> NearestSurface::Asker::roughly(const Vec3& point, double within) {
  return impl_->of.tree_.closest(point, within, &impl_->hint);
}

std::optional<NearestSurface::Foot> NearestSurface::Asker::on(FaceId face, const Vec3& point) {
  const Ideal& ideal = impl_->of.part().face(face).ideal;
  if (hasIdealDistance(ideal.type)) {
    const double d = signedDistance(ideal, point);
    const Vec3 n = outwardNormal(ideal, point);
    return Foot{face, d, point - d * n, n};
  }
  const auto foot = impl_->footOn(face).at(point);
  if (!foot) return {};
  return Foot{face, (point - foot->point).dot(foot->normal), foot->point, foot->normal};
}

std::optional<NearestSurface::Foot> NearestSurface::Asker::at(const Vec3& point, double within,
                                                              const Vec3* facing) {
  const auto near = impl_->of.tree_.closest(point, within, &impl_->hint, facing);
  if (!near) return {};
  auto foot = on(FaceId{near->tag}, point);
  if (foot && std::abs(foot->distance) > within) return {};
  return foot;
}

} // namespace alder
