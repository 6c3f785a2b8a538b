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
  Specification spec = specificationFromPmi(*plan.part, plan.notes);
  if (spec.requirements.empty())
    plan.notes.push_back({0, "the model holds no tolerances that can be read"});
  plan.on_pedestal = !plan.bench.fixture.placement;
  if (!plan.on_pedestal) plan.placement = *plan.bench.fixture.placement;
  return withSpecification(std::move(plan), std::move(spec));
}

Plan withSpecification(Plan plan, Specification spec) {
  plan.spec = std::move(spec);
  if (plan.on_pedestal) plan.placement = placeOnTable(*plan.part, plan.spec, plan.bench);
  plan.features = {};
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
