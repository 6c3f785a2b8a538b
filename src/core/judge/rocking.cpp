#include "judge/rocking.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <optional>
#include <set>

namespace alder {
namespace {

constexpr std::size_t kMostFacets = 4000; // a scanned surface has more than anyone can try
constexpr std::size_t kMostPlanes = 60;

using Edge = std::pair<std::size_t, std::size_t>;
using Contact3 = std::array<std::size_t, 3>;

double across(const Vec3& a, const Vec3& b, const Vec3& p) {
  return (b.x() - a.x()) * (p.y() - a.y()) - (b.y() - a.y()) * (p.x() - a.x());
}

// Grids put many points in one plane or line, where the hull is not unique: each is moved by less
// than any figure shows, always alike.
Points stirred(Points points) {
  unsigned state = 12345;
  const auto next = [&] {
    state = state * 1664525u + 1013904223u;
    return static_cast<double>(state >> 8) / (1u << 24) - 0.5;
  };
  for (Vec3& p : points)
    for (int k = 0; k < 3; ++k)
      p[k] += 2e-9 * next();
  return points;
}

// The facets of the upper hull, by wrapping from the outline inwards (Chand and Kapur 1970).
class UpperHull {
 public:
  explicit UpperHull(const Points& points)
      : p_(points) {}

  std::vector<Contact3> facets() {
    std::size_t first = 0;
    for (std::size_t i = 1; i < p_.size(); ++i)
      if (p_[i].x() < p_[first].x()) first = i;
    std::size_t second = first == 0 ? 1 : 0; // all others lie left of first -> second
    for (std::size_t i = 0; i < p_.size(); ++i)
      if (i != first && i != second && across(p_[first], p_[second], p_[i]) < 0) second = i;
    open_.push_back({first, second});
    while (!open_.empty() && all_.size() < kMostFacets) {
      const Edge edge = open_.back();
      open_.pop_back();
      if (done_.count(edge)) continue;
      done_.insert(edge);
      if (const auto third = highest(edge)) add(edge, *third);
    }
    return std::move(all_);
  }

 private:
  // Left of the edge the point for which the plane has no other above it.
  std::optional<std::size_t> highest(const Edge& edge) const {
    const Vec3 &a = p_[edge.first], &b = p_[edge.second];
    std::optional<std::size_t> best;
    Vec3 normal = Vec3::Zero();
    for (std::size_t i = 0; i < p_.size(); ++i) {
      if (i == edge.first || i == edge.second || across(a, b, p_[i]) <= 1e-9) continue;
      if (best && (p_[i] - a).dot(normal) <= 0) continue;
      best = i;
      normal = (b - a).cross(p_[i] - a); // up, since the point lies left
    }
    return best;
  }

  void add(const Edge& edge, std::size_t third) {
    all_.push_back({edge.first, edge.second, third});
    done_.insert({edge.second, third});
    done_.insert({third, edge.first});
    open_.push_back({third, edge.second}); // seen from the neighbour
    open_.push_back({edge.first, third});
  }

  const Points& p_;
  std::vector<Edge> open_;
  std::set<Edge> done_;
  std::vector<Contact3> all_;
};

constexpr int kViews = 90;

Vec3 viewOf(int step) {
  const double turn = std::numbers::pi * step / kViews;
  return {std::cos(turn), std::sin(turn), 0};
}

// How far the surface reaches, seen from each side.
std::vector<std::pair<double, double>> extentsOf(const Points& points) {
  std::vector<std::pair<double, double>> extents;
  for (int step = 0; step < kViews; ++step) {
    const Vec3 along = viewOf(step);
    double low = 1e300, high = -1e300;
    for (const Vec3& p : points)
      low = std::min(low, p.dot(along)), high = std::max(high, p.dot(along));
    extents.emplace_back(low, high);
  }
  return extents;
}

bool tips(const Points& points, const Contact3& contact,
          const std::vector<std::pair<double, double>>& extents) {
  for (int step = 0; step < kViews; ++step) {
    const Vec3 along = viewOf(step);
    const auto& [low, high] = extents[static_cast<std::size_t>(step)];
    double least = 1e300, most = -1e300;
    for (const std::size_t i : contact)
      least = std::min(least, points[i].dot(along)), most = std::max(most, points[i].dot(along));
    const double third = (high - low) / 3;
    if (most < low + third || least > high - third) return true;
  }
  return false;
}

// Of a scanned surface the points that a plane can rest on which does not tip. Such a plane is no
// steeper than the height of the surface over a third of its least width, so that in each small
// cell only what lies near the top counts.
std::vector<std::size_t> nearTheTop(const Points& points,
                                    const std::vector<std::pair<double, double>>& extents) {
  std::vector<std::size_t> kept;
  constexpr std::size_t kFew = 2000;
  if (points.size() <= kFew) {
    for (std::size_t i = 0; i < points.size(); ++i)
      kept.push_back(i);
    return kept;
  }
  double width = 1e300, low = 1e300, high = -1e300;
  for (const auto& [from, to] : extents)
    width = std::min(width, to - from);
  for (const Vec3& p : points)
    low = std::min(low, p.z()), high = std::max(high, p.z());
  const double slope = 3 * (high - low) / std::max(width, 1e-9);
  const double cell = std::max(width, 1e-9) / std::sqrt(static_cast<double>(points.size()) / 40);
  const auto keyOf = [&](const Vec3& p) {
    return std::pair{std::floor(p.x() / cell), std::floor(p.y() / cell)};
  };
  std::map<std::pair<double, double>, double> top;
  for (const Vec3& p : points) {
    const auto [at, added] = top.emplace(keyOf(p), p.z());
    if (!added) at->second = std::max(at->second, p.z());
  }
  for (std::size_t i = 0; i < points.size(); ++i)
    if (points[i].z() >= top.at(keyOf(points[i])) - slope * cell * std::numbers::sqrt2)
      kept.push_back(i);
  return kept;
}

} // namespace

std::vector<Contact3> restingPlanes(const Points& points) {
  if (points.size() < 4) return {};
  const auto [low, high] = std::minmax_element(
      points.begin(), points.end(), [](const Vec3& a, const Vec3& b) { return a.z() < b.z(); });
  if (high->z() - low->z() < 1e-6) return {}; // flat: nothing rocks
  const auto extents = extentsOf(points);
  const std::vector<std::size_t> top = nearTheTop(points, extents);
  Points p;
  for (const std::size_t i : top)
    p.push_back(points[i]);
  p = stirred(std::move(p));
  if (p.size() < 4) return {};
  std::vector<Contact3> planes = UpperHull(p).facets();
  const auto area = [&](const Contact3& c) { return across(p[c[0]], p[c[1]], p[c[2]]); };
  std::stable_sort(planes.begin(), planes.end(),
                   [&](const Contact3& a, const Contact3& b) { return area(a) > area(b); });
  std::vector<Contact3> kept;
  for (const Contact3& c : planes) {
    if (kept.size() == kMostPlanes) break;
    if (!tips(p, c, extents)) kept.push_back({top[c[0]], top[c[1]], top[c[2]]});
  }
  return kept;
}

} // namespace alder
