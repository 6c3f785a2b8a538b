#pragma once

#include "plan/steps/kinds/step_kind.h"

namespace alder {

// What the answer to a question is for, beside being kept with the run.
enum class QuestionRole { Other, SerialNumber, Operator };
std::string_view name(QuestionRole role); // "other", "serial number", "operator"
std::optional<QuestionRole> questionRoleNamed(std::string_view name);
// For questions of files that do not say it: those that speak of a serial number ask for it.
QuestionRole likelyRole(std::string_view what);

struct Question {
  std::string what;    // "Serial number"
  bool number = false; // else any text
  std::string unit;
  QuestionRole role = QuestionRole::Other;
  friend bool operator==(const Question&, const Question&) = default;
};

// The operator tells a value: a serial number, a name, a temperature.
struct AskStep : Question {
  static constexpr StepTraits kTraits{.kind = "ask",
                                      .title = "Ask the operator",
                                      .between_touches = true,
                                      .in_templates = true,
                                      .in_programs = true};
  static void fields(auto& self, auto& f) {
    f.needed("what", self.what);
    f("number", self.number);
    f("unit", self.unit);
    f.named("role", self.role, 3, [&] { return likelyRole(self.what); });
  }
  friend bool operator==(const AskStep&, const AskStep&) = default;
};
std::string words(const Plan& plan, const AskStep& step);
Done validate(const Plan& plan, const AskStep& step);
AskStep asking(Question question);
std::optional<AskStep> onCopy(const OnCopy& on, const AskStep& step);

} // namespace alder
