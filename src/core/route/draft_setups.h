// Several standings for what one does not reach: which of them, and the set-ups that come of it.
#pragma once

#include "base/progress.h"
#include "route/standing.h"

namespace alder {

// A standing with all that is reached in it.
struct TriedStanding {
  Standing standing;
  Plan plan; // planned as if it were the only one
};

// A further set-up for what the plan has not covered and the standing reaches, joined to the others
// by features that both reach. The plan works on the same set-up as before; both are ordered anew.
Done addSetup(Plan& plan, const TriedStanding& tried, const Progress& progress = {});

// What the part lies on: "Plane 3", or "a flat face" where no feature is there.
std::string liesOn(const Plan& plan, const Standing& standing);

} // namespace alder
