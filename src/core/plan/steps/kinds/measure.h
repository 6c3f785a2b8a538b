#pragma once

#include "plan/steps/kinds/step_kind.h"

namespace alder {

// Touches a feature, as its recipe and touches say. May hold waits that come in between.
struct MeasureStep {
  FeatureId feature;

  static constexpr StepTraits kTraits{.kind = "measure",
                                      .title = "Measure",
                                      .holds = StepTraits::Holds::BetweenTouches,
                                      .in_programs = true};
  static void fields(auto& self, auto& f) { f.needed("feature", self.feature); }
  friend bool operator==(const MeasureStep&, const MeasureStep&) = default;
};
std::string words(const Plan& plan, const MeasureStep& step);
Done validate(const Plan& plan, const MeasureStep& step);
// Nothing where the copy has no like of the feature.
std::optional<MeasureStep> onCopy(const OnCopy& on, const MeasureStep& step);

} // namespace alder
