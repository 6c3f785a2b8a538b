#include "route/feature_touches.h"

#include "requirement/datum_targets.h"

namespace alder {

std::vector<Touch> touchesAnywhere(const Plan& plan, const Feature& f, double room) {
  const NominalFeature& n = plan.nominal(f.id);
  const auto targets = targetsOf(plan.spec, f.id);
  auto touches = planTouches(*plan.part, n, f.recipe, room, {}, targets);
  if (touchesSuffice(n.ideal, touches, f.recipe.stroke)) return touches;
  Recipe narrow = f.recipe;
  narrow.edge_margin = kNarrowMargin;
  return planTouches(*plan.part, n, narrow, room, {}, targets);
}

} // namespace alder
