// Location, orientation and profile: the size of the zone, fixed or free in the datum system, that
// holds the actual feature (ISO 1101, ISO 1660, ISO 5458).
#pragma once

#include "judge/verdict.h"

namespace alder {

Result<Evaluation> judgeZone(const Plan& plan, const Requirement& r, const Measurements& m);

} // namespace alder
