#pragma once

#include "plan/steps/kinds/step_kind.h"

namespace alder {

// The head takes other angles, rad.
struct TurnStep {
  double a = 0, b = 0;

  static constexpr StepTraits kTraits{.kind = "turn",
                                      .title = "Turn the head",
                                      .in_templates = true,
                                      .in_programs = true,
                                      .of_way = true};
  static void fields(auto& self, auto& f) {
    f.angle("a_deg", self.a);
    f.angle("b_deg", self.b);
  }
  friend bool operator==(const TurnStep&, const TurnStep&) = default;
};
std::string words(const Plan& plan, const TurnStep& step);
Done validate(const Plan& plan, const TurnStep& step);
std::optional<TurnStep> onCopy(const OnCopy& on, const TurnStep& step);

} // namespace alder
