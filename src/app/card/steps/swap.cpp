// A step that takes a stylus.
#include "card/card.h"
#include "card/words.h"

namespace alder::app {

void Card::stepFields(StepId id, const SwapStep& s) {
  QStringList names;
  std::vector<SwapStep> choices;
  int current = -1;
  for (const Stylus& stylus : document_.plan().bench.styli)
    for (const Tip& tip : stylus.tips) {
      if (stylus.name == s.stylus && (tip.name == s.tip || current < 0))
        current = static_cast<int>(choices.size());
      choices.push_back({stylus.name, tip.name});
      names << text(stylus.name + (stylus.tips.size() > 1 ? " " + tip.name : ""));
    }
  if (current < 0) paragraph("The bench has no " + text(s.stylus) + ".", "error");
  choice("stylus", "swapStylus", names, current, [this, id, choices](int index) {
    document_.changeStep(id, choices[static_cast<std::size_t>(index)]);
  });
}

StepOffer Card::offerOf(const Document& document, const SwapStep*) {
  StepOffer offer{5, "Swap the stylus", "insertSwap"};
  const auto& styli = document.plan().bench.styli;
  if (!styli.empty()) offer.body = SwapStep{styli.front().name, styli.front().tips.front().name};
  return offer;
}

} // namespace alder::app
