#include "part/recognise.h"
#include "plan/feature_edit.h"
#include "requirement/from_pmi.h"
#include "route/draft.h"
#include <algorithm>

namespace alder {
namespace {

std::string freeName(const Specification& spec, const std::string& wanted) {
  const auto taken = [&](const std::string& name) {
    return std::any_of(spec.features.begin(), spec.features.end(),
                       [&](const NominalFeature& f) { return f.name == name; });
  };
  if (!taken(wanted) && wanted.find_first_of("0123456789") != std::string::npos) return wanted;
  int number = 1;
  while (taken(wanted + " · " + std::to_string(number)))
    ++number;
  return wanted + " · " + std::to_string(number);
}

Result<AddFeature> planned(Plan& plan, const Obstacles& obstacles, const Surface& surface,
                           const Progress& progress) {
  const auto touched = std::count_if(plan.spec.features.begin(), plan.spec.features.end(),
                                     [](const NominalFeature& f) { return !f.isDerived(); });
  AddFeature add;
  add.nominal.id = FeatureId{static_cast<int>(touched)};
  add.nominal.name = freeName(plan.spec, featureName(surface.ideal));
  add.nominal.ideal = surface.ideal;
  add.nominal.faces = surface.faces;
  add.feature.id = add.nominal.id;
  add.feature.recipe = recipeFor(add.nominal, plan.spec, plan.book);
  add.place = plan.order.size();
  if (auto done = addFeature(plan, add); !done) return pass(done.error());
  if (auto done = planAccessOf(plan, obstacles, add.nominal.id, progress); !done)
    return pass(done.error());
  add.feature = plan.feature(add.nominal.id);
  if (add.feature.covered()) add.place = cheapestPlace(plan, add.nominal.id);
  std::erase(plan.order, add.nominal.id);
  plan.order.insert(plan.order.begin() + static_cast<std::ptrdiff_t>(add.place), add.nominal.id);
  return add;
}

} // namespace

Result<std::vector<AddFeature>> planNewFeatures(const Plan& plan, const Obstacles& obstacles,
                                                const std::vector<FaceId>& faces,
                                                const Progress& progress) {
  Plan copy = plan;
  std::vector<AddFeature> edits;
  for (const Surface& surface : surfacesOf(*plan.part, faces, Grouping::SlotIfParallel)) {
    auto add = planned(copy, obstacles, surface, progress);
    if (!add) return pass(add.error());
    edits.push_back(std::move(*add));
  }
  return edits;
}

} // namespace alder
