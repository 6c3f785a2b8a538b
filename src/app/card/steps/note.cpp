// Words among the steps.
#include "card/card.h"

namespace alder::app {

void Card::stepFields(StepId id, const NoteStep& s) {
  stepLine("note", "noteText", s.text,
           [this, id](const std::string& v) { document_.changeStep(id, NoteStep{v}); });
}

StepOffer Card::offerOf(const Document&, const NoteStep*) {
  return {3, "Note", "insertNote", "Insert a note", "insertNoteStep", "Alt+N", NoteStep{"Note"}};
}

} // namespace alder::app
