// What a verdict is based on beside the measured points: which requirements and features the judge
// looks at for one of them. By this it is known which verdicts stand after a change of the routine,
// however many parts were measured.
#pragma once

#include "plan/plan.h"
#include <set>

namespace alder {

struct VerdictBasis {
  std::set<RequirementId> requirements; // that one included
  std::set<FeatureId> features;         // also those that constructed ones stand on
  friend bool operator==(const VerdictBasis&, const VerdictBasis&) = default;
};
VerdictBasis basisOf(const Specification& spec, const Requirement& requirement);

// Those whose verdicts on the same points are the same by both routines.
std::set<RequirementId> verdictsThatStand(const Plan& before, const Plan& now);

// The routine with nothing in it but the basis, and of its features nothing but the touches. The
// verdict by it is the same.
Plan excerptFor(const Plan& plan, const VerdictBasis& basis);

} // namespace alder
