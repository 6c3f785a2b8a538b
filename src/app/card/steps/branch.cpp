// A step on which the routine goes on one way or another.
#include "card/card.h"
#include "card/words.h"

namespace alder::app {

void Card::stepFields(StepId id, const BranchStep& s) {
  QStringList names;
  std::vector<RequirementId> requirements;
  int current = -1;
  for (const Requirement& r : document_.plan().spec.requirements) {
    if (r.id == s.requirement) current = static_cast<int>(requirements.size());
    requirements.push_back(r.id);
    names << QString("%1 %2").arg(r.balloon).arg(text(describe(document_.plan().spec, r)));
  }
  choice("if", "branchIf", names, current, [this, id, s, requirements](int index) {
    BranchStep changed = s;
    changed.requirement = requirements[static_cast<std::size_t>(index)];
    document_.changeStep(id, changed);
  });
  choice("is", "branchWhen", {"outside", "near its limit, or outside", "within"},
         static_cast<int>(s.when), [this, id, s](int index) {
           BranchStep changed = s;
           changed.when = static_cast<BranchWhen>(index);
           document_.changeStep(id, changed);
         });
  choice("then", "branchDoes",
         {"warn the operator", "leave out the rest of the group", "end the routine"},
         static_cast<int>(s.does), [this, id, s](int index) {
           BranchStep changed = s;
           changed.does = static_cast<BranchDoes>(index);
           document_.changeStep(id, changed);
         });
  paragraph("It is judged on what was measured by then; where that is not enough, the routine goes "
            "on.");
}

// For what is selected, or else the first that there is.
StepOffer Card::offerOf(const Document& document, const BranchStep*) {
  StepOffer offer{8, "Branch", "insertBranch"};
  const auto& all = document.plan().spec.requirements;
  if (document.selection().requirement)
    offer.body = BranchStep{*document.selection().requirement};
  else if (!all.empty())
    offer.body = BranchStep{all.front().id};
  return offer;
}

} // namespace alder::app
