// A step that works out a constructed feature.
#include "card/card.h"
#include "card/words.h"
#include <algorithm>

namespace alder::app {

void Card::stepFields(StepId id, const ConstructStep& s) {
  const Plan& plan = document_.plan();
  QStringList names;
  std::vector<FeatureId> features;
  int current = -1;
  for (const NominalFeature& f : plan.spec.features) {
    if (!f.isConstructed()) continue;
    if (f.id == s.feature) current = static_cast<int>(features.size());
    features.push_back(f.id);
    names << text(f.name);
  }
  choice("constructs", "constructWhat", names, current, [this, id, features](int index) {
    document_.changeStep(id, ConstructStep{features[static_cast<std::size_t>(index)]});
  });
  paragraph("It is worked out from what was measured by then. Where it cannot be, the operator is "
            "told and the run does not go on by itself.");
}

StepOffer Card::offerOf(const Document& document, const ConstructStep*) {
  StepOffer offer{10, "Construct", "insertConstruct"};
  const auto& all = document.plan().spec.features;
  const auto found = std::find_if(all.begin(), all.end(),
                                  [](const NominalFeature& f) { return f.isConstructed(); });
  if (found != all.end()) offer.body = ConstructStep{found->id};
  return offer;
}

} // namespace alder::app
