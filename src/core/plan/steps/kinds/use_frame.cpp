#include "plan/steps/steps.h"

namespace alder {

std::string words(const Plan&, const UseFrameStep& step) {
  return "Use frame " + step.frame;
}

Done validate(const Plan&, const UseFrameStep& step) {
  if (step.frame.empty()) return fail("A step that uses a frame must name it.");
  if (!(step.until >= 0 && step.until <= 100) || step.most < 1 || step.most > 20)
    return fail("A frame is found again until it moves by 0 to 100 mm, 1 to 20 times.");
  return {};
}

UseFrameStep useFrame(std::string name, double until, int most) {
  return {std::move(name), until, most};
}

const UseFrameStep* useFrameIn(const StepBody& body) {
  return std::get_if<UseFrameStep>(&body);
}

std::optional<UseFrameStep> onCopy(const OnCopy&, const UseFrameStep& step) {
  return step;
}

} // namespace alder
