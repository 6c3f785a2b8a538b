#include "bench/solids.h"

#include "base/units.h"
#include <cmath>

namespace alder {

void appendCylinder(Mesh& mesh, const Vec3& from, const Vec3& to, double diameter) {
  constexpr int sides = 32;
  const Frame frame = frameOf(from, to - from);
  const double length = (to - from).norm(), radius = diameter / 2 / std::cos(kPi / sides);
  const int base = static_cast<int>(mesh.vertices.size());
  mesh.vertices.push_back(from);
  mesh.vertices.push_back(to);
  for (int i = 0; i < sides; ++i) {
    const double angle = 2 * kPi * i / sides;
    const Vec3 rim(radius * std::cos(angle), radius * std::sin(angle), 0);
    mesh.vertices.push_back(frame * rim);
    mesh.vertices.push_back(frame * Vec3(rim + length * Vec3::UnitZ()));
  }
  for (int i = 0; i < sides; ++i) {
    const int a = base + 2 + 2 * i, b = base + 2 + 2 * ((i + 1) % sides);
    for (const auto& t : {std::array{a, b, a + 1}, std::array{b, b + 1, a + 1},
                          std::array{base, b, a}, std::array{base + 1, a + 1, b + 1}}) {
      mesh.triangles.push_back(t);
      mesh.tags.push_back(0);
    }
  }
}

} // namespace alder
