#include "route/new_feature.h"

#include "part/recognise.h"
#include "plan/feature_edit.h"
#include "plan/steps/step_edit.h"
#include "requirement/from_pmi.h"
#include "route/order.h"
#include <algorithm>

namespace alder {
namespace {

Done planOne(Plan& plan, const Obstacles& obstacles, const Surface& surface,
             const Progress& progress, NewFeatures& into) {
  AddFeature add;
  add.nominal.id = plan.spec.features.next();
  add.nominal.name = freeFeatureName(plan.spec, featureName(surface.ideal));
  add.nominal.ideal = surface.ideal;
  add.nominal.faces = surface.faces;
  add.feature.id = add.nominal.id;
  add.feature.recipe = recipeFor(add.nominal, plan.spec, plan.book);
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
  for (const Surface& surface : surfacesOf(*plan.part, faces, Grouping::SlotIfParallel))
    if (auto done = planOne(copy, obstacles, surface, progress, found); !done)
      return pass(done.error());
  return found;
}

} // namespace alder
