// Annotations that a file draws. Those that nothing semantic stands behind are told, as a program
// cannot judge a picture.
#pragma once

#include "part/pmi/source.h"
#include "part/pmi/teller.h"

namespace alder {

struct Drawn {
  int id = 0;             // the callout, or the occurrence where none gathers it
  std::set<int> parts;    // itself and what it gathers
  std::vector<int> means; // what the file says that it shows; none: it is only drawn
  int model = 0;          // the draughting model in which it says so
};

// A DRAUGHTING_CALLOUT gathers what belongs to one annotation; a
// DRAUGHTING_MODEL_ITEM_ASSOCIATION ties it, or one of its parts, to what it means. By id.
std::vector<Drawn> drawnAnnotations(const StepText& text);

void tellDrawnOnly(const std::vector<Drawn>& drawn, const StepText& text, const Teller& tell);

} // namespace alder
