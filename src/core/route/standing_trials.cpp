#include "route/standing_trials.h"

#include "route/draft_setups.h"
#include "route/order.h"
#include "route/portions.h"
#include "route/touch_leverage.h"
#include <algorithm>

namespace alder {

Progress partOf(const Progress& progress, double from, double to) {
  Progress part = progress;
  part.report = [report = progress.report, from, to](double share, std::string_view what) {
    if (report) report(from + share * (to - from), what);
  };
  return part;
}

Result<Plan> plannedAll(Plan plan, const Progress& progress, AccessCount* count) {
  const Obstacles obstacles = obstaclesOf(plan);
  if (auto done = planAccess(plan, obstacles, progress, count); !done) return pass(done.error());
  if (auto done = planPortions(plan, obstacles, progress); !done) return pass(done.error());
  return plan;
}

bool stands(const Plan& plan, const Standing& s) {
  return s.placement.isApprox(plan.placement, 1e-12) && s.supports == plan.supports;
}

Standing standingNow(const Plan& plan) {
  Standing s;
  s.placement = plan.placement, s.supports = plan.supports;
  s.up = turn(plan.placement.inverse(), Vec3::UnitZ());
  return s;
}

Result<Plan> standingSo(const Plan& plan, const Standing& standing) {
  Plan other = plan;
  Setup empty{plan.setup};
  empty.fixture = Json::object(); // what holds it now does not there
  if (auto done = workOn(other, empty); !done) return pass(done.error());
  stand(other, standing);
  return other;
}

Result<std::vector<TriedStanding>>
tryStandings(const Plan& begun, const std::vector<Standing>& standings, const Progress& progress) {
  std::vector<TriedStanding> tried;
  for (std::size_t i = 0; i < standings.size(); ++i) {
    const auto n = static_cast<double>(standings.size());
    auto there = standingSo(begun, standings[i]);
    if (!there) return pass(there.error());
    auto all = plannedAll(
        std::move(*there),
        partOf(progress, static_cast<double>(i) / n, (static_cast<double>(i) + 1) / n), nullptr);
    if (!all) return pass(all.error());
    tried.push_back({standings[i], std::move(*all)});
  }
  return tried;
}

std::set<FeatureId> reachedIn(const Plan& plan) {
  std::set<FeatureId> reached;
  for (const Feature& f : plan.features)
    if (f.covered() && !plan.nominal(f.id).portion && !touchedPoorly(plan, f)) reached.insert(f.id);
  return reached;
}

namespace {

// What was planned for where it stands now.
void forgetPortions(Plan& plan) {
  std::set<FeatureId> whole;
  for (const Feature& f : plan.features)
    if (const auto& portion = plan.nominal(f.id).portion;
        portion && !portion->joins && isOfSetup(plan, f))
      whole.insert(portion->of);
  for (FeatureId id : whole)
    dropPortionsOf(plan, id);
}

bool onlyMeasures(const Steps& steps) {
  return std::all_of(steps.begin(), steps.end(), [](const RoutineStep& s) {
    return measuredIn(s.body).valid() && s.enabled && s.depth == 0;
  });
}

// Steps that a person has put in, and the part frame, stay as they were; portions that are gone are
// taken out, new ones go where they cost least. What is still as the draft left it is ordered anew.
void orderKeeping(Plan& there, const Plan& plan) {
  if (onlyMeasures(plan.steps)) return planOrder(there);
  there.steps = plan.steps;
  there.alignment = plan.alignment;
  const auto gone = [&](FeatureId id) { return id.valid() && !there.features.holds(id); };
  std::erase_if(there.steps, [&](const RoutineStep& s) { return gone(measuredIn(s.body)); });
  std::erase_if(there.alignment, gone);
  for (const Feature& f : there.features) {
    if (!isOfSetup(there, f) || there.nominal(f.id).isConstructed() || plan.features.holds(f.id))
      continue;
    RoutineStep step = measureSteps({f.id}).front();
    step.id = freeId(there.steps);
    const auto at = std::min(cheapestPlace(there, f.id), there.steps.size());
    there.steps.insert(there.steps.begin() + static_cast<std::ptrdiff_t>(at), std::move(step));
  }
}

StandingOffer offerOf(TriedStanding tried) {
  StandingOffer offer;
  offer.on = liesOn(tried.plan, tried.standing.placement, tried.standing.supports);
  std::vector<Access> accesses;
  for (const Feature& f : tried.plan.features) {
    const NominalFeature& n = tried.plan.nominal(f.id);
    if (n.isConstructed() || !isOfSetup(tried.plan, f)) continue;
    if (f.covered() && std::find(accesses.begin(), accesses.end(), f.access) == accesses.end())
      accesses.push_back(f.access);
    if (n.portion && !n.portion->joins) continue;
    ++offer.of;
    offer.reached += f.covered() && !touchedPoorly(tried.plan, f);
  }
  offer.accesses = accesses.size();
  offer.tried = std::move(tried);
  return offer;
}

} // namespace

Result<std::vector<StandingOffer>> otherStandings(const Plan& plan, const Progress& progress) {
  const auto& bodies = plan.bench.fixture.bodies;
  if (const auto held = std::find_if(bodies.begin(), bodies.end(),
                                     [](const FixtureBody& b) { return !b.support; });
      held != bodies.end())
    return fail("The part is held by its fixture ({}): remove it first.", held->name);
  Plan begun = plan;
  forgetPortions(begun);
  std::vector<Standing> others;
  for (Standing& s : standingsOf(*plan.part, plan.spec, plan.bench))
    if (!stands(plan, s)) others.push_back(std::move(s));
  auto tried = tryStandings(begun, others, progress);
  if (!tried) return pass(tried.error());
  std::vector<StandingOffer> offers;
  for (TriedStanding& t : *tried) {
    orderKeeping(t.plan, plan);
    offers.push_back(offerOf(std::move(t)));
  }
  std::stable_sort(
      offers.begin(), offers.end(), [](const StandingOffer& a, const StandingOffer& b) {
        return a.reached != b.reached ? a.reached > b.reached : a.accesses < b.accesses;
      });
  return offers;
}

EditGroup layPart(const StandingOffer& offer) {
  const Plan& there = offer.tried.plan;
  return {fmt::format("Lay the part on {}", offer.on),
          {SetBench{there.bench, there.supports}, SetPlacement{there.placement},
           SetRoutine{there.spec, there.features, there.steps, there.alignment}}};
}

} // namespace alder
