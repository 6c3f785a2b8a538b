#include "route/bench_change.h"

#include "route/access_planner.h"
#include "route/fitting_stylus.h"
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

Result<EditGroup> takeFittingStylus(const Plan& plan, const std::vector<FeatureId>& features,
                                    const Progress& progress) {
  const Obstacles obstacles = obstaclesOf(plan);
  const auto open = [](const Plan& p, FeatureId id) {
    return !p.feature(id).covered() && !p.nominal(id).faces.empty() && isOfSetup(p, p.feature(id));
  };
  for (FeatureId id : features) {
    if (!open(plan, id)) continue;
    auto fitting = fittingStylus(plan, obstacles, id);
    if (progress.cancelled()) return cancelledError();
    if (!fitting) continue;
    Plan now = plan;
    EditGroup group{fmt::format("Take on {}", fitting->bench.styli.back().name),
                    {SetBench{fitting->bench, plan.supports}}};
    if (auto done = applyEdit(now, group.edits.front()); !done) return pass(done.error());
    const Obstacles there = obstaclesOf(now);
    for (FeatureId other : features) {
      if (!open(now, other)) continue;
      if (auto done = planAccessOf(now, there, other, progress); !done) return pass(done.error());
      const Feature& f = now.feature(other);
      group.edits.push_back(SetRecipe{f.id, f.recipe, f.touches, f.why_not});
      group.edits.push_back(SetAccess{f.id, f.access, f.access_forced});
    }
    return group;
  }
  return fail("No stylus that the probe bears would reach what is open here.");
}

} // namespace alder
