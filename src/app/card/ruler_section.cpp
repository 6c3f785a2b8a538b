// Sizes of what is picked, and what is between two things, from the CAD model.
#include "card/card.h"

#include "base/units.h"
#include "card/words.h"

namespace alder::app {

void Card::rulerSection() {
  const auto& reading = document_.ruler();
  if (!reading || reading->figures.empty()) return;
  head("Ruler");
  for (const RulerFigure& f : reading->figures) {
    const std::string value = f.unit == RulerUnit::Angle  ? figure(degrees(f.value), 4) + "°"
                              : f.unit == RulerUnit::Area ? figure(f.value, 2) + " mm²"
                                                          : figure(f.value, 4) + " mm";
    figureRow(text(f.what), text(value));
  }
}

} // namespace alder::app
