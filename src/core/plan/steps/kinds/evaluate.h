#pragma once

#include "plan/steps/kinds/step_kind.h"

namespace alder {

// Requirements are judged on what was measured so far, and told; none: all whose features were
// measured.
struct EvaluateStep {
  std::vector<RequirementId> requirements;

  static constexpr StepTraits kTraits{
      .kind = "evaluate", .title = "Evaluate", .in_templates = true};
  static void fields(auto& self, auto& f) { f("requirements", self.requirements); }
  friend bool operator==(const EvaluateStep&, const EvaluateStep&) = default;
};
std::string words(const Plan& plan, const EvaluateStep& step);
Done validate(const Plan& plan, const EvaluateStep& step);
// Those that are laid on the copy.
std::optional<EvaluateStep> onCopy(const OnCopy& on, const EvaluateStep& step);

} // namespace alder
