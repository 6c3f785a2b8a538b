#include "plan/steps/kinds/turn.h"

#include "base/units.h"

namespace alder {

std::string words(const Plan&, const TurnStep& step) {
  return fmt::format("Turn to A{:g} B{:g}", shownDegrees(step.a), shownDegrees(step.b));
}

Done validate(const Plan&, const TurnStep&) {
  return {}; // the head takes the nearest angles that it has
}

std::optional<TurnStep> onCopy(const OnCopy&, const TurnStep& step) {
  return step;
}

} // namespace alder
