// Requirements judged by measured points.
#pragma once

#include "judge/verdict.h"

namespace alder {

// Near a limit from the specification's share of the tolerance on. Where an uncertainty is given,
// ISO 14253-1 decides with its guard band of 1.65 standard uncertainties: inside the limits by that
// much is within, beyond them by that much is outside, and between neither is proved.
Evaluation judge(const Plan& plan, const Requirement& requirement, const Measurements& measured);
std::vector<Evaluation> judgeAll(const Plan& plan, const Measurements& measured);

} // namespace alder
