#include "route/bench_change.h"

#include "route/standing.h"

namespace alder {

SetBench changedBench(const Plan& plan, Bench bench) {
  return {std::move(bench), plan.supports};
}

Result<EditGroup> changeOfBench(const Plan& plan, Bench bench, const Progress& progress) {
  Plan now = plan;
  Standing standing;
  if (bench.fixture.placement) {
    standing.placement = *bench.fixture.placement;
  } else {
    const auto all = standingsOf(*plan.part, plan.spec, bench);
    standing = all.empty() ? inTheAir(*plan.part, plan.spec, bench) : all.front();
  }
  const Frame& placement = standing.placement;
  EditGroup group{"Change the bench", {SetBench{std::move(bench), standing.supports}}};
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
