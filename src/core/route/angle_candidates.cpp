#include "route/angle_candidates.h"

#include "base/units.h"
#include <algorithm>
#include <cmath>

namespace alder {

bool sameAccess(const Access& a, const Access& b) {
  return a.stylus == b.stylus && a.tip == b.tip && std::abs(a.a - b.a) < 1e-9 &&
         std::abs(a.b - b.b) < 1e-9;
}

// Straight tips, shortest stylus first.
std::vector<Access> AngleCandidates::straightTips() const {
  std::vector<std::pair<double, Access>> tips;
  for (std::size_t s = 0; s < plan_.bench.styli.size(); ++s)
    for (std::size_t t = 0; t < plan_.bench.styli[s].tips.size(); ++t) {
      const Tip& tip = plan_.bench.styli[s].tips[t];
      // Styli with several tips are for where the simple ones do not reach.
      const double rank =
          tip.pivot_to_ball.norm() + (plan_.bench.styli[s].tips.size() > 1 ? 1e3 : 0);
      if (tip.straight()) tips.push_back({rank, {static_cast<int>(s), static_cast<int>(t), 0, 0}});
    }
  std::stable_sort(tips.begin(), tips.end(), [](auto& a, auto& b) { return a.first < b.first; });
  std::vector<Access> result;
  for (const auto& [rank, access] : tips)
    result.push_back(access);
  return result;
}

std::vector<Access> AngleCandidates::straightDown() const {
  std::vector<Access> result;
  for (Access a : straightTips()) {
    a.a = plan_.bench.head.a.nearest(0);
    a.b = plan_.bench.head.b.nearest(0);
    if (std::abs(a.a) < radians(8)) result.push_back(a);
  }
  return result;
}

std::optional<Access> AngleCandidates::along(Access tip, const Vec3& shank) const {
  // shank = -(sin A sin B, -sin A cos B, -cos A)
  const double a = std::acos(std::clamp(shank.z(), -1.0, 1.0));
  const double b = std::sin(a) < 1e-9 ? 0 : std::atan2(-shank.x(), shank.y());
  tip.a = plan_.bench.head.a.nearest(a);
  tip.b = plan_.bench.head.b.nearest(b);
  if (std::abs(tip.a - a) > radians(20)) return {};
  return tip;
}

// Directions from which the feature may be touched, the natural ones first (machine frame).
std::vector<Vec3> AngleCandidates::directions(const Ideal& i, const Vec3& mean_normal) const {
  const Vec3 d = turn(plan_.placement, i.direction);
  std::vector<Vec3> result;
  if (i.type == SurfaceType::Cylinder || i.type == SurfaceType::Cone) result = {d, -d};
  const Vec3 normal = i.type == SurfaceType::Plane || i.type == SurfaceType::Slot ? d : mean_normal;
  if (!i.hole && normal.norm() > 0.1) result.push_back(normal.normalized());
  for (double a : {45.0, 90.0, 60.0, 75.0, 30.0, 105.0})
    for (int k = 0; k < 8; ++k) {
      const double b = k * kPi / 4;
      result.push_back(-Vec3(std::sin(radians(a)) * std::sin(b),
                             -std::sin(radians(a)) * std::cos(b), -std::cos(radians(a))));
    }
  // around a hole's axis only what still fits into it
  if (i.hole && (i.type == SurfaceType::Cylinder))
    std::erase_if(result,
                  [&](const Vec3& v) { return std::abs(v.dot(d)) < std::cos(radians(25)); });
  return result;
}

// Side tips by the head angles that bring their shank nearest to a direction of the feature,
// within twenty degrees; on a raster of fifteen.
std::vector<Access> AngleCandidates::sideways(const std::vector<Vec3>& directions) const {
  std::vector<Access> result;
  const Head& head = plan_.bench.head;
  for (std::size_t s = 0; s < plan_.bench.styli.size(); ++s)
    for (std::size_t t = 0; t < plan_.bench.styli[s].tips.size(); ++t) {
      const Tip& tip = plan_.bench.styli[s].tips[t];
      if (tip.straight()) continue;
      std::vector<std::pair<Access, Vec3>> raster;
      for (int a = 0; a <= 105; a += 15)
        for (int b = -180; b < 180; b += 15) {
          const Access x{static_cast<int>(s), static_cast<int>(t), head.a.nearest(radians(a)),
                         head.b.nearest(radians(b))};
          raster.emplace_back(x, shankDirection(tip, x.a, x.b));
        }
      for (const Vec3& d : directions) {
        const auto best =
            std::max_element(raster.begin(), raster.end(), [&](const auto& x, const auto& y) {
              return x.second.dot(d) < y.second.dot(d) - 1e-9;
            });
        if (best == raster.end() || best->second.dot(d) < std::cos(radians(20))) continue;
        if (std::none_of(result.begin(), result.end(),
                         [&](const Access& o) { return sameAccess(o, best->first); }))
          result.push_back(best->first);
      }
    }
  return result;
}

std::vector<Access> AngleCandidates::turned(const std::vector<Vec3>& directions) const {
  std::vector<Access> result;
  for (const Access& tip : straightTips())
    for (const Vec3& d : directions)
      if (const auto a = along(tip, d))
        if (std::none_of(result.begin(), result.end(),
                         [&](const Access& o) { return sameAccess(o, *a); }))
          result.push_back(*a);
  return result;
}

} // namespace alder
