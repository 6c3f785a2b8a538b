// Several standings for what one does not reach: which of them, and the set-ups that come of it.
#pragma once

#include "route/standing_trials.h"

namespace alder {

// A further set-up for what the plan has not covered and the standing reaches, joined to the others
// by features that both reach. The plan works on the same set-up as before; both are ordered anew.
Done addSetup(Plan& plan, const TriedStanding& tried, const Progress& progress = {});

// Do features that both plans reach hold the part firmly, so that their set-ups can be joined?
bool joinFirmly(const Plan& one, const Plan& other);

// The flat faces that bear the part: that look down and meet a support.
std::vector<FaceId> facesBelow(const PartModel& part, const Frame& placement,
                               const Supports& supports);
// What the part lies on: "Plane 3"; where no feature is there "its −Z side", of the CAD frame, or
// "a flat face".
std::string liesOn(const Plan& plan, const Frame& placement, const Supports& supports);

} // namespace alder
