// Features proposed for what a drawing asks for, with the reason: by figure where only one surface
// has it, by where leaders and dimension lines point in the views of the part, by what stands in
// the same callout.
#pragma once

#include "drawing/drawn_view.h"
#include "drawing/proposal.h"

namespace alder {

struct FeatureSuggestion {
  std::vector<FaceId> faces; // of all its features; see typedTarget
  std::string why;           // "the only ø32", "its leader ends there"; one line
  bool sure = false;         // nothing else fits as well
};

struct DrawingTies {
  // For each proposal in order; the best first, empty where nothing fits.
  std::vector<std::vector<FeatureSuggestion>> suggestions;
  std::vector<std::vector<DrawnView>> views; // by page, of the sheets given
};

DrawingTies tiesOf(const DrawingReading& reading, const std::vector<DrawingSheet>& sheets,
                   const PartModel& part);

} // namespace alder
