#include "bench/solids.h"

#include "base/units.h"
#include <cmath>

namespace alder {

void appendBall(Mesh& mesh, const Vec3& centre, double diameter) {
  constexpr int kRings = 24, kSides = 48;
  // The middle of the largest facet lies this far in.
  const double radius = diameter / 2 / (std::cos(kPi / kRings / 2) * std::cos(kPi / kSides));
  const int first = static_cast<int>(mesh.vertices.size());
  for (int r = 0; r <= kRings; ++r)
    for (int s = 0; s < kSides; ++s) {
      const double polar = kPi * r / kRings, turn = 2 * kPi * s / kSides;
      mesh.vertices.push_back(centre + radius * Vec3(std::sin(polar) * std::cos(turn),
                                                     std::sin(polar) * std::sin(turn),
                                                     std::cos(polar)));
    }
  for (int r = 0; r < kRings; ++r)
    for (int s = 0; s < kSides; ++s) {
      const int a = first + r * kSides + s, b = first + r * kSides + (s + 1) % kSides;
      if (r > 0) mesh.triangles.push_back({a, a + kSides, b});
      if (r < kRings - 1) mesh.triangles.push_back({b, a + kSides, b + kSides});
    }
  mesh.tags.resize(mesh.triangles.size(), 0);
}

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
