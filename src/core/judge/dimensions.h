// Sizes (ISO 14405-1), and distances and angles of least-squares features (ISO 14405-2, -3).
#pragma once

#include "judge/verdict.h"

namespace alder {

// By how much the limits of a feature's size are widened by reciprocity, mm of the diameter or
// width.
struct SizeRoom {
  double below = 0, above = 0;
};
using SizeRooms = std::map<FeatureId, SizeRoom>;

// Sets the limits of the worst feature.
Result<Evaluation> judgeSize(const Plan& plan, const Requirement& r, const Measurements& m,
                             const SizeRooms& rooms);
// Two features; or one along an axis, from the origin of the datum system or the part.
Result<Evaluation> judgeDistance(const Plan& plan, const Requirement& r, const Measurements& m);
Result<Evaluation> judgeAngle(const Plan& plan, const Requirement& r, const Measurements& m);

} // namespace alder
