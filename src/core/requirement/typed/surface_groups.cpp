#include "requirement/typed/surface_groups.h"

#include "base/units.h"
#include "requirement/from_pmi.h"
#include <algorithm>
#include <cmath>
#include <map>
#include <set>

namespace alder {
namespace {

constexpr double kSameSize = 1e-3; // mm

bool isRound(const Ideal& i) {
  return i.diameter > 0 && i.type != SurfaceType::Plane && i.type != SurfaceType::Freeform;
}

// Diameter of the circle on which the axes stand; nothing: they stand on none.
std::optional<double> circleOf(const std::vector<Ideal>& all) {
  if (all.size() < 3) return {};
  const Vec3 n = all.front().direction;
  const Vec3 u = anyPerpendicular(n), v = n.cross(u);
  std::vector<Vec2> at;
  for (const Ideal& i : all)
    at.emplace_back(u.dot(i.point), v.dot(i.point));
  const Vec2 b = at[1] - at[0], c = at[2] - at[0];
  const double twice = 2 * (b.x() * c.y() - b.y() * c.x());
  if (std::abs(twice) < 1e-6) return {};
  const Vec2 middle = at[0] + Vec2(c.y() * b.squaredNorm() - b.y() * c.squaredNorm(),
                                   b.x() * c.squaredNorm() - c.x() * b.squaredNorm()) /
                                  twice;
  const double radius = (at[0] - middle).norm();
  for (const Vec2& p : at)
    if (std::abs((p - middle).norm() - radius) > 1e-2) return {};
  return 2 * radius;
}

} // namespace

bool alike(const Ideal& a, const Ideal& b) {
  return a.type == b.type && a.hole == b.hole && std::abs(a.diameter - b.diameter) < kSameSize &&
         std::abs(a.length - b.length) < kSameSize &&
         std::abs(a.direction.dot(b.direction)) > 1 - 1e-9;
}

std::vector<SurfaceGroup> surfacesNotAskedFor(const PartModel& part, const Specification& spec) {
  std::set<FaceId> asked;
  for (const Requirement& r : spec.requirements)
    for (const FeatureId id : touchedFor(spec, r.features)) {
      const auto& faces = spec.feature(id).faces;
      asked.insert(faces.begin(), faces.end());
    }
  std::map<FaceId, double> areas;
  for (const Face& f : part.faces)
    areas[f.id] = f.area;
  struct Found {
    SurfaceGroup group;
    std::vector<Ideal> ideals;
    double area = 0;
  };
  std::vector<Found> all;
  for (const Surface& s : part.surfaces) {
    if (std::any_of(s.faces.begin(), s.faces.end(), [&](FaceId f) { return asked.count(f) > 0; }))
      continue;
    auto at = isRound(s.ideal)
                  ? std::find_if(all.begin(), all.end(),
                                 [&](const Found& f) { return alike(f.group.ideal, s.ideal); })
                  : all.end();
    if (at == all.end()) at = all.insert(all.end(), Found{{"", s.ideal, {}}, {}, 0});
    at->group.surfaces.push_back(s.faces);
    at->ideals.push_back(s.ideal);
    for (const FaceId f : s.faces)
      at->area += areas[f];
  }
  std::stable_sort(all.begin(), all.end(), [](const Found& a, const Found& b) {
    const bool a_round = isRound(a.group.ideal), b_round = isRound(b.group.ideal);
    if (a_round != b_round) return a_round;
    if (a_round && a.group.ideal.diameter != b.group.ideal.diameter)
      return a.group.ideal.diameter > b.group.ideal.diameter;
    return a.area > b.area;
  });
  std::vector<SurfaceGroup> groups;
  for (Found& f : all) {
    const std::string name = featureName(f.group.ideal);
    const std::size_t count = f.group.surfaces.size();
    f.group.words = count > 1 ? fmt::format("{} × {}", count, name) : name;
    if (!isRound(f.group.ideal))
      f.group.words += fmt::format(", {} mm²", shortFigure(f.area, f.area < 10 ? 1 : 0));
    else if (const auto circle = circleOf(f.ideals))
      f.group.words += " on ø" + shortFigure(*circle, 2);
    else if (hasAxis(f.group.ideal) && f.group.ideal.length > 0)
      f.group.words += fmt::format(", {} long", shortFigure(f.group.ideal.length, 2));
    groups.push_back(std::move(f.group));
  }
  return groups;
}

} // namespace alder
