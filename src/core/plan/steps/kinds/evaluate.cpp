#include "plan/steps/kinds/evaluate.h"

#include "plan/plan.h"
#include "plan/steps/kinds/on_copy.h"

namespace alder {

std::string words(const Plan& plan, const EvaluateStep& step) {
  std::string numbers;
  for (RequirementId id : step.requirements)
    numbers += (numbers.empty() ? " " : ", ") + std::to_string(plan.spec.requirement(id).balloon);
  return numbers.empty() ? "Evaluate what is measured" : "Evaluate" + numbers;
}

Done validate(const Plan&, const EvaluateStep&) {
  return {};
}

std::optional<EvaluateStep> onCopy(const OnCopy& on, const EvaluateStep& step) {
  EvaluateStep copy = step;
  for (RequirementId& id : copy.requirements)
    id = on.requirement(id);
  return copy;
}

} // namespace alder
