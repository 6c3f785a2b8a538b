// A step that qualifies tips.
#include "card/card.h"

namespace alder::app {

void Card::stepFields(StepId id, const QualifyStep& s) {
  choice("qualifies", "qualifyWhich",
         {"tips that need it", "all tips in use", "all, the sphere was moved"},
         s.sphere_moved ? 2
         : s.all        ? 1
                        : 0,
         [this, id, s](int index) {
           document_.changeStep(id, QualifyStep{index >= 1, index == 2, s.reported});
         });
  choice("in the report", "qualifyReported", {"no", "yes"}, s.reported ? 1 : 0,
         [this, id, s](int index) {
           document_.changeStep(id, QualifyStep{s.all, s.sphere_moved, index == 1});
         });
  if (!document_.plan().bench.has_sphere)
    paragraph("The bench has no reference sphere; the step does nothing.", "error");
  paragraph("Touches after it are corrected by what is found here.");
}

StepOffer Card::offerOf(const Document&, const QualifyStep*) {
  return {6,
          "Qualify tips",
          "insertQualify",
          "Insert qualifying the tips that need it",
          "insertQualifyStep",
          "",
          QualifyStep{}};
}

} // namespace alder::app
