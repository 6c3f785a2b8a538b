// Sizes, distances and angles from least-squares associations (ISO 14405-1 GG, -2, -3).
#pragma once

#include "judge/verdict.h"

namespace alder {

Result<Evaluation> judgeSize(const Plan& plan, const Requirement& r, const Measurements& m);
Result<Evaluation> judgeDistance(const Plan& plan, const Requirement& r, const Measurements& m);
Result<Evaluation> judgeAngle(const Plan& plan, const Requirement& r, const Measurements& m);

} // namespace alder
