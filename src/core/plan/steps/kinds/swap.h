#pragma once

#include "plan/steps/kinds/step_kind.h"

namespace alder {

// At the rack where there are ports, else by hand.
struct SwapStep {
  std::string stylus, tip; // by name

  static constexpr StepTraits kTraits{.kind = "swap",
                                      .title = "Swap the stylus",
                                      .in_templates = true,
                                      .in_programs = true,
                                      .of_way = true};
  static void fields(auto& self, auto& f) {
    f.needed("stylus", self.stylus);
    f("tip", self.tip);
  }
  friend bool operator==(const SwapStep&, const SwapStep&) = default;
};
std::string words(const Plan& plan, const SwapStep& step);
Done validate(const Plan& plan, const SwapStep& step);
std::optional<SwapStep> onCopy(const OnCopy& on, const SwapStep& step);

} // namespace alder
