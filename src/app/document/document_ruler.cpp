// The ruler on what is picked.
#include "document/document.h"

namespace alder::app {

const std::optional<RulerReading>& Document::ruler() {
  if (!open_) {
    ruler_ = {};
    return ruler_.reading;
  }
  std::vector<Ruled> picked;
  for (const FeatureId id : selection_.features)
    picked.push_back({plan().nominal(id).ideal, plan().nominal(id).faces});
  for (const FaceId id : selection_.faces)
    picked.push_back({plan().part->face(id).ideal, {id}});
  if (ruler_.part == plan().part && ruler_.picked == picked) return ruler_.reading;
  ruler_ = {plan().part, picked, {}};
  if (picked.size() == 1) ruler_.reading = sizesOf(*plan().part, picked[0]);
  if (picked.size() == 2) ruler_.reading = between(*plan().part, picked[0], picked[1]);
  return ruler_.reading;
}

} // namespace alder::app
