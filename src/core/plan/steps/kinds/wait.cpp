#include "plan/steps/kinds/wait.h"

namespace alder {
namespace {

constexpr std::string_view kNoWords = "Wait for the operator", kWait = "Wait: ";

std::string deed(const std::string& clamp, bool opens) {
  return (opens ? "open " : "close ") + clamp;
}

} // namespace

std::string words(const Plan&, const WaitStep& step) {
  const std::string does = step.clamp->empty() ? "" : deed(*step.clamp, step.opens);
  const std::string text =
      step.text.empty() ? does : step.text + (does.empty() ? "" : " (" + does + ")");
  return text.empty() ? std::string(kNoWords) : std::string(kWait) + text;
}

WaitStep waitOf(std::string words, const std::vector<std::string>& clamps,
                const std::vector<std::string>& names) {
  WaitStep wait;
  if (words == kNoWords) return wait;
  if (words.starts_with(kWait)) words = words.substr(kWait.size());
  for (std::size_t i = 0; i < clamps.size(); ++i)
    for (const bool opens : {true, false}) {
      const std::string does = deed(clamps[i], opens);
      if (words != does && !words.ends_with(" (" + does + ")")) continue;
      wait.clamp = names[i];
      wait.opens = opens;
      wait.text = words == does ? "" : words.substr(0, words.size() - does.size() - 3);
      return wait;
    }
  wait.text = words;
  return wait;
}

Done validate(const Plan&, const WaitStep& step) {
  if (!(step.seconds >= 0 && step.seconds <= 86400))
    return fail("A wait must last from 0 seconds to a day.");
  return {};
}

std::optional<WaitStep> onCopy(const OnCopy&, const WaitStep& step) {
  return step;
}

} // namespace alder
