#include "plan/steps/kinds/swap.h"

namespace alder {

std::string words(const Plan&, const SwapStep& step) {
  return "Swap to " + step.stylus;
}

Done validate(const Plan&, const SwapStep& step) {
  if (step.stylus.empty()) return fail("Name the stylus that is to be taken.");
  return {};
}

std::optional<SwapStep> onCopy(const OnCopy&, const SwapStep& step) {
  return step;
}

} // namespace alder
