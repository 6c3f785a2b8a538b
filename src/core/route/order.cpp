#include "route/draft.h"

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

Vec3 middleOf(const Feature& f) {
  Vec3 sum = Vec3::Zero();
  for (const Touch& t : f.touches)
    sum += t.point;
  return f.touches.empty() ? sum : Vec3(sum / static_cast<double>(f.touches.size()));
}

// Groups by access, the one in use first; within a group nearest neighbour, then 2-opt.
void shortenGroup(const Plan& plan, std::vector<FeatureId>& group) {
  const auto d = [&](std::size_t i, std::size_t j) {
    return (middleOf(plan.feature(group[i])) - middleOf(plan.feature(group[j]))).norm();
  };
  for (std::size_t i = 1; i + 1 < group.size(); ++i) {
    std::size_t best = i;
    for (std::size_t j = i; j < group.size(); ++j)
      if (d(i - 1, j) < d(i - 1, best) - 1e-9) best = j;
    std::swap(group[i], group[best]);
  }
  for (bool better = true; better;) {
    better = false;
    for (std::size_t i = 1; i + 1 < group.size(); ++i)
      for (std::size_t j = i + 1; j < group.size(); ++j) {
        const double now = d(i - 1, i) + (j + 1 < group.size() ? d(j, j + 1) : 0);
        const double then = d(i - 1, j) + (j + 1 < group.size() ? d(i, j + 1) : 0);
        if (then < now - 1e-9) {
          std::reverse(group.begin() + static_cast<std::ptrdiff_t>(i),
                       group.begin() + static_cast<std::ptrdiff_t>(j) + 1);
          better = true;
        }
      }
  }
}

} // namespace

void planOrder(Plan& plan) {
  plan.alignment = mostUsedDatums(plan);
  completeAlignment(plan, plan.alignment);
  plan.order = plan.alignment;
  std::set<FeatureId> placed(plan.order.begin(), plan.order.end());
  Access current = plan.order.empty() ? Access{} : plan.feature(plan.order.back()).access;
  std::vector<FeatureId> rest;
  for (const Feature& f : plan.features)
    if (!placed.count(f.id)) rest.push_back(f.id);
  while (!rest.empty()) {
    std::vector<FeatureId> group;
    // stay with the access in use, then with the stylus in use, before changing either
    const auto wanted = std::min_element(rest.begin(), rest.end(), [&](FeatureId a, FeatureId b) {
      const auto rank = [&](FeatureId f) {
        const Access& x = plan.feature(f).access;
        return x == current ? 0 : x.stylus == current.stylus ? 1 : 2;
      };
      return rank(a) < rank(b);
    });
    const Access access = plan.feature(*wanted).access;
    for (FeatureId f : rest)
      if (plan.feature(f).access == access) group.push_back(f);
    std::erase_if(rest, [&](FeatureId f) { return plan.feature(f).access == access; });
    if (!plan.order.empty()) group.insert(group.begin(), plan.order.back());
    shortenGroup(plan, group);
    if (!plan.order.empty()) group.erase(group.begin());
    plan.order.insert(plan.order.end(), group.begin(), group.end());
    current = access;
  }
}

} // namespace alder
