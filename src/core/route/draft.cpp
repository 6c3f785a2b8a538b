#include "route/draft.h"

#include "requirement/from_pmi.h"
#include "route/order.h"
#include "route/place_on_table.h"

namespace alder {

Plan beginPlan(PartPtr part, Bench bench) {
  Plan plan;
  plan.name = part->name;
  plan.part = std::move(part);
  plan.bench = std::move(bench);
  plan.notes = plan.part->notes;
  plan.spec = specificationFromPmi(*plan.part, plan.notes);
  if (plan.spec.requirements.empty())
    plan.notes.push_back({0, "the model holds no tolerances that can be read"});
  plan.on_pedestal = !plan.bench.fixture.placement;
  plan.placement = plan.on_pedestal ? placeOnTable(*plan.part, plan.spec, plan.bench)
                                    : *plan.bench.fixture.placement;
  for (const NominalFeature& nominal : plan.spec.features)
    plan.features.push_back({nominal.id, recipeFor(nominal, plan.spec, plan.book)});
  return plan;
}

Result<Plan> completePlan(Plan plan, const Progress& progress, AccessCount* count) {
  const Obstacles obstacles = obstaclesOf(plan);
  if (auto done = planAccess(plan, obstacles, progress, count); !done) return pass(done.error());
  planOrder(plan);
  return plan;
}

Result<Plan> draftPlan(PartPtr part, Bench bench, const Progress& progress, AccessCount* count) {
  return completePlan(beginPlan(std::move(part), std::move(bench)), progress, count);
}

} // namespace alder
