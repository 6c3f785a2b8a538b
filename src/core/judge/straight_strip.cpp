#include "judge/straight_strip.h"

#include <algorithm>
#include <cmath>

namespace alder {
namespace {

using Point = std::pair<double, double>;

double cross(const Point& o, const Point& a, const Point& b) {
  return (a.first - o.first) * (b.second - o.second) - (a.second - o.second) * (b.first - o.first);
}

} // namespace

double narrowestStrip(PlanePoints points) {
  const PlanePoints h = convexHull(std::move(points));
  if (h.size() < 3) return 0;
  double best = 1e300;
  std::size_t far = 1;
  for (std::size_t i = 0; i < h.size(); ++i) {
    const Point &a = h[i], &b = h[(i + 1) % h.size()];
    while (cross(a, b, h[(far + 1) % h.size()]) > cross(a, b, h[far]))
      far = (far + 1) % h.size();
    best = std::min(best, cross(a, b, h[far]) / std::hypot(b.first - a.first, b.second - a.second));
  }
  return best;
}

double leastSquaresStrip(const PlanePoints& points) {
  double x = 0, y = 0;
  for (const auto& [u, v] : points)
    x += u, y += v;
  x /= static_cast<double>(points.size()), y /= static_cast<double>(points.size());
  double xx = 0, xy = 0, yy = 0;
  for (const auto& [u, v] : points)
    xx += (u - x) * (u - x), xy += (u - x) * (v - y), yy += (v - y) * (v - y);
  const double angle = std::atan2(2 * xy, xx - yy) / 2; // of the line
  double low = 1e300, high = -1e300;
  for (const auto& [u, v] : points) {
    const double d = -std::sin(angle) * (u - x) + std::cos(angle) * (v - y);
    low = std::min(low, d), high = std::max(high, d);
  }
  return points.empty() ? 0 : high - low;
}

} // namespace alder
