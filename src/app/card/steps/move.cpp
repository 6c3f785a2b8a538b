// A step that goes to a place.
#include "card/card.h"
#include "card/words.h"

namespace alder::app {

void Card::stepFields(StepId id, const MoveStep& s) {
  const auto& plan = document_.plan();
  QStringList from{"the machine", "the part"};
  int current = static_cast<int>(s.from);
  std::vector<FeatureId> features;
  for (const NominalFeature& f : plan.spec.features) {
    from << text(f.name);
    features.push_back(f.id);
    if (s.from == CountFrom::Feature && f.id == s.feature)
      current = static_cast<int>(from.size()) - 1;
  }
  choice("counted from", "moveFrom", from, current, [this, id, s, features](int index) {
    MoveStep changed = s;
    changed.from = index == 0   ? CountFrom::Machine
                   : index == 1 ? CountFrom::Part
                                : CountFrom::Feature;
    if (index > 1) changed.feature = features[static_cast<std::size_t>(index) - 2];
    document_.changeStep(id, changed);
  });
  for (int k = 0; k < 3; ++k)
    quantity(QString("XYZ"[k]), QString("movePlace%1").arg(k).toLatin1(), Quantity::Length, 3,
             s.place[k], [this, id, s, k](double v) {
               MoveStep changed = s;
               changed.place[k] = v;
               document_.changeStep(id, changed);
             });
  paragraph(s.from == CountFrom::Feature
                ? "X, Y and Z are those of the feature: Z out of its face, or along its axis to "
                  "where its stylus comes from."
                : "The ball goes there, over the safe shell as far as it lies within.");
}

// To where the machine is, see Document::insertMoveHere.
StepOffer Card::offerOf(const Document&, const MoveStep*) {
  return {};
}

} // namespace alder::app
