// A step that asks the operator.
#include "card/card.h"
#include "card/steps/with.h"

namespace alder::app {

void Card::stepFields(StepId id, const AskStep& s) {
  stepLine("asks for", "askWhat", s.what, [this, id, s](const std::string& v) {
    document_.changeStep(id, with<AskStep>(s, [&](AskStep& a) {
                           if (a.role == likelyRole(a.what)) a.role = likelyRole(v);
                           a.what = v;
                         }));
  });
  choice("answer", "askNumber", {"text", "a number"}, s.number ? 1 : 0, [this, id, s](int index) {
    document_.changeStep(id, with<AskStep>(s, [&](AskStep& a) { a.number = index == 1; }));
  });
  if (s.number)
    stepLine("unit", "askUnit", s.unit, [this, id, s](const std::string& v) {
      document_.changeStep(id, with<AskStep>(s, [&](AskStep& a) { a.unit = v; }));
    });
  choice("kept as", "askRole", {"an answer", "the part's serial number", "who runs it"},
         static_cast<int>(s.role), [this, id, s](int index) {
           document_.changeStep(id, with<AskStep>(s, [&](AskStep& a) {
                                  a.role = static_cast<QuestionRole>(index);
                                }));
         });
}

StepOffer Card::offerOf(const Document&, const AskStep*) {
  return {2,
          "Question",
          "insertAsk",
          "Insert a question to the operator",
          "insertAskStep",
          "",
          AskStep{"Serial number", false, "", QuestionRole::SerialNumber}};
}

} // namespace alder::app
