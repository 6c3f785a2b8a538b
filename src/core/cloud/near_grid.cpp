#include "cloud/near_grid.h"

#include <cmath>
#include <tbb/parallel_for.h>

namespace alder {

NearGrid::NearGrid(const NearestSurface& surface, double reach)
    : mesh_(surface.part().mesh) {
  const Box3 box = mesh_.box();
  low_ = box.min() - Vec3::Constant(reach);
  const Vec3 sizes = box.sizes() + Vec3::Constant(2 * reach);
  step_ = sizes.maxCoeff() / kAcross;
  for (std::size_t k = 0; k < 3; ++k)
    n_[k] = static_cast<int>(sizes[static_cast<int>(k)] / step_) + 1;
  triangle_.assign(static_cast<std::size_t>(n_[0]) * static_cast<std::size_t>(n_[1]) *
                       static_cast<std::size_t>(n_[2]),
                   -1);
  const double within = reach + step_;
  tbb::parallel_for(0, n_[0], [&](int x) {
    NearestSurface::Asker asker(surface);
    for (int y = 0; y < n_[1]; ++y)
      for (int z = 0; z < n_[2]; ++z) {
        const Vec3 middle = low_ + step_ * Vec3(x + 0.5, y + 0.5, z + 0.5);
        if (const auto near = asker.roughly(middle, within))
          triangle_[(static_cast<std::size_t>(x) * static_cast<std::size_t>(n_[1]) +
                     static_cast<std::size_t>(y)) *
                        static_cast<std::size_t>(n_[2]) +
                    static_cast<std::size_t>(z)] = near->triangle;
      }
  });
}

std::optional<Closest> NearGrid::at(const Vec3& point, double within) const {
  std::size_t cube = 0;
  for (std::size_t k = 0; k < 3; ++k) {
    const double v = (point[static_cast<int>(k)] - low_[static_cast<int>(k)]) / step_;
    if (!(v >= 0) || v >= n_[k]) return {};
    cube = cube * static_cast<std::size_t>(n_[k]) + static_cast<std::size_t>(v);
  }
  const int t = triangle_[cube];
  if (t < 0) return {};
  const Vec3 foot = closestOnTriangle(point, mesh_.triangle(static_cast<std::size_t>(t)));
  const double distance = (foot - point).norm();
  if (distance >= within) return {};
  return Closest{distance, foot, t, 0};
}

} // namespace alder
