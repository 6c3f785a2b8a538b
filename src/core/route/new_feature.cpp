#include "route/new_feature.h"

#include "part/recognise.h"
#include "plan/feature_edit.h"
#include "plan/steps/step_edit.h"
#include "requirement/from_pmi.h"
#include "route/access_planner.h"
#include "route/order.h"
#include <algorithm>

namespace alder {
namespace {

Done planOne(Plan& plan, const Obstacles& obstacles, const NominalFeature& nominal,
             const Specification& wanted, const Progress& progress, NewFeatures& into) {
  AddFeature add;
  add.nominal = nominal;
  add.feature.id = add.nominal.id;
  add.feature.setup = plan.setup;
  add.feature.recipe = recipeFor(add.nominal, wanted, plan.book);
  if (auto done = addFeature(plan, add); !done) return pass(done.error());
  if (auto done = planAccessOf(plan, obstacles, add.nominal.id, progress); !done) return done;
  add.feature = plan.feature(add.nominal.id);
  into.features.push_back(add.nominal.id);
  into.edits.push_back(add);
  const std::size_t place =
      add.feature.covered() ? cheapestPlace(plan, add.nominal.id) : plan.steps.size();
  auto step = insertSteps(plan, measureSteps({add.nominal.id}), place, 0);
  if (!step) return pass(step.error());
  if (auto done = applyEdit(plan, *step); !done) return pass(done.error());
  into.edits.push_back(std::move(*step));
  return {};
}

} // namespace

Result<NewFeatures> planNewFeatures(const Plan& plan, const Obstacles& obstacles,
                                    const std::vector<FaceId>& faces, const Progress& progress) {
  Plan copy = plan;
  NewFeatures found;
  for (const Surface& surface : surfacesOf(*plan.part, faces, Grouping::SlotIfParallel)) {
    NominalFeature nominal;
    nominal.id = copy.spec.features.next();
    nominal.name = freeFeatureName(copy.spec, featureName(surface.ideal));
    nominal.ideal = surface.ideal;
    nominal.faces = surface.faces;
    if (auto done = planOne(copy, obstacles, nominal, copy.spec, progress, found); !done)
      return pass(done.error());
  }
  return found;
}

Result<NewFeatures> planSpecification(const Plan& plan, const Obstacles& obstacles,
                                      const Specification& wanted, const Progress& progress) {
  NewFeatures found;
  Plan copy = plan;
  if (plan.features.empty() && plan.steps.empty()) {
    copy.spec = wanted;
    for (const NominalFeature& nominal : wanted.features) {
      copy.features.push_back({nominal.id, recipeFor(nominal, wanted, plan.book)});
      found.features.push_back(nominal.id);
    }
    if (auto done = planAccess(copy, obstacles, progress); !done) return pass(done.error());
    planOrder(copy);
    found.edits.push_back(SetRoutine{copy.spec, copy.features, copy.steps, copy.alignment});
    return found;
  }
  for (const NominalFeature& nominal : wanted.features)
    if (!plan.spec.features.holds(nominal.id))
      if (auto done = planOne(copy, obstacles, nominal, wanted, progress, found); !done)
        return pass(done.error());
  found.edits.push_back(SetSpecification{wanted});
  return found;
}

} // namespace alder
