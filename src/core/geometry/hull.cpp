#include "geometry/hull.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace alder {
namespace {

double turnOf(const std::pair<double, double>& o, const std::pair<double, double>& a,
              const std::pair<double, double>& b) {
  return (a.first - o.first) * (b.second - o.second) - (a.second - o.second) * (b.first - o.first);
}

} // namespace

PlanePoints convexHull(PlanePoints points) {
  std::sort(points.begin(), points.end());
  points.erase(std::unique(points.begin(), points.end()), points.end());
  if (points.size() < 3) return points;
  PlanePoints out;
  for (int pass = 0; pass < 2; ++pass) {
    const std::size_t start = out.size();
    for (const auto& p : points) {
      while (out.size() >= start + 2 && turnOf(out[out.size() - 2], out.back(), p) <= 0)
        out.pop_back();
      out.push_back(p);
    }
    out.pop_back();
    std::reverse(points.begin(), points.end());
  }
  return out;
}

// The smallest rectangle has a side along one of the hull (Freeman and Shapira, 1975).
double longerSideOfBox(const PlanePoints& points) {
  const PlanePoints hull = convexHull(points);
  double area = std::numeric_limits<double>::infinity(), longer = 0;
  for (std::size_t i = 0; i < hull.size(); ++i) {
    const auto &a = hull[i], &b = hull[(i + 1) % hull.size()];
    const double length = std::hypot(b.first - a.first, b.second - a.second);
    if (length < 1e-9) continue;
    const double x = (b.first - a.first) / length, y = (b.second - a.second) / length;
    double low_u = 1e300, high_u = -1e300, low_v = 1e300, high_v = -1e300;
    for (const auto& [px, py] : hull) {
      const double u = x * px + y * py, v = x * py - y * px;
      low_u = std::min(low_u, u), high_u = std::max(high_u, u);
      low_v = std::min(low_v, v), high_v = std::max(high_v, v);
    }
    const double w = high_u - low_u, h = high_v - low_v;
    if (w * h < area - 1e-9) area = w * h, longer = std::max(w, h);
  }
  return longer;
}

} // namespace alder
