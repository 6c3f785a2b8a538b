// Features that one tip at one pair of angles does not reach well enough: their touches are shared
// among several. A boss between walls is touched from each side, a long bore from both ends.
#pragma once

#include "base/progress.h"
#include "route/clearance.h"

namespace alder {

// Adds portions for those features of the set-up that are not covered, or touched in fewer places
// than their recipe asks for, on less than half a turn or near one end only. As few tips and angles
// as will do, those in use first. Ones that were shared before are worked out anew.
Done planPortions(Plan& plan, const Obstacles& obstacles, const Progress& progress = {});

// Takes back that it was shared; its own touches stay.
void dropPortionsOf(Plan& plan, FeatureId feature);

} // namespace alder
