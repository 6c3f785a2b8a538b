// Constructed features: ideal geometry and points computed from other features, by the same rules
// from nominal and from measured ones. CAD axes, mm.
#pragma once

#include "plan/plan.h"

namespace alder {

// A feature as constructions see it. Planes, axes and centres are those of `ideal`; of a plane the
// points say how far it reaches.
struct Shaped {
  Ideal ideal;
  Points points;
  std::vector<int> rows; // ring or section of each point, where there are any
};

// The points of the result lie on it, so that it can be associated, judged and taken as a datum
// like a touched feature. Error says which parent does not serve, or what is degenerate: parallel
// planes have no intersection. Angles below 1 degree count as parallel.
Result<Shaped> construct(const Construction& construction, const std::vector<Shaped>& parents);

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
