// Triangles coloured by deviation: one mesh for each step of the two-sided scale.
#pragma once

#include "stage/scene_object.h"
#include "theme/theme.h"
#include <algorithm>
#include <array>
#include <cmath>

namespace alder::app {

class DeviationMeshes {
 public:
  // `share` of half the tolerance, signed
  Mesh& at(double share) {
    const long step = std::lround(kSteps * std::clamp(share, -1.0, 1.0));
    return meshes_[static_cast<std::size_t>(kSteps + step)];
  }
  // show(geometry) for each that holds anything.
  template <class Show> void take(const Theme& theme, Show&& show) {
    for (int step = -kSteps; step <= kSteps; ++step) {
      SceneGeometry g;
      g.mesh = std::move(meshes_[static_cast<std::size_t>(kSteps + step)]);
      if (g.mesh.triangles.empty()) continue;
      g.mesh_color = theme.deviationColor(static_cast<double>(step) / kSteps);
      show(std::move(g));
    }
  }

 private:
  static constexpr int kSteps = 12; // on either side of zero
  std::array<Mesh, 2 * kSteps + 1> meshes_;
};

inline void addQuad(Mesh& mesh, const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d) {
  const int base = static_cast<int>(mesh.vertices.size());
  mesh.vertices.insert(mesh.vertices.end(), {a, b, c, d});
  mesh.triangles.push_back({base, base + 1, base + 2});
  mesh.triangles.push_back({base, base + 2, base + 3});
  mesh.tags.insert(mesh.tags.end(), {0, 0});
}

} // namespace alder::app
