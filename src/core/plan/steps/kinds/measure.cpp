#include "plan/steps/kinds/measure.h"

#include "plan/plan.h"
#include "plan/steps/kinds/on_copy.h"

namespace alder {

std::string words(const Plan& plan, const MeasureStep& step) {
  return "Measure " + plan.nominal(step.feature).name;
}

Done validate(const Plan& plan, const MeasureStep& step) {
  if (!plan.features.holds(step.feature) || plan.nominal(step.feature).isConstructed())
    return fail("A step measures a feature that is not of the part.");
  return {};
}

std::optional<MeasureStep> onCopy(const OnCopy& on, const MeasureStep& step) {
  const FeatureId id = on.copy.of(step.feature);
  return id.valid() ? std::optional(MeasureStep{id}) : std::nullopt;
}

} // namespace alder
