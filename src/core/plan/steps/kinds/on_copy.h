// What a step speaks of, at a copy of the repeat that it stands in.
#pragma once

#include "plan/plan.h"

namespace alder {

struct OnCopy {
  const Plan& plan;
  const RepeatCopy& copy;
  const Motion& motion;

  // The requirement that is laid on the copy in place of this one; else the same.
  RequirementId requirement(RequirementId id) const;
};

// The requirement as laid on the features of a copy; nothing where it speaks of anything else.
std::optional<Requirement> requirementOfCopy(const Requirement& requirement,
                                             const RepeatCopy& copy);

} // namespace alder
