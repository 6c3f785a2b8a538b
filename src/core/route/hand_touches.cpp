#include "route/hand_touches.h"

#include "route/feature_router.h"

#include <algorithm>

namespace alder {
namespace {

// As many as the feature needs that is measured so, in a program too.
std::size_t wantedOn(SurfaceType type, bool primary) {
  switch (type) {
  case SurfaceType::Plane:
    return 3;
  case SurfaceType::Cylinder:
    return primary ? 6 : 5;
  case SurfaceType::Cone:
    return 6;
  default:
    return 4;
  }
}

// Farthest-point choice (Gonzalez 1985) among touches by their indices.
std::vector<int> farApart(const std::vector<Touch>& touches, const std::vector<int>& among,
                          std::size_t wanted) {
  std::vector<int> chosen;
  for (std::size_t k = 0; k < std::min(wanted, among.size()); ++k) {
    int best = among.front();
    double far = -1;
    for (const int i : among) {
      double nearest = 1e300;
      for (const int c : chosen)
        nearest = std::min(nearest, (touches[static_cast<std::size_t>(i)].point -
                                     touches[static_cast<std::size_t>(c)].point)
                                        .norm());
      if (nearest > far) far = nearest, best = i;
    }
    chosen.push_back(best);
  }
  std::sort(chosen.begin(), chosen.end());
  return chosen;
}

// Of the touches that the tip reaches at these angles; none where there is no way to enough of
// them.
std::vector<int> reachedWith(const Plan& plan, const Clearance& clearance, const Feature& feature,
                             const Access& access, std::size_t wanted) {
  const Tool tool = toolOf(plan.bench, access);
  const FeatureRouter router(clearance, tool, feature);
  std::vector<int> reached;
  for (std::size_t i = 0; i < feature.touches.size(); ++i) {
    const Touch& t = feature.touches[i];
    if (touchable(tool, turn(plan.placement, t.normal)) && router.reaches(t))
      reached.push_back(static_cast<int>(i));
  }
  const bool enough = 2 * reached.size() >= feature.touches.size() && reached.size() >= wanted;
  if (!enough) return {};
  const auto chosen = farApart(feature.touches, reached, wanted);
  std::vector<Touch> touches;
  for (const int i : chosen)
    touches.push_back(feature.touches[static_cast<std::size_t>(i)]);
  std::string why;
  return router.route(touches, why).empty() ? std::vector<int>{} : chosen;
}

} // namespace

std::vector<HandTouches> handTouches(const Plan& plan, const Clearance& clearance) {
  std::vector<HandTouches> own;
  for (const FeatureId id : plan.alignment) {
    const Feature& f = plan.feature(id);
    if (!f.covered()) continue;
    std::vector<int> all(f.touches.size());
    for (std::size_t i = 0; i < all.size(); ++i)
      all[i] = static_cast<int>(i);
    const auto wanted = wantedOn(plan.nominal(id).ideal.type, id == plan.alignment.front());
    own.push_back({id, f.access, farApart(f.touches, all, wanted)});
  }
  const bool same = std::all_of(own.begin(), own.end(),
                                [&](const HandTouches& h) { return h.access == own[0].access; });
  if (same) return own;

  std::vector<Access> candidates;
  const auto consider = [&](const Access& a) {
    if (a.valid() && std::find(candidates.begin(), candidates.end(), a) == candidates.end())
      candidates.push_back(a);
  };
  for (const FeatureId id : measuringOrder(plan.steps, false))
    if (plan.feature(id).covered()) {
      consider(plan.feature(id).access);
      break;
    }
  for (const HandTouches& h : own)
    consider(h.access);
  std::vector<HandTouches> best = own;
  std::size_t most = 0;
  for (const Access& access : candidates) {
    std::vector<HandTouches> with = own;
    std::size_t served = 0;
    for (HandTouches& h : with) {
      if (h.access == access) {
        ++served;
        continue;
      }
      auto reached =
          reachedWith(plan, clearance, plan.feature(h.feature), access, h.touches.size());
      if (reached.empty()) continue;
      h.access = access;
      h.touches = std::move(reached);
      ++served;
    }
    if (served > most) most = served, best = std::move(with);
    if (most == own.size()) break;
  }
  return best;
}

} // namespace alder
