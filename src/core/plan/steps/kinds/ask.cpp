#include "plan/steps/kinds/ask.h"

#include <algorithm>
#include <array>
#include <cctype>

namespace alder {

std::string_view name(QuestionRole role) {
  constexpr std::array<std::string_view, 3> kNames{"other", "serial number", "operator"};
  return kNames[static_cast<std::size_t>(role)];
}

std::optional<QuestionRole> questionRoleNamed(std::string_view wanted) {
  for (const auto role : {QuestionRole::Other, QuestionRole::SerialNumber, QuestionRole::Operator})
    if (wanted == name(role)) return role;
  return {};
}

QuestionRole likelyRole(std::string_view what) {
  constexpr std::string_view kSerial = "serial";
  const auto same = [](char a, char b) { return std::tolower(static_cast<unsigned char>(a)) == b; };
  const bool serial =
      std::search(what.begin(), what.end(), kSerial.begin(), kSerial.end(), same) != what.end();
  return serial ? QuestionRole::SerialNumber : QuestionRole::Other;
}

std::string words(const Plan&, const AskStep& step) {
  return "Ask: " + step.what;
}

Done validate(const Plan&, const AskStep& step) {
  if (step.what.empty()) return fail("Say what the operator is asked for.");
  return {};
}

AskStep asking(Question question) {
  return {std::move(question)};
}

std::optional<AskStep> onCopy(const OnCopy&, const AskStep& step) {
  return step;
}

} // namespace alder
