// Steps that stay together.
#include "card/card.h"

namespace alder::app {

void Card::stepFields(StepId id, const GroupStep& s) {
  stepLine("name", "groupName", s.name,
           [this, id](const std::string& v) { document_.changeStep(id, GroupStep{v}); });
  const Steps& steps = document_.plan().steps;
  const std::size_t i = indexOf(steps, id), end = endOf(steps, i);
  figureRow("Steps within", QString::number(end - i - 1));
  paragraph("It is ordered as one, and what it holds within it.");
  link("Release what it holds", "ungroup", [this] { document_.ungroupSteps(); });
}

// Made of steps that are selected.
StepOffer Card::offerOf(const Document&, const GroupStep*) {
  return {};
}

} // namespace alder::app
