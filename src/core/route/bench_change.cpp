#include "route/bench_change.h"

#include "route/place_on_table.h"

namespace alder {

SetBench changedBench(const Plan& plan, Bench bench) {
  if (plan.on_pedestal) addPedestal(bench, *plan.part, plan.placement);
  return {std::move(bench), plan.on_pedestal};
}

Result<EditGroup> changeOfBench(const Plan& plan, Bench bench, const Progress& progress) {
  Plan now = plan;
  const bool pedestal = !bench.fixture.placement;
  const Frame placement =
      pedestal ? placeOnTable(*plan.part, plan.spec, bench) : *bench.fixture.placement;
  EditGroup group{"Change the bench", {SetBench{std::move(bench), pedestal}}};
  if (auto done = applyEdit(now, group.edits.front()); !done) return pass(done.error());
  if (!placement.isApprox(plan.placement, 1e-15)) {
    group.edits.push_back(SetPlacement{placement});
    now.placement = placement;
  }
  const Obstacles obstacles = obstaclesOf(now);
  if (auto done = planAccess(now, obstacles, progress); !done) return pass(done.error());
  for (const Feature& f : now.features) {
    if (now.nominal(f.id).isConstructed()) continue;
    group.edits.push_back(SetRecipe{f.id, f.recipe, f.touches, f.why_not});
    group.edits.push_back(SetAccess{f.id, f.access, f.access_forced});
  }
  return group;
}

} // namespace alder
