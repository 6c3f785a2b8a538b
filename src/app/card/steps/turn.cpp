// A step that turns the head.
#include "card/card.h"
#include "card/steps/with.h"

namespace alder::app {

void Card::stepFields(StepId id, const TurnStep& s) {
  for (const bool a : {true, false})
    quantity(a ? "angle A" : "angle B", a ? "turnA" : "turnB", Quantity::Angle, 1, a ? s.a : s.b,
             [this, id, s, a](double v) {
               document_.changeStep(id,
                                    with<TurnStep>(s, [=](TurnStep& t) { (a ? t.a : t.b) = v; }));
             });
  paragraph("The head takes the nearest angles of its steps, where there is room.");
}

StepOffer Card::offerOf(const Document&, const TurnStep*) {
  return {4, "Turn the head", "insertTurn", "Insert a head turn", "insertTurnStep", "", TurnStep{}};
}

} // namespace alder::app
