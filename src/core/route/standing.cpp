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
    if (face.ideal.type != SurfaceType::Plane || !part.takes(face.id)) continue;
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

// How far a ball can be from the head's pivot at most, seen from above, with room for approach.
double levelReach(const Bench& bench) {
  constexpr double kBeside = 20; // approach, retract and a little more
  double reach = 0;
  for (const Stylus& stylus : bench.styli)
    for (const Tip& tip : stylus.tips)
      reach = std::max(reach, tip.pivot_to_ball.norm() + kBeside);
  return reach;
}

struct TablePlace {
  Vec2 middle = Vec2::Zero();
  double wanting = 0;                 // mm
  Vec2 wanting_travel = Vec2::Zero(); // of it, by direction
};

// Where the middle of a part of this size lies: in the middle of the travel, unless a stylus that
// lies level beside the part would then leave the travel or meet what stands on the bench. What is
// wanting of these distances in all is made as small as possible.
class TableTop {
 public:
  TableTop(const Bench& bench, const Vec2& size)
      : reach_(levelReach(bench))
      , travel_(seenFromAbove(bench.machine.volume))
      , half_(size / 2) {
    for (const BenchSolid& s : benchSolids(bench))
      solids_.push_back(seenFromAbove(s.mesh.box()));
  }

  TablePlace best() const {
    const Vec2 room = travel_.sizes() / 2;
    return bestWithin(room, travel_.center());
  }
  // With one end far enough within the travel that a level stylus passes before it, in a direction
  // in which there is not room for both.
  TablePlace atEnd(int direction, bool high) const {
    Vec2 centre = travel_.center(), room = travel_.sizes() / 2;
    room[direction] = 0;
    centre[direction] = high ? travel_.max()[direction] - reach_ - half_[direction]
                             : travel_.min()[direction] + reach_ + half_[direction];
    return bestWithin(room, centre);
  }

 private:
  TablePlace bestWithin(const Vec2& room, const Vec2& centre) const {
    constexpr double kStep = 10; // mm
    TablePlace best = at(centre);
    for (double dx = -std::floor(room.x() / kStep) * kStep; dx <= room.x(); dx += kStep)
      for (double dy = -std::floor(room.y() / kStep) * kStep; dy <= room.y(); dy += kStep) {
        TablePlace here = at(centre + Vec2(dx, dy));
        // Between places alike the one nearest to the middle.
        here.wanting += 1e-4 * Vec2(dx, dy).norm();
        if (here.wanting < best.wanting - 1e-9) best = here;
      }
    return best;
  }
  TablePlace at(const Vec2& middle) const {
    constexpr double kHead = 60; // what turns reaches beyond its pivot
    constexpr double kSolid = 3; // what stands there counts more than the travel
    const Box2 part(middle - half_, middle + half_);
    TablePlace place{middle};
    for (int k = 0; k < 2; ++k)
      place.wanting_travel[k] = std::max(0.0, reach_ - (part.min()[k] - travel_.min()[k])) +
                                std::max(0.0, reach_ - (travel_.max()[k] - part.max()[k]));
    place.wanting = place.wanting_travel.sum();
    for (const Box2& solid : solids_)
      place.wanting += kSolid * std::max(0.0, reach_ + kHead - gap(part, solid));
    return place;
  }

  double reach_;
  Box2 travel_;
  Vec2 half_;
  std::vector<Box2> solids_;
};

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

// Turned about the vertical by whole quarters, so that it has most room; the first is the best. A
// part that has no room at both of its ends lies with either end in the travel as well, and
// slanting where that leaves it more.
std::vector<Frame> placements(const PartModel& part, const Specification& spec, const Bench& bench,
                              const Vec3& up) {
  const Frame first = frameOf(Vec3::Zero(), up, sideways(part, spec, up)).inverse();
  const auto turnedBy = [&](double angle) {
    return Frame(Eigen::AngleAxisd(angle, Vec3::UnitZ())) * first;
  };
  const auto boxOf = [&](const Frame& frame) {
    Mesh lying;
    lying.append(part.mesh, frame);
    return lying.box();
  };
  const auto laid = [&](const Frame& frame, const Box3& box, const TablePlace& place) {
    const Vec3 shift(place.middle.x() - box.center().x(), place.middle.y() - box.center().y(),
                     heightAboveTable(bench, box.sizes().z()) - box.min().z());
    return Frame(Eigen::Translation3d(shift) * frame);
  };
  struct Lying {
    Frame frame;
    Box3 box;
    TablePlace place;
  };
  const auto best = [&](const std::vector<double>& angles) {
    std::optional<Lying> found;
    for (const double angle : angles) {
      const Frame frame = turnedBy(angle);
      const Box3 box = boxOf(frame);
      const TablePlace place = TableTop(bench, box.sizes().head<2>()).best();
      if (!found || place.wanting < found->place.wanting - 1e-6) found = Lying{frame, box, place};
    }
    return *found;
  };
  const Lying square = best({0, kPi / 2});
  std::vector<Frame> all{laid(square.frame, square.box, square.place)};
  int way = 0;
  if (square.place.wanting_travel.maxCoeff(&way) < 1) return all;
  const TableTop table(bench, square.box.sizes().head<2>());
  for (const bool high : {false, true})
    all.push_back(laid(square.frame, square.box, table.atEnd(way, high)));
  std::vector<double> slants;
  for (int k = 1; k < 12; ++k)
    if (k != 6) slants.push_back(k * kPi / 12);
  const Lying slanting = best(slants);
  if (slanting.place.wanting < square.place.wanting - 1)
    all.push_back(laid(slanting.frame, slanting.box, slanting.place));
  return all;
}

// How much of the feature has the head within its travel, seen from above: of the corners and the
// middle of its faces' boxes, with the stylus standing out of a plane that looks aside.
double withinTravel(const PartModel& part, const NominalFeature& f, const Bench& bench,
                    const Frame& placement) {
  const Box2 travel = seenFromAbove(bench.machine.volume);
  const double reach = levelReach(bench);
  int inside = 0, all = 0;
  for (FaceId id : f.faces) {
    const Face& face = part.face(id);
    const Vec3 out = face.ideal.type == SurfaceType::Plane
                         ? Vec3(reach * turn(placement, face.ideal.direction))
                         : Vec3(Vec3::Zero());
    const auto count = [&](const Vec3& p) {
      const Vec3 head = placement * p + out;
      inside += travel.contains(Vec2(head.head<2>())), ++all;
    };
    count(face.box.center());
    for (int k = 0; k < 8; ++k)
      count(face.box.corner(static_cast<Box3::CornerType>(k)));
  }
  return all > 0 ? static_cast<double>(inside) / all : 1;
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
    double open = -kTippy * std::max(0.0, 1 - bearing->held / (0.1 * size));
    std::vector<double> scores;
    for (const NominalFeature& f : spec.features)
      scores.push_back(reachScore(part, places.mesh(), f, up));
    for (const Frame& placement : placements(part, spec, bench, up)) {
      Standing s{up, placement, bearing->supports, bearing->held, open};
      std::size_t k = 0;
      for (const NominalFeature& f : spec.features)
        s.estimate += scores[k++] * withinTravel(part, f, bench, placement);
      found.push_back(std::move(s));
    }
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
  return {Vec3::UnitZ(), placements(part, spec, bench, Vec3::UnitZ()).front(), {}, 0, 0};
}

void stand(Plan& plan, const Standing& standing) {
  plan.placement = standing.placement;
  plan.supports = standing.supports;
  standOn(plan.bench, plan.placement, plan.supports);
}

} // namespace alder
