// The routine for a part that lies elsewhere than planned.
#pragma once

#include "plan/plan.h"

namespace alder {

// The plan with the part, and all that holds it, where the frame (CAD frame in the machine frame)
// says. Features that their head angles no longer reach take those near by that do; bores, where
// none does, are touched less deep, with a note. What still is not reached stays as it is, and the
// rehearsal of the way says so.
Plan planAsFound(const Plan& plan, const Frame& frame);

} // namespace alder
