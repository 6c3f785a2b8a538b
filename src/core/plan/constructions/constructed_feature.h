// Constructed features: ideal geometry and points computed from other features, by the same rules
// from nominal and from measured ones. CAD axes, mm.
#pragma once

#include "plan/constructions/construct.h"
#include "plan/plan.h"

namespace alder {

// A touched feature as nominally planned: its touches, or some points of it where it has none.
Shaped nominalShape(const Plan& plan, FeatureId feature);

// Computes the nominal geometry of all constructed features anew, parents first. Error names the
// feature and the reason; a feature that depends on itself is refused with the way round.
Done refreshConstructed(Plan& plan);

// The constructions that make sense of these features, the most likely first.
struct Proposal {
  Construction construction;
  std::string words; // "Circle through 6 centres"
};
std::vector<Proposal> proposeConstructions(const Plan& plan,
                                           const std::vector<FeatureId>& features);

// The specification with one more constructed feature, named if `name` is empty. RemoveFeature
// takes one away (plan/edit.h). Requirements likewise; removal is refused when something refers to
// them.
Result<Specification> withConstructed(const Plan& plan, const Construction& construction,
                                      const std::string& name = {});
Specification withRequirement(const Specification& spec, Requirement requirement);
Result<Specification> withoutRequirement(const Specification& spec, RequirementId requirement);

} // namespace alder
