#include "route/place_on_table.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace alder {
namespace {

constexpr double kPedestalHeight = 120; // lets the head lie down beside the part above the table

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

// Directions of the part that may point up, so that it rests on a face: the normals of its largest
// planes and the planes and axes of its datums, both ways; those along the axes of the CAD frame
// first. Without any, the axes of the CAD frame.
std::vector<Vec3> upCandidates(const PartModel& part, const Specification& spec) {
  constexpr std::size_t kLargest = 6;
  std::vector<Vec3> all;
  const auto take = [&](const Vec3& v) {
    for (const Vec3& d : {v, Vec3(-v)})
      if (!among(all, d)) all.push_back(d);
  };
  const auto normals = planeNormals(part);
  for (std::size_t i = 0; i < std::min(kLargest, normals.size()); ++i)
    take(normals[i]);
  for (const Datum& d : spec.datums)
    for (FeatureId id : d.features) {
      const Ideal& i = spec.feature(id).ideal;
      const bool directed =
          i.type == SurfaceType::Plane || i.type == SurfaceType::Slot || hasAxis(i);
      if (directed) take(i.direction);
    }
  const std::vector<Vec3> axes{Vec3::UnitZ(),  Vec3::UnitX(),  Vec3::UnitY(),
                               -Vec3::UnitX(), -Vec3::UnitY(), -Vec3::UnitZ()};
  if (all.empty()) return axes;
  std::vector<Vec3> ordered;
  for (const auto* list : {&axes, &std::as_const(all)})
    for (const Vec3& v : *list)
      if (among(all, v) && !among(ordered, v)) ordered.push_back(v);
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

// Where the middle of a part of this size lies: in the middle of the travel, unless a stylus that
// lies level beside the part would then leave the travel or meet what stands on the bench. What is
// wanting of these distances in all is made as small as possible.
Vec2 middleOnTable(const Bench& bench, const Vec2& size) {
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
  Vec2 best = centre;
  double least = wanting(centre);
  const Vec2 room = travel.sizes() / 2;
  for (double dx = -std::floor(room.x() / kStep) * kStep; dx <= room.x(); dx += kStep)
    for (double dy = -std::floor(room.y() / kStep) * kStep; dy <= room.y(); dy += kStep) {
      const Vec2 place = centre + Vec2(dx, dy);
      // Between places alike the one nearest to the middle.
      const double here = wanting(place) + 1e-4 * (place - centre).norm();
      if (here < least - 1e-9) least = here, best = place;
    }
  return best;
}

} // namespace

void addPedestal(Bench& bench, const PartModel& part, const Frame& placement) {
  Mesh placed;
  placed.append(part.mesh, placement);
  const Box3 box = placed.box();
  if (box.min().z() < 1) return;
  // Narrower than the part, so that the sides stay open from below.
  FixtureBody pedestal{"pedestal", FixtureKind::Rest, {}};
  const Vec3 middle = box.center(), half = box.sizes() * 0.3;
  pedestal.mesh.appendBox(Box3(Vec3(middle.x() - half.x(), middle.y() - half.y(), 0),
                               Vec3(middle.x() + half.x(), middle.y() + half.y(), box.min().z())),
                          Frame::Identity(), 0);
  bench.fixture.bodies.push_back(std::move(pedestal));
}

Frame placeOnTable(const PartModel& part, const Specification& spec, Bench& bench) {
  const MeshTree mesh(part.mesh);
  Vec3 up = Vec3::UnitZ();
  double best = -1;
  for (const Vec3& candidate : upCandidates(part, spec)) {
    double score = 0;
    for (const NominalFeature& f : spec.features)
      score += reachScore(part, mesh, f, candidate);
    if (score > best + 1e-6) best = score, up = candidate;
  }
  Frame frame = frameOf(Vec3::Zero(), up, sideways(part, spec, up)).inverse();
  Mesh turned;
  turned.append(part.mesh, frame);
  const Box3 box = turned.box();
  const Vec2 middle = middleOnTable(bench, box.sizes().head<2>());
  const Vec3 shift(middle.x() - box.center().x(), middle.y() - box.center().y(),
                   kPedestalHeight - box.min().z());
  frame = Eigen::Translation3d(shift) * frame;
  addPedestal(bench, part, frame);
  return frame;
}

} // namespace alder
