#include "route/portions.h"

#include "requirement/datum_targets.h"
#include "route/feature_router.h"
#include "route/qualify_way.h"
#include "route/touch_leverage.h"
#include <algorithm>
#include <cmath>
#include <tbb/parallel_for.h>

namespace alder {
namespace {

constexpr std::size_t kMostPortions = 4;
constexpr std::size_t kLeastGain = 2; // touches more than before, for which sharing is worth while

// What one tip at one pair of angles reaches of the places that a feature is to be touched at.
struct Share {
  Access access;
  std::vector<std::size_t> reached; // ascending
};

struct Shared {
  FeatureId feature;
  std::vector<Share> shares; // none: it stays as it is
  std::vector<Touch> places;
};

class Sharer {
 public:
  Sharer(const Plan& plan, const Obstacles& obstacles, const Feature& feature)
      : plan_(plan)
      , clearance_(plan, obstacles)
      , feature_(feature)
      , nominal_(plan.nominal(feature.id)) {}

  Shared run(const Progress& progress) {
    Shared shared{feature_.id, {}, placesOn()};
    places_ = shared.places;
    if (!touchesSuffice(nominal_.ideal, places_, feature_.recipe.stroke)) return shared;
    auto all = everyAccess(progress);
    std::vector<bool> done(places_.size());
    while (shared.shares.size() < kMostPortions && !progress.cancelled()) {
      const auto best = bestOf(all, done);
      if (!best) break;
      Share share{all[*best].access, {}};
      for (std::size_t i : all[*best].reached)
        if (!done[i]) share.reached.push_back(i);
      all.erase(all.begin() + static_cast<std::ptrdiff_t>(*best));
      if (!can(share)) continue;
      for (std::size_t i : share.reached)
        done[i] = true;
      shared.shares.push_back(std::move(share));
      if (std::find(done.begin(), done.end(), false) == done.end()) break;
    }
    // One alone may do better than the one that was chosen because it serves others too.
    if (shared.shares.empty() || !isBetter(shared.shares)) shared.shares.clear();
    return shared;
  }

 private:
  std::vector<Touch> placesOn() const {
    double room = std::numeric_limits<double>::infinity();
    for (const Stylus& stylus : plan_.bench.styli)
      for (const Tip& tip : stylus.tips)
        room = std::min(room, tip.edgeRoom());
    return planTouches(*plan_.part, nominal_, feature_.recipe, room, {},
                       targetsOf(plan_.spec, feature_.id));
  }

  std::vector<Share> everyAccess(const Progress& progress) const {
    const Head& head = plan_.bench.head;
    std::vector<Share> all;
    for (std::size_t s = 0; s < plan_.bench.styli.size(); ++s)
      for (std::size_t t = 0; t < plan_.bench.styli[s].tips.size(); ++t)
        for (int i = 0; i < stepsOf(head.a) && !progress.cancelled(); ++i)
          for (int j = 0; j < stepsOf(head.b); ++j) {
            Share share{{static_cast<int>(s), static_cast<int>(t), head.a.low + i * head.a.step,
                         head.b.low + j * head.b.step},
                        {}};
            share.reached = reachedWith(share.access);
            if (share.reached.size() >= leastGain()) all.push_back(std::move(share));
          }
    return all;
  }

  // Each portion is a feature in programs for machines, which take none of fewer touches.
  std::size_t leastGain() const {
    return static_cast<std::size_t>(leastTouches(nominal_.ideal.type));
  }

  std::vector<std::size_t> reachedWith(const Access& access) const {
    const Tool tool = toolOf(plan_.bench, access);
    const FeatureRouter router(clearance_, tool, feature_);
    std::vector<std::size_t> reached;
    Hint hint;
    for (std::size_t i = 0; i < places_.size(); ++i)
      if (touchable(tool, turn(plan_.placement, places_[i].normal)) &&
          router.reaches(places_[i], &hint))
        reached.push_back(i);
    return reached;
  }

  // Most places that are still open; of equals the one whose angles are used already, else the one
  // whose shaft lies best to the surface there.
  std::optional<std::size_t> bestOf(const std::vector<Share>& all,
                                    const std::vector<bool>& done) const {
    std::optional<std::size_t> best;
    double most = 0;
    for (std::size_t k = 0; k < all.size(); ++k) {
      std::size_t gain = 0;
      Vec3 normal = Vec3::Zero();
      for (std::size_t i : all[k].reached)
        if (!done[i]) ++gain, normal += places_[i].normal;
      if (gain < leastGain()) continue;
      const Access& a = all[k].access;
      const double square =
          shankDirection(plan_.tip(a), a.a, a.b).dot(turn(plan_.placement, normal.normalized()));
      const double score = static_cast<double>(gain) + (isUsed(a) ? 0.5 : 0) +
                           (normal.norm() > 0.1 ? 0.2 * square : 0);
      if (!best || score > most + 1e-9) best = k, most = score;
    }
    return best;
  }

  bool isUsed(const Access& access) const {
    return std::any_of(plan_.features.begin(), plan_.features.end(), [&](const Feature& f) {
      return isOfSetup(plan_, f) && f.covered() && f.access == access;
    });
  }

  std::vector<Touch> touchesOf(const Share& share) const {
    std::vector<Touch> touches;
    for (std::size_t i : share.reached)
      touches.push_back(places_[i]);
    return touches;
  }

  bool can(const Share& share) const {
    std::string why;
    const auto touches = touchesOf(share);
    return !FeatureRouter(clearance_, toolOf(plan_.bench, share.access), feature_)
                .route(touches, why)
                .empty() &&
           canQualify(plan_, clearance_.obstacles(), share.access);
  }

  // Than what one tip at one pair of angles does.
  bool isBetter(const std::vector<Share>& shares) const {
    std::vector<Touch> all;
    for (const Share& s : shares) {
      const auto touches = touchesOf(s);
      all.insert(all.end(), touches.begin(), touches.end());
    }
    const Ideal& i = nominal_.ideal;
    if (!touchesSuffice(i, all, feature_.recipe.stroke)) return false;
    if (!feature_.covered()) return true;
    constexpr double kMuch = 0.7;
    const auto& now = feature_.touches;
    if (touchesAllRound(i, all) != touchesAllRound(i, now)) return touchesAllRound(i, all);
    const double before = leverageAt(i, now, places_), after = leverageAt(i, all, places_);
    return after < kMuch * before || (all.size() >= now.size() + kLeastGain && after <= before);
  }

  const Plan& plan_;
  Clearance clearance_;
  const Feature& feature_;
  const NominalFeature& nominal_;
  std::vector<Touch> places_;
};

// One tip at one pair of angles is not enough for it.
bool wantsMore(const Plan& plan, const Feature& f) {
  const NominalFeature& n = plan.nominal(f.id);
  if (!isOfSetup(plan, f) || f.access_forced || n.faces.empty() || n.portion) return false;
  if (f.recipe.stroke != Stroke::Touches) return false; // a scan is of one tip
  if (!f.covered()) return true;
  return !touchesAllRound(n.ideal, f.touches) || touchedPoorly(plan, f) ||
         static_cast<int>(f.touches.size()) < touchCount(f.recipe, n.ideal.type);
}

void remove(Plan& plan, const std::vector<FeatureId>& gone) {
  for (FeatureId id : gone) {
    plan.spec.features.erase(id);
    plan.features.erase(id);
    std::erase_if(plan.steps, [&](const RoutineStep& s) { return measuredIn(s.body) == id; });
  }
}

void removePortions(Plan& plan) {
  std::vector<FeatureId> gone;
  for (const Feature& f : plan.features)
    if (const auto& portion = plan.nominal(f.id).portion;
        portion && !portion->joins && isOfSetup(plan, f))
      gone.push_back(f.id);
  remove(plan, gone);
}

void take(Plan& plan, const Shared& shared) {
  for (std::size_t k = 0; k < shared.shares.size(); ++k) {
    const Share& share = shared.shares[k];
    std::vector<Touch> touches;
    for (std::size_t i : share.reached)
      touches.push_back(shared.places[i]);
    if (k == 0) {
      Feature& f = plan.feature(shared.feature);
      f.access = share.access, f.touches = std::move(touches), f.why_not.clear();
      continue;
    }
    NominalFeature n = plan.nominal(shared.feature);
    n.name += fmt::format(", portion {}", k + 1);
    n.portion = Portion{n.id, false};
    n.id = plan.spec.features.next();
    Feature f = plan.feature(shared.feature);
    f.id = n.id, f.access = share.access, f.touches = std::move(touches);
    const std::size_t place = touchedCount(plan);
    plan.spec.features.insert(place, n);
    plan.features.insert(place, f);
  }
}

} // namespace

Done planPortions(Plan& plan, const Obstacles& obstacles, const Progress& progress) {
  removePortions(plan);
  std::vector<const Feature*> open;
  for (const Feature& f : plan.features)
    if (wantsMore(plan, f)) open.push_back(&f);
  std::vector<Shared> shared(open.size());
  tbb::parallel_for(std::size_t{0}, open.size(), [&](std::size_t i) {
    shared[i] = Sharer(plan, obstacles, *open[i]).run(progress);
  });
  if (progress.cancelled()) return cancelledError();
  for (const Shared& s : shared)
    if (!s.shares.empty()) take(plan, s);
  return {};
}

void dropPortionsOf(Plan& plan, FeatureId feature) {
  auto gone = withPortions(plan.spec, feature);
  std::erase(gone, feature);
  remove(plan, gone);
}

} // namespace alder
