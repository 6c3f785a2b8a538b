#include "geometry/outline.h"

#include <algorithm>
#include <array>

namespace alder {
namespace {

double turnLeft(const Vec3& a, const Vec3& b, const Vec3& c) {
  return (b.x() - a.x()) * (c.y() - a.y()) - (b.y() - a.y()) * (c.x() - a.x());
}

// Points that can lie on the outline: those inside the quadrilateral of the four outermost along
// the diagonals cannot (Akl and Toussaint 1978).
Points candidates(const Points& points) {
  std::array<Vec3, 4> most{points.front(), points.front(), points.front(), points.front()};
  static constexpr std::array<std::array<double, 2>, 4> kDiagonals{
      {{-1, -1}, {1, -1}, {1, 1}, {-1, 1}}};
  for (const Vec3& p : points)
    for (std::size_t k = 0; k < 4; ++k) {
      const auto along = [&](const Vec3& q) {
        return kDiagonals[k][0] * q.x() + kDiagonals[k][1] * q.y();
      };
      if (along(p) > along(most[k])) most[k] = p;
    }
  Points left;
  std::copy_if(points.begin(), points.end(), std::back_inserter(left), [&](const Vec3& p) {
    for (std::size_t k = 0; k < 4; ++k)
      if (turnLeft(most[k], most[(k + 1) % 4], p) <= 0) return true;
    return false;
  });
  return left;
}

} // namespace

Points convexOutline(const Points& points) {
  if (points.empty()) return {};
  Points p = candidates(points);
  std::sort(p.begin(), p.end(), [](const Vec3& a, const Vec3& b) {
    return a.x() != b.x() ? a.x() < b.x() : a.y() < b.y();
  });
  p.erase(std::unique(p.begin(), p.end(),
                      [](const Vec3& a, const Vec3& b) { return a.head<2>() == b.head<2>(); }),
          p.end());
  if (p.size() < 3) return p;
  Points ring;
  const auto chain = [&](auto first, auto last) {
    const std::size_t from = ring.size();
    for (; first != last; ++first) {
      while (ring.size() >= from + 2 && turnLeft(ring[ring.size() - 2], ring.back(), *first) <= 0)
        ring.pop_back();
      ring.push_back(*first);
    }
    ring.pop_back(); // begins the other chain
  };
  chain(p.begin(), p.end());
  chain(p.rbegin(), p.rend());
  return ring;
}

} // namespace alder
