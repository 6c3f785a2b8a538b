// Steps as text, to be put into this routine again or into another: what they speak of is named, so
// that it is found there.
#pragma once

#include "plan/plan.h"

namespace alder {

std::string stepsText(const Plan& plan, const std::vector<StepId>& ids);

struct PastedSteps {
  Steps steps;
  std::string left; // what was not taken over, in one sentence; empty: all was
};
// Measure steps of features that are not in this routine, or are measured in it already, are left
// behind. Error when the text holds no steps.
Result<PastedSteps> stepsFromText(const std::string& text, const Plan& plan);

} // namespace alder
