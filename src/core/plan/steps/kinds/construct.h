#pragma once

#include "plan/steps/kinds/step_kind.h"

namespace alder {

// A constructed feature is worked out from what was measured so far; told where it cannot be.
struct ConstructStep {
  FeatureId feature;

  static constexpr StepTraits kTraits{.kind = "construct", .title = "Construct a feature"};
  static void fields(auto& self, auto& f) { f.needed("feature", self.feature); }
  friend bool operator==(const ConstructStep&, const ConstructStep&) = default;
};
std::string words(const Plan& plan, const ConstructStep& step);
Done validate(const Plan& plan, const ConstructStep& step);
std::optional<ConstructStep> onCopy(const OnCopy& on, const ConstructStep& step);

} // namespace alder
