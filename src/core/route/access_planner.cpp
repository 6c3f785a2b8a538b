#include "route/access_planner.h"

#include "base/units.h"
#include "requirement/datum_targets.h"
#include "route/angle_candidates.h"
#include "route/cover.h"
#include "route/feature_router.h"
#include "route/feature_touches.h"
#include "route/fitting_stylus.h"
#include "route/qualify_way.h"
#include <algorithm>
#include <cmath>
#include <map>
#include <mutex>
#include <set>
#include <tbb/parallel_for.h>

namespace alder {
namespace {

// Of the set-up; portions that are judged with their feature were chosen together and stay.
bool isPlanned(const Plan& plan, const Feature& f) {
  const auto& portion = plan.nominal(f.id).portion;
  return isOfSetup(plan, f) && !(portion && !portion->joins && f.covered());
}

// What one access gives a feature.
struct Attempt {
  Access access;
  std::vector<Touch> touches;
  double share = 0; // of the touches that the recipe asks for
};

class AccessPlanner {
 public:
  AccessPlanner(Plan& plan, const Obstacles& obstacles, FeatureId only = {})
      : plan_(plan)
      , only_(only)
      , candidates_(plan)
      , clearance_(plan, obstacles)
      , tried_(plan.features.size()) {}

  const AccessCount& count() const { return count_; }

  Done run(const Progress& progress) {
    progress.step(0, "Looking for a way to each feature");
    if (only_.valid()) tryUsed();
    // Straight down serves most; only what is left asks for turned angles.
    for (const Access& access : candidates_.straightDown()) {
      forEachOpen([&](Feature& f) { attempt(f, access); });
      if (progress.cancelled()) return cancelledError();
      settleFull(access);
    }
    forEachOpen([&](Feature& f) {
      for (const Access& access : candidates_.turned(directions(f))) {
        if (progress.cancelled()) return;
        attempt(f, access);
      }
    });
    if (progress.cancelled()) return cancelledError();
    progress.step(0.6, "Choosing head angles");
    chooseCommon();
    // Then tips that stand out sideways from the stem of a star.
    forEachOpen([&](Feature& f) {
      for (const Access& access : candidates_.sideways(directions(f))) {
        if (progress.cancelled()) return;
        attempt(f, access);
      }
    });
    chooseCommon();
    forEachOpen([&](Feature& f) { resample(f); });
    if (!only_.valid()) unifyDatums();
    if (progress.cancelled()) return cancelledError();
    for (Feature& f : plan_.features)
      if (!f.covered() && f.why_not.empty() && !plan_.nominal(f.id).isConstructed() && isMeant(f))
        f.why_not = reason(f);
    return {};
  }

 private:
  // With what is in the routine already, no turn is added.
  void tryUsed() {
    Feature& f = plan_.feature(only_);
    const Attempt* best = nullptr;
    for (const Access& access : accessesUsed(plan_))
      attempt(f, access);
    for (const Attempt& a : tried(f))
      if (full(a) && (!best || squareness(f, a.access) > squareness(f, best->access) + 1e-9))
        best = &a;
    if (best) settle(f, *best);
  }

  std::vector<Attempt>& tried(const Feature& f) { return tried_[plan_.features.placeOf(f.id)]; }
  const Ideal& ideal(const Feature& f) const { return plan_.nominal(f.id).ideal; }

  bool isMeant(const Feature& f) const {
    return only_.valid() ? f.id == only_ : isPlanned(plan_, f);
  }

  template <class Work> void forEachOpen(const Work& work) {
    std::vector<Feature*> open;
    for (Feature& f : plan_.features)
      if (!f.covered() && !plan_.nominal(f.id).faces.empty() && isMeant(f)) open.push_back(&f);
    tbb::parallel_for(std::size_t{0}, open.size(), [&](std::size_t i) { work(*open[i]); });
  }

  std::vector<Vec3> directions(const Feature& f) const {
    const auto type = ideal(f).type;
    const bool by_axis = type == SurfaceType::Plane || type == SurfaceType::Slot;
    return candidates_.directions(ideal(f), by_axis ? Vec3(Vec3::Zero()) : meanNormal(f));
  }

  Vec3 meanNormal(const Feature& f) const {
    Vec3 sum = Vec3::Zero();
    for (const Touch& t : base(f, 1.5))
      sum += turn(plan_.placement, t.normal);
    return sum;
  }

  // Touches by the recipe alone, without regard to a stylus; kept, since every attempt asks.
  const std::vector<Touch>& base(const Feature& f, double ball_radius) const {
    auto& kept = base_[plan_.features.placeOf(f.id)];
    const auto found = kept.find(ball_radius);
    if (found != kept.end()) return found->second;
    auto touches = touchesAnywhere(plan_, f, ball_radius);
    return kept.emplace(ball_radius, std::move(touches)).first->second;
  }

  // Tips that cannot touch the reference sphere do not measure. Each is tried once.
  bool qualifiable(const Access& access) {
    const std::tuple key(access.stylus, access.tip, access.a, access.b);
    {
      const std::lock_guard lock(qualifiable_lock_);
      if (const auto known = qualifiable_.find(key); known != qualifiable_.end())
        return known->second;
    }
    const bool can = canQualify(plan_, clearance_.obstacles(), access);
    const std::lock_guard lock(qualifiable_lock_);
    return qualifiable_.emplace(key, can).first->second;
  }

  void attempt(const Feature& f, const Access& access) {
    const Tool tool = toolOf(plan_.bench, access);
    const auto& all = base(f, plan_.tip(access).edgeRoom());
    if (all.empty()) return;
    const FeatureRouter router(clearance_, tool, f);
    Attempt result{access, {}, 0};
    std::size_t missed = 0;
    for (const Touch& t : all) {
      const bool good = touchable(tool, turn(plan_.placement, t.normal)) && router.reaches(t);
      if (good)
        result.touches.push_back(t);
      else if (++missed * 3 > all.size() * 2)
        return; // hopeless
    }
    if (!touchesSuffice(ideal(f), result.touches, f.recipe.stroke)) return;
    std::string why;
    if (router.route(result.touches, why).empty() || !qualifiable(access)) return;
    result.share = static_cast<double>(result.touches.size()) /
                   std::max(1, touchCount(f.recipe, ideal(f).type));
    if (missed > 0) result.share = std::min(result.share, 0.99);
    if (!touchesAllRound(ideal(f), result.touches)) result.share = std::min(result.share, 0.5);
    if (isNarrow(f, result.touches)) result.share = std::min(result.share, 0.9);
    if (isCrowded(f, access)) result.share = std::min(result.share, 0.9);
    tried(f).push_back(std::move(result));
  }

  // A large ball keeps so far from the edges of a strip that its touches lie nearly on one line,
  // and noise turns the plane about it. Of a datum, on which others hang, that is worth a swap.
  bool isNarrow(const Feature& f, const std::vector<Touch>& touches) const {
    constexpr double kMuch = 0.7;
    const auto& datums = plan_.spec.datums;
    if (ideal(f).type != SurfaceType::Plane ||
        std::none_of(datums.begin(), datums.end(), [&](const Datum& d) {
          return std::find(d.features.begin(), d.features.end(), f.id) != d.features.end();
        }))
      return false;
    double room = std::numeric_limits<double>::infinity();
    for (const Stylus& stylus : plan_.bench.styli)
      for (const Tip& tip : stylus.tips)
        room = std::min(room, tip.edgeRoom());
    return widthOf(ideal(f), touches) < kMuch * widthOf(ideal(f), base(f, room));
  }

  // A ball that nearly fills its hole has no room to approach and search in: a smaller one is
  // better, where the bench has one.
  bool isCrowded(const Feature& f, const Access& access) const {
    constexpr double kRoomy = 1.5; // hole to ball
    const Ideal& i = ideal(f);
    const auto fills = [&](double ball) { return i.diameter < kRoomy * ball; };
    if (!i.hole || i.diameter <= 0 || !fills(plan_.tip(access).ball_diameter)) return false;
    for (const Stylus& stylus : plan_.bench.styli)
      for (const Tip& tip : stylus.tips)
        if (!tip.disc() && !fills(tip.ball_diameter)) return true;
    return false;
  }

  static void settle(Feature& f, const Attempt& a) {
    f.access = a.access;
    f.touches = a.touches;
    f.why_not.clear();
  }

  static bool full(const Attempt& a) { return a.share >= 0.999; }

  void settleFull(const Access& access) {
    for (Feature& f : plan_.features)
      for (const Attempt& a : tried(f))
        if (!f.covered() && sameAccess(a.access, access) && full(a)) settle(f, a);
  }

  // The fewest tips and angles that serve all open features; a further stylus costs more than a
  // turn.
  void chooseCommon() {
    for (const double least : {0.999, 0.75}) {
      std::vector<Feature*> open;
      std::vector<Access> all;
      for (Feature& f : plan_.features) {
        if (f.covered() || !isMeant(f)) continue;
        bool served = false;
        for (const Attempt& a : tried(f)) {
          if (a.share < least) continue;
          served = true;
          if (std::none_of(all.begin(), all.end(),
                           [&](const Access& o) { return sameAccess(o, a.access); }))
            all.push_back(a.access);
        }
        if (served) open.push_back(&f);
      }
      const auto sets = setsOf(all, open, least);
      const Cover cover = cheapestCover(open.size(), sets);
      std::vector<CoverSet> alike = sets;
      for (CoverSet& s : alike)
        s.cost = 1;
      count_.used += static_cast<int>(cover.sets.size());
      count_.least += static_cast<int>(std::ceil(cheapestCover(open.size(), alike).bound - 1e-6));
      for (Feature* f : open) {
        const Attempt* best = nullptr;
        for (std::size_t s : cover.sets)
          if (const Attempt* a = servedBy(*f, all[s], least);
              a && (!best || squareness(*f, a->access) > squareness(*f, best->access) + 1e-9))
            best = a;
        if (best) settle(*f, *best);
      }
    }
  }

  std::vector<CoverSet> setsOf(const std::vector<Access>& all, const std::vector<Feature*>& open,
                               double least) {
    std::vector<CoverSet> sets;
    for (const Access& access : all) {
      const bool in_use =
          std::any_of(plan_.features.begin(), plan_.features.end(), [&](const Feature& f) {
            return isOfSetup(plan_, f) && f.covered() && f.access.stylus == access.stylus;
          });
      CoverSet set{in_use ? 1.0 : 2.5, {}};
      double square = 0;
      for (std::size_t i = 0; i < open.size(); ++i)
        if (servedBy(*open[i], access, least)) {
          set.items.push_back(i);
          square += squareness(*open[i], access);
        }
      // between equals the one whose shank lies best to the surfaces
      set.cost -= 0.01 * square / static_cast<double>(std::max<std::size_t>(1, set.items.size()));
      sets.push_back(std::move(set));
    }
    return sets;
  }

  // How well the shank lies to the surfaces of the feature: along its axis, across a slot, against
  // the mean normal.
  double squareness(const Feature& f, const Access& access) const {
    const Tip& tip = plan_.tip(access);
    const Vec3 shank = shankDirection(tip, access.a, access.b);
    const double along = std::abs(shank.dot(turn(plan_.placement, ideal(f).direction)));
    double square = ideal(f).type == SurfaceType::Slot ? 1 - along : along;
    const Vec3 n = meanNormal(f);
    if (n.norm() > 0.1) square += shank.dot(n.normalized());
    return square;
  }

  // Swapping the stylus between the features of one datum system costs most: take one for all if it
  // serves all.
  void unifyDatums() {
    std::vector<FeatureId> datums;
    for (const Datum& d : plan_.spec.datums)
      for (FeatureId id : d.features)
        if (isOfSetup(plan_, plan_.feature(id))) datums.push_back(id);
    for (FeatureId from : datums) {
      const Access access = plan_.feature(from).access;
      if (!access.valid()) continue;
      bool all = true;
      for (FeatureId id : datums) {
        Feature& f = plan_.feature(id);
        if (f.covered() && !servedBy(f, access, 0.999)) attempt(f, access);
        all &=
            !f.covered() || sameAccess(f.access, access) || servedBy(f, access, 0.999) != nullptr;
      }
      if (!all) continue;
      for (FeatureId id : datums)
        if (Feature& f = plan_.feature(id);
            f.covered() && !f.access_forced && !sameAccess(f.access, access))
          settle(f, *servedBy(f, access, 0.999));
      return;
    }
  }

  const Attempt* servedBy(const Feature& f, const Access& access, double least) {
    for (const Attempt& a : tried(f))
      if (sameAccess(a.access, access) && a.share >= least) return &a;
    return nullptr;
  }

  // What is better among ways to touch a feature of which none reaches all that the recipe asks
  // for: touches all round, then far apart, then many of them, then a shaft that lies well to the
  // surface.
  bool isBetter(const Feature& f, const Attempt& a, const Attempt& than) const {
    const bool round = touchesAllRound(ideal(f), a.touches),
               other = touchesAllRound(ideal(f), than.touches);
    if (round != other) return round;
    const double apart = spreadOf(ideal(f), a.touches), others = spreadOf(ideal(f), than.touches);
    constexpr double kMuch = 1.4;
    if (apart > kMuch * others) return true;
    if (others > kMuch * apart) return false;
    if (a.touches.size() != than.touches.size()) return a.touches.size() > than.touches.size();
    return squareness(f, a.access) > squareness(f, than.access) + 1e-9;
  }
  // Of a long bore that is touched near its mouth only, the axis is a guess at the other end.
  bool isEnough(const Feature& f, const Attempt& a) const {
    const Ideal& i = ideal(f);
    const bool deep = i.type != SurfaceType::Cylinder ||
                      spreadOf(i, a.touches) >= std::min(i.diameter, 0.7 * i.length);
    return deep && static_cast<int>(a.touches.size()) >= touchCount(f.recipe, i.type) &&
           touchesAllRound(i, a.touches);
  }

  // Few touches of the plain pattern can be reached: plan them anew among the places that can.
  void resample(Feature& f) {
    std::vector<Access> candidates;
    for (const Attempt& a : tried(f))
      candidates.push_back(a.access);
    for (const Access& a : candidates_.straightDown())
      candidates.push_back(a);
    for (const Access& a : candidates_.turned(directions(f)))
      candidates.push_back(a);
    constexpr std::size_t kTried = 24;
    if (candidates.size() > kTried) candidates.resize(kTried);
    std::optional<Attempt> best;
    for (const Attempt& a : tried(f))
      if (!best || isBetter(f, a, *best)) best = a;
    for (const Access& access : candidates) {
      if (auto a = resampled(f, access); a && (!best || isBetter(f, *a, *best)))
        best = std::move(a);
      if (best && isEnough(f, *best)) break;
    }
    if (!best || !touchesAllRound(ideal(f), best->touches))
      for (const Attempt& plain : everyAngle(f)) {
        // What is planned anew may have no clear way where the plain pattern has.
        if (!best || isBetter(f, plain, *best)) best = plain;
        if (auto a = resampled(f, plain.access); a && isBetter(f, *a, *best)) best = std::move(a);
      }
    if (best) settle(f, *best);
  }

  std::optional<Attempt> resampled(const Feature& f, const Access& access) {
    const Tool tool = toolOf(plan_.bench, access);
    const FeatureRouter router(clearance_, tool, f);
    for (double margin : {f.recipe.edge_margin, kNarrowMargin}) {
      Recipe recipe = f.recipe;
      recipe.edge_margin = margin;
      Attempt a{access, {}, 0};
      a.touches = planTouches(
          *plan_.part, plan_.nominal(f.id), recipe, plan_.tip(access).edgeRoom(),
          [&](const SurfacePoint& s) {
            return touchable(tool, turn(plan_.placement, s.normal)) &&
                   router.reaches({s.point, s.normal, s.face, 0});
          },
          targetsOf(plan_.spec, f.id));
      std::string why;
      if (touchesSuffice(ideal(f), a.touches, f.recipe.stroke) &&
          !router.route(a.touches, why).empty() && qualifiable(access))
        return a;
    }
    return {};
  }

  // Each tip at each angle of the head: how many touches of the plain pattern it reaches, and what
  // stands in the way of the first that it does not. The best few, those that fix the feature
  // first. What is best although nothing does is kept to be told.
  std::vector<Attempt> everyAngle(const Feature& f) {
    struct Tried {
      Access access;
      std::vector<Touch> reached;
      std::string blocked;
    };
    const Head& head = plan_.bench.head;
    std::vector<Tried> good;
    Tried best;
    for (std::size_t s = 0; s < plan_.bench.styli.size(); ++s)
      for (std::size_t t = 0; t < plan_.bench.styli[s].tips.size(); ++t) {
        const auto& touches = base(f, plan_.bench.styli[s].tips[t].edgeRoom());
        if (touches.empty()) continue;
        for (int i = 0; i < stepsOf(head.a); ++i)
          for (int j = 0; j < stepsOf(head.b); ++j) {
            Tried now{{static_cast<int>(s), static_cast<int>(t), head.a.low + i * head.a.step,
                       head.b.low + j * head.b.step},
                      {},
                      {}};
            reachAll(f, touches, now.access, now.reached, now.blocked);
            if (touchesSuffice(ideal(f), now.reached, f.recipe.stroke)) good.push_back(now);
            // Of what reaches none the one that lies best to the surface tells most.
            if (now.reached.size() > best.reached.size() || best.blocked.empty() ||
                (now.reached.size() == best.reached.size() && !now.blocked.empty() &&
                 squareness(f, now.access) > squareness(f, best.access) + 1e-9))
              best = std::move(now);
          }
      }
    if (good.empty() && best.access.valid())
      nearest_[plan_.features.placeOf(f.id)] =
          best.reached.empty()
              ? fmt::format("not one touch can be made at any angle; with {} {}",
                            nameOf(plan_, best.access), best.blocked)
              : fmt::format("at best, with {}, {} of {} touches can be made; there {}",
                            nameOf(plan_, best.access), best.reached.size(),
                            base(f, plan_.tip(best.access).edgeRoom()).size(), best.blocked);
    std::stable_sort(good.begin(), good.end(), [&](const Tried& a, const Tried& b) {
      return isBetter(f, {a.access, a.reached}, {b.access, b.reached});
    });
    std::vector<Attempt> attempts;
    for (const Tried& one : good) {
      if (attempts.size() >= 12) break;
      const Tool tool = toolOf(plan_.bench, one.access);
      std::string why;
      if (!qualifiable(one.access)) {
        nearest_[plan_.features.placeOf(f.id)] =
            nameOf(plan_, one.access) +
            " reaches it, but cannot be qualified: " + whyNotQualified(one.access);
        continue;
      }
      if (FeatureRouter(clearance_, tool, f).route(one.reached, why).empty()) {
        nearest_[plan_.features.placeOf(f.id)] =
            nameOf(plan_, one.access) + " reaches it, but there is " + why;
        continue;
      }
      attempts.push_back({one.access, one.reached, 0});
    }
    return attempts;
  }

  std::string whyNotQualified(const Access& access) const {
    const auto each = qualifyEach(plan_, clearance_.obstacles(), {access});
    return each && !each->left.empty() ? each->left.front().why : "";
  }

  // The touches that can be made, and what meets what at the first that cannot.
  void reachAll(const Feature& f, const std::vector<Touch>& touches, const Access& access,
                std::vector<Touch>& reached, std::string& blocked) const {
    const Tool tool = toolOf(plan_.bench, access);
    const FeatureRouter router(clearance_, tool, f);
    Hint hint;
    const Touch* first = nullptr;
    for (const Touch& t : touches) {
      if (touchable(tool, turn(plan_.placement, t.normal)) && router.reaches(t, &hint))
        reached.push_back(t);
      else if (!first)
        first = &t;
    }
    if (!first) return;
    if (!touchable(tool, turn(plan_.placement, first->normal))) {
      blocked = "the stylus would have to come through the surface";
      return;
    }
    const TouchMove m = touchMove(plan_, f, *first, tool.ball_radius);
    for (const Vec3& place : {m.approach, m.contact, m.retract})
      if (const auto over = clearance_.overrun(tool, place, kRoomAtEnds)) {
        const double beyond = -over->clearance - kRoomAtEnds;
        blocked = beyond > 0
                      ? fmt::format("the {} would have to go {} mm beyond its travel", over->moving,
                                    figure(beyond, 1))
                      : fmt::format("the {} would come within {} mm of the end of its travel",
                                    over->moving, figure(kRoomAtEnds, 0));
        return;
      }
    const TouchAllowance allowance{&plan_.nominal(f.id).faces};
    auto hit = clearance_.nearest(tool, m.approach, m.contact, Margins{}.near, allowance);
    if (!hit)
      hit = clearance_.nearestInSearch(
          tool, m.contact, m.contact - f.recipe.search * turn(plan_.placement, first->normal), 0);
    blocked = hit ? "the " + hit->moving + " meets the " + hit->still : "no touch is free";
  }

  std::string reason(const Feature& f) const {
    if (plan_.nominal(f.id).faces.empty()) return "the model ties it to no face";
    const Access shortest =
        candidates_.straightTips().empty() ? Access{} : candidates_.straightTips().front();
    if (!shortest.valid()) return "the bench has no straight stylus";
    const double radius = plan_.tip(shortest).ball_diameter / 2,
                 room = plan_.tip(shortest).edgeRoom();
    if (base(f, room).empty()) {
      if (ideal(f).hole && ideal(f).diameter < 2 * radius + 0.4) {
        const auto change = helpToReach(plan_, clearance_.obstacles(), f.id);
        return fmt::format("the ball ø{} does not fit into it{}", shortFigure(2 * radius),
                           change.empty() ? "" : "; " + change);
      }
      const auto change = helpToReach(plan_, clearance_.obstacles(), f.id);
      return fmt::format("no place on it is {} mm from every edge, which the {} ø{} needs{}",
                         shortFigure(room + 0.2), plan_.tip(shortest).disc() ? "disc" : "ball",
                         shortFigure(2 * radius), change.empty() ? "" : "; " + change);
    }
    const std::string& at_best = nearest_[plan_.features.placeOf(f.id)];
    return "no stylus and angle of the bench reaches enough of it" +
           (at_best.empty() ? " to fix it" : "; " + at_best) + help(f);
  }

  std::string help(const Feature& f) const {
    const auto change = helpToReach(plan_, clearance_.obstacles(), f.id);
    return change.empty() ? fmt::format("; no other shaft or ball that the probe bears helps, {}",
                                        kAnotherStandingMay)
                          : "; " + change;
  }

  Plan& plan_;
  FeatureId only_; // else all
  AngleCandidates candidates_;
  AccessCount count_;
  Clearance clearance_;
  std::vector<std::vector<Attempt>> tried_;
  mutable std::vector<std::map<double, std::vector<Touch>>> base_{tried_.size()};
  std::map<std::tuple<int, int, double, double>, bool> qualifiable_;
  std::mutex qualifiable_lock_;
  std::vector<std::string> nearest_{
      std::vector<std::string>(tried_.size())}; // to be told, see reason()
};

} // namespace

Done planAccessOf(Plan& plan, const Obstacles& obstacles, FeatureId feature,
                  const Progress& progress) {
  Feature& f = plan.feature(feature);
  if (!isOfSetup(plan, f))
    return fail("{} is touched in {}; work on that one first.", plan.nominal(feature).name,
                nameOfSetup(plan, f.setup));
  f.access = Access{}, f.touches.clear(), f.why_not.clear();
  return AccessPlanner(plan, obstacles, feature).run(progress);
}

bool hasPlaces(const Plan& plan, FeatureId feature) {
  const NominalFeature& n = plan.nominal(feature);
  const Recipe& recipe = plan.feature(feature).recipe;
  std::set<double> rooms;
  for (const Stylus& stylus : plan.bench.styli)
    for (const Tip& tip : stylus.tips)
      rooms.insert(tip.edgeRoom());
  Recipe narrow = recipe;
  narrow.edge_margin = std::min(narrow.edge_margin, kNarrowMargin);
  return !n.faces.empty() && std::any_of(rooms.begin(), rooms.end(), [&](double room) {
    return touchesSuffice(
        n.ideal, planTouches(*plan.part, n, narrow, room, {}, targetsOf(plan.spec, feature)),
        recipe.stroke);
  });
}

Done planAccess(Plan& plan, const Obstacles& obstacles, const Progress& progress,
                AccessCount* count) {
  for (Feature& f : plan.features)
    if (isPlanned(plan, f) && !f.access_forced)
      f.access = Access{}, f.touches.clear(), f.why_not.clear();
  AccessPlanner planner(plan, obstacles);
  auto done = planner.run(progress);
  if (count) *count = planner.count();
  return done;
}

} // namespace alder
