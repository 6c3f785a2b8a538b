#include "plan/touches/contour.h"

#include <algorithm>
#include <cmath>

namespace alder {
namespace {

constexpr double kOnSurface = 0.5; // mm that a picked end may lie off
constexpr std::size_t kMostPoints = 20000;

// The surface next to `guess`, within the plane through `on` with normal `across`.
std::optional<SurfacePoint> inPlane(const FaceRegion& region, Vec3 guess, const Vec3& on,
                                    const Vec3& across, double reach) {
  std::optional<SurfacePoint> s;
  for (int k = 0; k < 4; ++k) {
    s = region.at(guess, reach);
    if (!s) return {};
    const double off = (s->point - on).dot(across);
    if (std::abs(off) < 1e-6) return s;
    guess = s->point - off * across;
  }
  return s;
}

// Lengths along a ring or open line, by corner.
std::vector<double> lengthsAlong(const Points& line) {
  std::vector<double> at{0};
  for (std::size_t i = 1; i < line.size(); ++i)
    at.push_back(at.back() + (line[i] - line[i - 1]).norm());
  return at;
}

struct OnLine {
  double at = 0, distance = 1e300;
};

OnLine nearestOn(const Points& line, const std::vector<double>& lengths, const Vec3& place) {
  OnLine best;
  for (std::size_t i = 1; i < line.size(); ++i) {
    const Vec3 d = line[i] - line[i - 1];
    const double share =
        std::clamp((place - line[i - 1]).dot(d) / std::max(d.squaredNorm(), 1e-18), 0.0, 1.0);
    const double off = (line[i - 1] + share * d - place).norm();
    if (off < best.distance) best = {lengths[i - 1] + share * d.norm(), off};
  }
  return best;
}

// Place and direction at a length along the line; beyond its ends, round a ring.
std::pair<Vec3, Vec3> placeAt(const Points& line, const std::vector<double>& lengths, double at,
                              bool ring) {
  const double all = lengths.back();
  if (ring) at -= all * std::floor(at / all);
  at = std::clamp(at, 0.0, all);
  const auto next = std::upper_bound(lengths.begin() + 1, lengths.end() - 1, at);
  const auto i = static_cast<std::size_t>(next - lengths.begin());
  const Vec3 d = (line[i] - line[i - 1]).normalized();
  return {line[i - 1] + (at - lengths[i - 1]) * d, d};
}

// So far inside the edge at this place of it.
std::optional<SurfacePoint> belowEdge(const FaceRegion& region, const Vec3& edge, const Vec3& along,
                                      double below) {
  const auto beside = region.nearest(edge);
  if (!beside) return {};
  const Vec3 inward = beside->normal.cross(along).normalized();
  for (const Vec3& d : {inward, Vec3(-inward)})
    if (const auto s = region.at(edge + below * d, below / 2);
        s && region.edgeDistance(s->point) > 0.9 * below)
      return s;
  return {};
}

} // namespace

std::vector<SurfacePoint> sectionPlaces(const FaceRegion& region, const ContourEnds& ends,
                                        double pitch) {
  const auto first = region.at(ends.from, kOnSurface), last = region.at(ends.to, kOnSurface);
  if (!first || !last || (last->point - first->point).norm() < 1e-6) return {};
  Vec3 across = (last->point - first->point).cross(first->normal + last->normal);
  if (across.norm() < 1e-9) across = (last->point - first->point).cross(first->normal);
  if (across.norm() < 1e-9) across = anyPerpendicular(last->point - first->point);
  across.normalize();
  std::vector<SurfacePoint> places{*first};
  Vec3 at = first->point, along = (last->point - first->point).normalized();
  const double farthest = 10 * (last->point - first->point).norm() + 10 * pitch;
  for (std::size_t k = 0; k < kMostPoints && static_cast<double>(k) * pitch < farthest; ++k) {
    const Vec3 left = last->point - at;
    if (left.norm() <= 1.2 * pitch && left.dot(along) >= 0) break;
    if (left.dot(along) < 0 && left.norm() <= 2 * pitch) break; // just passed
    const auto next = inPlane(region, at + pitch * along, first->point, across, pitch);
    if (!next) { // a hole: straight on towards the end
      along = left.normalized();
      at += pitch * along;
      continue;
    }
    const Vec3 tangent = across.cross(next->normal).normalized();
    along = tangent.dot(next->point - at) >= 0 ? tangent : Vec3(-tangent);
    at = next->point;
    places.push_back(*next);
  }
  places.push_back(*last);
  return places;
}

std::vector<SurfacePoint> edgePlaces(const FaceRegion& region, const ContourEnds& ends,
                                     double pitch) {
  std::optional<Points> edge;
  double nearest = 1e300;
  for (Points& line : region.boundary())
    if (const OnLine o = nearestOn(line, lengthsAlong(line), ends.from); o.distance < nearest)
      nearest = o.distance, edge = std::move(line);
  if (!edge) return {};
  const auto lengths = lengthsAlong(*edge);
  const bool ring = (edge->front() - edge->back()).norm() < 1e-6;
  const double from = nearestOn(*edge, lengths, ends.from).at;
  double run = nearestOn(*edge, lengths, ends.to).at - from;
  if (ring) {
    const double all = lengths.back();
    if ((ends.to - ends.from).norm() < 1e-6)
      run = all;
    else if ((std::abs(run) > all / 2) != ends.long_way)
      run -= std::copysign(all, run);
  }
  const int count = std::max(1, static_cast<int>(std::ceil(std::abs(run) / pitch)));
  std::vector<SurfacePoint> places;
  for (int k = 0; k <= count && k < static_cast<int>(kMostPoints); ++k) {
    const auto [place, along] = placeAt(*edge, lengths, from + run * k / count, ring);
    if (const auto s = belowEdge(region, place, along, ends.below)) places.push_back(*s);
  }
  return places;
}

ContourEnds likelyEnds(const Points& places, double below) {
  ContourEnds ends;
  ends.below = below;
  double farthest = -1;
  for (const Vec3& a : places)
    for (const Vec3& b : places)
      if (const double d = (a - b).norm(); d > farthest) farthest = d, ends.from = a, ends.to = b;
  return ends;
}

} // namespace alder
