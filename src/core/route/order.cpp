#include "route/draft.h"
#include "route/sequence.h"
#include "route/time_model.h"

#include <algorithm>
#include <map>
#include <set>

namespace alder {
namespace {

// The datum system that most requirements use; longer ones win, since they fix more of the frame.
std::vector<FeatureId> mostUsedDatums(const Plan& plan) {
  std::map<std::string, std::pair<int, std::vector<FeatureId>>> systems;
  for (const Requirement& r : plan.spec.requirements) {
    if (r.datums.empty()) continue;
    std::vector<FeatureId> features;
    for (const auto& d : r.datums)
      for (const auto& letter : d.letters)
        if (const Datum* datum = plan.spec.datum(letter))
          for (FeatureId f : datum->features)
            if (std::find(features.begin(), features.end(), f) == features.end())
              features.push_back(f);
    auto& entry = systems[describe(r.datums)];
    entry.first += static_cast<int>(1 + 3 * r.datums.size());
    entry.second = features;
  }
  std::vector<FeatureId> best;
  int most = 0;
  for (const auto& [name, entry] : systems)
    if (entry.first > most) most = entry.first, best = entry.second;
  return best;
}

// Directions in which a feature fixes the part, as rough rank: the frame is complete at six.
int freedomTaken(SurfaceType type) {
  switch (type) {
  case SurfaceType::Plane:
  case SurfaceType::Slot:
    return 3;
  case SurfaceType::Cylinder:
    return 4;
  case SurfaceType::Cone:
    return 5;
  case SurfaceType::Sphere:
    return 3;
  default:
    return 0;
  }
}

double size(const PartModel& part, const NominalFeature& f) {
  double area = 0;
  for (FaceId id : f.faces)
    area += part.face(id).area;
  return area;
}

void completeAlignment(const Plan& plan, std::vector<FeatureId>& alignment) {
  std::erase_if(alignment, [&](FeatureId f) { return !plan.feature(f).covered(); });
  if (alignment.size() >= 3) return;
  std::vector<FeatureId> rest;
  for (const Feature& f : plan.features)
    if (f.covered() && freedomTaken(plan.nominal(f.id).ideal.type) > 0) rest.push_back(f.id);
  std::stable_sort(rest.begin(), rest.end(), [&](FeatureId a, FeatureId b) {
    return size(*plan.part, plan.nominal(a)) > size(*plan.part, plan.nominal(b));
  });
  for (FeatureId f : rest) {
    if (alignment.size() >= 3) break;
    // A feature like one that is there already adds nothing: same plane direction, same axis.
    const Ideal& i = plan.nominal(f).ideal;
    const bool adds = std::none_of(alignment.begin(), alignment.end(), [&](FeatureId o) {
      const Ideal& other = plan.nominal(o).ideal;
      const bool planes = other.type == SurfaceType::Plane && i.type == SurfaceType::Plane;
      const bool axes = other.type != SurfaceType::Plane && i.type != SurfaceType::Plane;
      const Vec3 between = i.point - other.point;
      const bool parallel = std::abs(i.direction.dot(other.direction)) > 0.999;
      return o == f ||
             (parallel && (planes || (axes && between.cross(other.direction).norm() < 1)));
    });
    if (adds) alignment.push_back(f);
  }
}

// Where the ball comes in and goes out, machine frame.
struct Ends {
  Vec3 in, out;
};
Ends endsOf(const Plan& plan, const Feature& f) {
  if (f.touches.empty()) return {Vec3::Zero(), Vec3::Zero()};
  const double radius = f.access.valid() ? plan.tip(f.access).ball_diameter / 2 : 0;
  return {touchMove(plan, f, f.touches.front(), radius).approach,
          touchMove(plan, f, f.touches.back(), radius).retract};
}

// Seconds from one feature to the next: straight where the head stays as it is, else up, across at
// the height at which it turns, and down.
double seconds(const Plan& plan, double above, const Feature& from, const Feature& to) {
  const Machine& machine = plan.bench.machine;
  const Vec3 start = endsOf(plan, from).out, end = endsOf(plan, to).in;
  if (!from.access.valid() || !to.access.valid() || from.access == to.access)
    return moveSeconds(machine, start, end);
  const double height = std::max({above, start.z(), end.z()});
  const Vec3 up(start.x(), start.y(), height), down(end.x(), end.y(), height);
  const double swap = from.access.stylus == to.access.stylus ? 0 : kSwapSeconds;
  return moveSeconds(machine, start, up) + moveSeconds(machine, up, down) +
         moveSeconds(machine, down, end) + swap +
         turnSeconds(plan.bench.head, from.access, to.access);
}

// Pinned features stay right behind the one before them: what is ordered is a feature with those
// that follow it so.
std::vector<std::vector<FeatureId>> chainsOf(const Plan& plan, const std::vector<FeatureId>& rest) {
  std::vector<std::vector<FeatureId>> chains;
  for (FeatureId id : rest)
    if (plan.feature(id).pinned && !chains.empty())
      chains.back().push_back(id);
    else
      chains.push_back({id});
  return chains;
}

// About the height at which there is room to turn.
double turningHeight(const Plan& plan) {
  return transformed(plan.part->mesh.box(), plan.placement).max().z() + 150;
}

} // namespace

std::size_t cheapestPlace(const Plan& plan, FeatureId feature) {
  std::vector<FeatureId> order = plan.order;
  std::erase(order, feature);
  const double above = turningHeight(plan);
  const auto between = [&](std::size_t from, const Feature& to) {
    return seconds(plan, above, plan.feature(order[from]), to);
  };
  const Feature& f = plan.feature(feature);
  std::size_t best = order.size();
  double least = 1e300;
  for (std::size_t at = plan.alignment.size(); at <= order.size(); ++at) {
    if (at < order.size() && at > 0 && plan.feature(order[at]).pinned) continue;
    double cost = at > 0 ? between(at - 1, f) : 0;
    if (at < order.size()) {
      const Feature& next = plan.feature(order[at]);
      cost += seconds(plan, above, f, next);
      if (at > 0) cost -= between(at - 1, next);
    }
    if (cost < least - 1e-9) least = cost, best = at;
  }
  return best;
}

void orderForTime(Plan& plan) {
  const std::set<FeatureId> first(plan.alignment.begin(), plan.alignment.end());
  std::vector<FeatureId> rest;
  for (FeatureId id : plan.order)
    if (!first.count(id)) rest.push_back(id);
  const auto chains = chainsOf(plan, rest);
  const double above = turningHeight(plan);
  const auto between = [&](FeatureId a, FeatureId b) {
    return seconds(plan, above, plan.feature(a), plan.feature(b));
  };
  const Sequence short_one = shortSequence(
      chains.size(),
      [&](std::size_t i) {
        return plan.alignment.empty() ? 0.0 : between(plan.alignment.back(), chains[i].front());
      },
      [&](std::size_t i, std::size_t j) { return between(chains[i].back(), chains[j].front()); });
  plan.order = plan.alignment;
  for (const std::size_t i : short_one.order)
    plan.order.insert(plan.order.end(), chains[i].begin(), chains[i].end());
}

void planOrder(Plan& plan) {
  plan.alignment = mostUsedDatums(plan);
  completeAlignment(plan, plan.alignment);
  plan.order = plan.alignment;
  const std::set<FeatureId> first(plan.alignment.begin(), plan.alignment.end());
  for (const Feature& f : plan.features)
    if (!first.count(f.id)) plan.order.push_back(f.id);
  orderForTime(plan);
}

} // namespace alder
