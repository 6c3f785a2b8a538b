#include "route/draft.h"

#include "requirement/from_pmi.h"
#include "route/cover.h"
#include "route/draft_setups.h"
#include "route/order.h"
#include "route/portions.h"
#include "route/touch_leverage.h"
#include <algorithm>

namespace alder {
namespace {

constexpr const char* kNoStanding =
    "it has no flat face on which it can stand, and floats; build its fixture in the Bench desk";

// Where nobody has placed it: as most features seem to be open.
void standBest(Plan& plan) {
  const auto standings = standingsOf(*plan.part, plan.spec, plan.bench);
  stand(plan, standings.empty() ? inTheAir(*plan.part, plan.spec, plan.bench) : standings.front());
  std::erase_if(plan.notes, [](const Note& n) { return n.text == kNoStanding; });
  if (standings.empty()) plan.notes.push_back({0, kNoStanding});
}

// Part of a longer job.
Progress partOf(const Progress& progress, double from, double to) {
  Progress part = progress;
  part.report = [report = progress.report, from, to](double share, std::string_view what) {
    if (report) report(from + share * (to - from), what);
  };
  return part;
}

Result<Plan> planned(Plan plan, const Progress& progress, AccessCount* count) {
  const Obstacles obstacles = obstaclesOf(plan);
  if (auto done = planAccess(plan, obstacles, progress, count); !done) return pass(done.error());
  if (auto done = planPortions(plan, obstacles, progress); !done) return pass(done.error());
  return plan;
}

bool stands(const Plan& plan, const Standing& s) {
  return s.placement.isApprox(plan.placement, 1e-12) && s.supports == plan.supports;
}

// What this standing does not reach, and another might.
std::vector<FeatureId> openOf(const Plan& plan) {
  std::vector<FeatureId> open;
  for (const Feature& f : plan.features) {
    if (plan.nominal(f.id).portion) continue;
    if (f.covered() ? touchedPoorly(plan, f) : hasPlaces(plan, f.id)) open.push_back(f.id);
  }
  return open;
}

// The same routine before anything is planned, in another standing.
Result<Plan> standingSo(const Plan& plan, const Standing& standing) {
  Plan other = plan;
  Setup empty{plan.setup};
  empty.fixture = Json::object(); // what holds it now does not there
  if (auto done = workOn(other, empty); !done) return pass(done.error());
  stand(other, standing);
  return other;
}

// Which of these features are reached so.
Result<std::vector<FeatureId>> reachedSo(const Plan& begun, const Standing& standing,
                                         const std::vector<FeatureId>& features,
                                         const Progress& progress) {
  auto other = standingSo(begun, standing);
  if (!other) return pass(other.error());
  other->setup = SetupId{other->setup.value + 1}; // only these are planned
  for (FeatureId id : features)
    other->feature(id).setup = other->setup;
  auto done = planned(std::move(*other), progress, nullptr);
  if (!done) return pass(done.error());
  std::vector<FeatureId> reached;
  for (FeatureId id : features)
    if (const Feature& f = done->feature(id); f.covered() && !touchedPoorly(*done, f))
      reached.push_back(id);
  return reached;
}

struct Choice {
  std::vector<std::size_t> further; // of the standings
  bool alone = false;               // the only one of them reaches all that is open
};

// Other standings for what is open, the fewest that reach most of it.
Result<Choice> choose(const Plan& begun, const std::vector<Standing>& standings,
                      const std::vector<FeatureId>& open, const Progress& progress) {
  std::vector<CoverSet> sets;
  std::vector<std::size_t> which;
  for (std::size_t i = 0; i < standings.size(); ++i) {
    const auto n = static_cast<double>(standings.size());
    const double from = static_cast<double>(i) / n;
    auto reached = reachedSo(begun, standings[i], open, partOf(progress, from, from + 1 / n));
    if (!reached) return pass(reached.error());
    if (reached->empty()) continue;
    CoverSet set{1 + 0.001 * static_cast<double>(i), {}}; // of equals the one that is more open
    for (std::size_t k = 0; k < open.size(); ++k)
      if (std::find(reached->begin(), reached->end(), open[k]) != reached->end())
        set.items.push_back(k);
    sets.push_back(std::move(set));
    which.push_back(i);
  }
  Choice choice;
  const Cover cover = cheapestCover(open.size(), sets);
  for (std::size_t s : cover.sets) {
    choice.further.push_back(which[s]);
    choice.alone = cover.sets.size() == 1 && sets[s].items.size() == open.size();
  }
  return choice;
}

} // namespace

Plan beginPlan(PartPtr part, Bench bench) {
  Plan plan;
  plan.name = part->name;
  plan.part = std::move(part);
  plan.bench = std::move(bench);
  plan.notes = plan.part->notes;
  Specification spec = specificationFromPmi(*plan.part, plan.notes);
  if (spec.requirements.empty())
    plan.notes.push_back({0, "the model holds no tolerances that can be read"});
  if (plan.bench.fixture.placement) plan.placement = *plan.bench.fixture.placement;
  return withSpecification(std::move(plan), std::move(spec));
}

Plan withSpecification(Plan plan, Specification spec) {
  plan.spec = std::move(spec);
  if (!plan.bench.fixture.placement) standBest(plan);
  plan.features = {};
  for (const NominalFeature& nominal : plan.spec.features)
    plan.features.push_back({nominal.id, recipeFor(nominal, plan.spec, plan.book)});
  return plan;
}

Result<Plan> completePlan(Plan plan, const Progress& progress, AccessCount* count) {
  auto best = planned(plan, partOf(progress, 0, 0.4), count);
  if (!best) return best;
  const auto open = openOf(*best);
  std::vector<Standing> others;
  bool by_hand = true;
  if (!open.empty())
    for (Standing& s : standingsOf(*plan.part, plan.spec, plan.bench)) {
      if (stands(plan, s))
        by_hand = false;
      else
        others.push_back(std::move(s));
    }
  auto choice = choose(plan, others, open, partOf(progress, 0.4, 0.8));
  if (!choice) return pass(choice.error());
  for (std::size_t i : choice->further) {
    auto there = standingSo(plan, others[i]);
    if (!there) return pass(there.error());
    auto all = planned(std::move(*there), partOf(progress, 0.8, 0.9), nullptr);
    if (!all) return all;
    // One standing that reaches all is better than two.
    if (choice->alone && !by_hand && openOf(*all).empty()) {
      best = std::move(all);
      break;
    }
    if (auto done = addSetup(*best, {others[i], std::move(*all)}, partOf(progress, 0.9, 1)); !done)
      return pass(done.error());
  }
  if (best->setups.empty()) planOrder(*best);
  return best;
}

Result<Plan> draftPlan(PartPtr part, Bench bench, const Progress& progress, AccessCount* count) {
  return completePlan(beginPlan(std::move(part), std::move(bench)), progress, count);
}

} // namespace alder
