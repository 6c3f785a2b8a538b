// Form and runout (ISO 1101 clauses 17.2 to 17.5, 17.15, 17.16; ISO 12180, 12181, 12780, 12781)
// by minimum zone unless the requirement asks for another reference.
#pragma once

#include "judge/verdict.h"

namespace alder {

Result<Evaluation> judgeForm(const Plan& plan, const Requirement& r, const Measurements& m);
Result<Evaluation> judgeRunout(const Plan& plan, const Requirement& r, const Measurements& m);

} // namespace alder
