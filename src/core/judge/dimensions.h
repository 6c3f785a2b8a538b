// Sizes (ISO 14405-1), and distances and angles of least-squares features (ISO 14405-2, -3).
#pragma once

#include "judge/verdict.h"

namespace alder {

Result<Evaluation> judgeSize(const Plan& plan, const Requirement& r, const Measurements& m);
Result<Evaluation> judgeDistance(const Plan& plan, const Requirement& r, const Measurements& m);
Result<Evaluation> judgeAngle(const Plan& plan, const Requirement& r, const Measurements& m);

} // namespace alder
