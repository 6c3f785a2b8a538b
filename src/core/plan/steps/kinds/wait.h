#pragma once

#include "plan/steps/kinds/step_kind.h"

namespace alder {

// The machine stands clear and waits for its operator, who may open or close a clamp meanwhile.
struct WaitStep {
  std::string text;
  Boxed<std::string> clamp;   // a body of the fixture; empty: none. Boxed: steps are many
  bool opens = true;          // else closes it
  double seconds = 20;        // that it takes, for the time of the routine
  Boxed<std::string> picture; // of the routine's, that is shown; empty: none

  static constexpr StepTraits kTraits{.kind = "wait",
                                      .title = "Wait for the operator",
                                      .between_touches = true,
                                      .in_templates = true,
                                      .in_programs = true};
  static void fields(auto& self, auto& f) {
    f("text", self.text);
    f("clamp", self.clamp);
    f("opens", self.opens);
    f("seconds", self.seconds);
    f("picture", self.picture);
  }
  friend bool operator==(const WaitStep&, const WaitStep&) = default;
};
std::string words(const Plan& plan, const WaitStep& step);
Done validate(const Plan& plan, const WaitStep& step);
std::optional<WaitStep> onCopy(const OnCopy& on, const WaitStep& step);
// What words() said, read back. Clamps that open are given as the words name them, and by their own
// names.
WaitStep waitOf(std::string words, const std::vector<std::string>& clamps,
                const std::vector<std::string>& names);

} // namespace alder
