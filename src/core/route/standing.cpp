#include "route/standing.h"

#include "route/rest_places.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace alder {
namespace {

// Heights above the table, the first of which leaves room above: the head can lie down beside a
// part that stands high enough.
constexpr double kHeights[] = {120, 90, 60, 40, 25};

// Can a stylus come to the feature when `up` (CAD frame) points up? 1 surely, 0 hardly.
double reachScore(const PartModel& part, const MeshTree& mesh, const NominalFeature& f,
                  const Vec3& up) {
  const auto openness = [&](const Vec3& from_ball_to_head) {
    const double z = from_ball_to_head.dot(up);
    return z > 0.3 ? 1.0 : z > -0.1 ? 0.8 : 0.0; // straight down is best, lying still goes
  };
  const Ideal& i = f.ideal;
  switch (i.type) {
  case SurfaceType::Cylinder:
  case SurfaceType::Cone: {
    if (!i.hole) return std::abs(i.direction.dot(up)) > 0.7 ? 1.0 : 0.6;
    double best = 0;
    const Vec3 middle = i.point + i.length / 2 * i.direction;
    for (const Vec3& d : {i.direction, Vec3(-i.direction)})
      if (!mesh.firstHit(middle, d)) best = std::max(best, openness(d));
    return best;
  }
  case SurfaceType::Slot:
    return std::abs(i.direction.dot(up)) < 0.5 ? 1.0 : 0.7;
  default: {
    double sum = 0, area = 0;
    for (FaceId id : f.faces) {
      const Face& face = part.face(id);
      if (face.ideal.type == SurfaceType::Plane) {
        sum += face.area * openness(face.ideal.direction);
        area += face.area;
      }
    }
    return area > 0 ? sum / area : 0.7;
  }
  }
}

bool among(const std::vector<Vec3>& directions, const Vec3& v) {
  return std::any_of(directions.begin(), directions.end(),
                     [&](const Vec3& o) { return o.dot(v) > 0.9999; });
}

// Normals of the part's planes, those with most area first.
std::vector<Vec3> planeNormals(const PartModel& part) {
  std::vector<std::pair<double, Vec3>> sums;
  for (const Face& face : part.faces) {
    if (face.ideal.type != SurfaceType::Plane) continue;
    const auto same = std::find_if(sums.begin(), sums.end(), [&](const auto& s) {
      return s.second.dot(face.ideal.direction) > 0.9999;
    });
    if (same == sums.end())
      sums.push_back({face.area, face.ideal.direction});
    else
      same->first += face.area;
  }
  std::stable_sort(sums.begin(), sums.end(),
                   [](const auto& a, const auto& b) { return a.first > b.first * (1 + 1e-6); });
  std::vector<Vec3> normals;
  for (const auto& [area, normal] : sums)
    normals.push_back(normal);
  return normals;
}

// Directions of the part that may point up so that it rests on a flat face: against the normals of
// its planes, the largest first, but those along the axes of the CAD frame before all.
std::vector<Vec3> upCandidates(const PartModel& part) {
  constexpr std::size_t kMost = 14;
  std::vector<Vec3> all, ordered;
  for (const Vec3& normal : planeNormals(part))
    all.push_back(-normal);
  const std::vector<Vec3> axes{Vec3::UnitZ(),  Vec3::UnitX(),  Vec3::UnitY(),
                               -Vec3::UnitX(), -Vec3::UnitY(), -Vec3::UnitZ()};
  for (const auto* list : {&axes, &std::as_const(all)})
    for (const Vec3& v : *list)
      if (among(all, v) && !among(ordered, v)) ordered.push_back(v);
  if (ordered.size() > kMost) ordered.resize(kMost);
  return ordered;
}

// The direction of the part that will lie along machine X: a datum's, else that of a plane, else a
// CAD axis.
Vec3 sideways(const PartModel& part, const Specification& spec, const Vec3& up) {
  for (const Datum& d : spec.datums)
    for (FeatureId id : d.features) {
      const Ideal& i = spec.feature(id).ideal;
      const bool directed = i.type == SurfaceType::Plane || i.type == SurfaceType::Slot;
      if (directed && std::abs(i.direction.dot(up)) < 0.01) return i.direction;
    }
  for (const Vec3& normal : planeNormals(part))
    if (std::abs(normal.dot(up)) < 0.01) return normal;
  return std::abs(up.x()) < 0.9 ? Vec3::UnitX() : Vec3::UnitY();
}

// Gap between two boxes seen from above; 0 where they overlap.
double gap(const Box2& a, const Box2& b) {
  return std::sqrt(a.squaredExteriorDistance(b));
}

Box2 seenFromAbove(const Box3& box) {
  return {box.min().head<2>(), box.max().head<2>()};
}

struct TablePlace {
  Vec2 middle = Vec2::Zero();
  double wanting = 0; // mm
};

// Where the middle of a part of this size lies: in the middle of the travel, unless a stylus that
// lies level beside the part would then leave the travel or meet what stands on the bench. What is
// wanting of these distances in all is made as small as possible.
TablePlace placeOnTable(const Bench& bench, const Vec2& size) {
  constexpr double kBeside = 20;           // approach, retract and a little more
  constexpr double kHead = 60;             // what turns reaches beyond its pivot
  constexpr double kStep = 10, kSolid = 3; // mm; what stands there counts more than the travel
  double reach = 0;
  for (const Stylus& stylus : bench.styli)
    for (const Tip& tip : stylus.tips)
      reach = std::max(reach, tip.pivot_to_ball.norm() + kBeside);
  const Box2 travel = seenFromAbove(bench.machine.volume);
  std::vector<Box2> solids;
  for (const BenchSolid& s : benchSolids(bench))
    solids.push_back(seenFromAbove(s.mesh.box()));
  const auto wanting = [&](const Vec2& middle) {
    const Box2 part(middle - size / 2, middle + size / 2);
    double sum = 0;
    for (int k = 0; k < 2; ++k) {
      sum += std::max(0.0, reach - (part.min()[k] - travel.min()[k]));
      sum += std::max(0.0, reach - (travel.max()[k] - part.max()[k]));
    }
    for (const Box2& solid : solids)
      sum += kSolid * std::max(0.0, reach + kHead - gap(part, solid));
    return sum;
  };
  const Vec2 centre = travel.center();
  TablePlace best{centre, wanting(centre)};
  const Vec2 room = travel.sizes() / 2;
  for (double dx = -std::floor(room.x() / kStep) * kStep; dx <= room.x(); dx += kStep)
    for (double dy = -std::floor(room.y() / kStep) * kStep; dy <= room.y(); dy += kStep) {
      const Vec2 place = centre + Vec2(dx, dy);
      // Between places alike the one nearest to the middle.
      const double here = wanting(place) + 1e-4 * (place - centre).norm();
      if (here < best.wanting - 1e-9) best = {place, here};
    }
  return best;
}

// As high as leaves room for the shortest straight stylus above a part of this height.
double heightAboveTable(const Bench& bench, double part) {
  constexpr double kOver = 20; // shell, approach
  double stylus = std::numeric_limits<double>::infinity();
  for (const Stylus& s : bench.styli)
    for (const Tip& t : s.tips)
      stylus = std::min(stylus, t.pivot_to_ball.norm());
  for (double height : kHeights)
    if (height + part + kOver + stylus <= bench.machine.volume.max().z()) return height;
  return std::end(kHeights)[-1];
}

// Turned about the vertical by whole quarters, so that it has most room.
Frame placed(const PartModel& part, const Specification& spec, const Bench& bench, const Vec3& up) {
  const Frame first = frameOf(Vec3::Zero(), up, sideways(part, spec, up)).inverse();
  std::optional<std::pair<double, Frame>> best;
  for (const double turned : {0.0, kPi / 2}) {
    const Frame frame = Frame(Eigen::AngleAxisd(turned, Vec3::UnitZ())) * first;
    Mesh lying;
    lying.append(part.mesh, frame);
    const Box3 box = lying.box();
    const TablePlace place = placeOnTable(bench, box.sizes().head<2>());
    if (best && place.wanting > best->first - 1e-6) continue;
    const Vec3 shift(place.middle.x() - box.center().x(), place.middle.y() - box.center().y(),
                     heightAboveTable(bench, box.sizes().z()) - box.min().z());
    best = {place.wanting, Eigen::Translation3d(shift) * frame};
  }
  return best->second;
}

} // namespace

std::vector<Standing> standingsOf(const PartModel& part, const Specification& spec,
                                  const Bench& bench) {
  constexpr double kTippy = 0.05; // counts as much as this of a feature where it stands badly
  const RestPlaces places(part);
  const double size = part.mesh.box().diagonal().norm();
  std::vector<Standing> found;
  const auto candidates = upCandidates(part);
  const auto add = [&](const Vec3& up, bool anyhow) {
    auto bearing = places.bearing(up, anyhow);
    if (!bearing) return;
    Standing s{up,
               placed(part, spec, bench, up),
               std::move(bearing->supports),
               std::move(bearing->faces),
               bearing->held,
               0};
    for (const NominalFeature& f : spec.features)
      s.estimate += reachScore(part, places.mesh(), f, up);
    s.estimate -= kTippy * std::max(0.0, 1 - s.held / (0.1 * size));
    found.push_back(std::move(s));
  };
  for (const bool anyhow : {false, true}) {
    if (!found.empty()) break;
    for (const Vec3& up : candidates)
      add(up, anyhow);
  }
  std::stable_sort(found.begin(), found.end(), [](const Standing& a, const Standing& b) {
    return a.estimate > b.estimate + 1e-6;
  });
  return found;
}

Standing inTheAir(const PartModel& part, const Specification& spec, const Bench& bench) {
  return {Vec3::UnitZ(), placed(part, spec, bench, Vec3::UnitZ()), {}, {}, 0, 0};
}

void stand(Plan& plan, const Standing& standing) {
  plan.placement = standing.placement;
  plan.supports = standing.supports;
  standOn(plan.bench, plan.placement, plan.supports);
}

} // namespace alder
