#include "route/draft.h"

#include "requirement/from_pmi.h"
#include "route/order.h"
#include "route/standing.h"
#include <algorithm>
#include <tuple>

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

// What is better with less of it: requirements and features that are not covered, tips and angles.
std::tuple<std::size_t, std::size_t, std::size_t> wantingOf(const Plan& plan) {
  const auto uncovered = std::count_if(plan.spec.requirements.begin(), plan.spec.requirements.end(),
                                       [&](const Requirement& r) { return !isCovered(plan, r); });
  std::vector<Access> used;
  std::size_t open = 0;
  for (const Feature& f : plan.features) {
    if (!f.covered())
      open += !plan.nominal(f.id).faces.empty();
    else if (std::find(used.begin(), used.end(), f.access) == used.end())
      used.push_back(f.access);
  }
  return {static_cast<std::size_t>(uncovered), open, used.size()};
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
  return plan;
}

// The standings that were not chosen so far; none where a person placed the part.
std::vector<Standing> otherStandings(const Plan& plan) {
  if (plan.supports.empty()) return {};
  auto all = standingsOf(*plan.part, plan.spec, plan.bench);
  const auto same = [&](const Standing& s) {
    return s.placement.isApprox(plan.placement, 1e-12) && s.supports == plan.supports;
  };
  const auto now = std::find_if(all.begin(), all.end(), same);
  if (now == all.end()) return {};
  all.erase(now);
  return all;
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
  constexpr std::size_t kTried = 3, kManyFeatures = 150;
  const auto others = otherStandings(plan);
  const std::size_t tried =
      plan.features.size() > kManyFeatures ? 0 : std::min(kTried, others.size());
  const double share = 1.0 / static_cast<double>(tried + 1);
  AccessCount best_count;
  auto best = planned(plan, partOf(progress, 0, share), &best_count);
  if (!best) return best;
  auto least = wantingOf(*best);
  for (std::size_t i = 0; i < tried && std::get<1>(least) > 0; ++i) {
    Plan other = plan;
    stand(other, others[i]);
    AccessCount other_count;
    const double from = share * static_cast<double>(i + 1);
    auto done = planned(std::move(other), partOf(progress, from, from + share), &other_count);
    if (!done) return done;
    if (const auto wanting = wantingOf(*done); wanting < least)
      least = wanting, best = std::move(done), best_count = other_count;
  }
  if (count) *count = best_count;
  planOrder(*best);
  return best;
}

Result<Plan> draftPlan(PartPtr part, Bench bench, const Progress& progress, AccessCount* count) {
  return completePlan(beginPlan(std::move(part), std::move(bench)), progress, count);
}

} // namespace alder
