// What a typed requirement is laid on: picked features, faces that are none yet, and the like of
// them elsewhere where the text counts several.
#pragma once

#include "requirement/specification.h"

namespace alder {

struct TypedTarget {
  Specification spec; // with features for the faces, as they would come
  std::vector<FeatureId> features;
  std::vector<FaceId> faces; // of those that are not in the routine yet
  std::size_t picked = 0;    // of the features; the rest is alike
  std::size_t alike = 0;     // further ones on the part
};

// `count`: as written, 6x. Where exactly so many of the kind, size and direction of one picked
// feature are on the part they are taken together; otherwise only what was picked.
TypedTarget typedTarget(const PartModel& part, const Specification& spec,
                        const std::vector<FeatureId>& features, const std::vector<FaceId>& faces,
                        int count);

} // namespace alder
