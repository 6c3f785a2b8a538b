#include "plan/steps/kinds/construct.h"

#include "plan/plan.h"

namespace alder {

std::string words(const Plan& plan, const ConstructStep& step) {
  return "Construct " + plan.nominal(step.feature).name;
}

Done validate(const Plan& plan, const ConstructStep& step) {
  if (!plan.features.holds(step.feature) || !plan.nominal(step.feature).isConstructed())
    return fail("A step constructs a feature that is not a constructed one.");
  return {};
}

std::optional<ConstructStep> onCopy(const OnCopy&, const ConstructStep& step) {
  return step;
}

} // namespace alder
