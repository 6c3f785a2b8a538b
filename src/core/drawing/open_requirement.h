// Requirements that wait for their features: which may be meant, and what comes of it when they are
// told.
#pragma once

#include "drawing/tie.h"
#include "requirement/specification.h"

namespace alder {

// By kind and figure, the best first with the reason; a few at most. Of an indicator the features
// of the requirement that stands before it first. None of them is sure but what fits alone.
std::vector<FeatureSuggestion> suggestionsFor(const PartModel& part, const Specification& spec,
                                              const Requirement& requirement);

struct TiedRequirement {
  Specification spec;               // with the features, new ones behind those that were there
  std::vector<std::string> remarks; // a line each: what the features contradict
};
// Error where it cannot stand on them: a diameter of a plane. Number, key and place stay.
Result<TiedRequirement> tied(const PartModel& part, const Specification& spec,
                             RequirementId requirement, const std::vector<FaceId>& faces);

} // namespace alder
