// Features have sections of their own in the card.
#include "card/card.h"

namespace alder::app {

void Card::stepFields(StepId, const MeasureStep&) {}

// Features come into the routine with their measure steps.
StepOffer Card::offerOf(const Document&, const MeasureStep*) {
  return {};
}

} // namespace alder::app
