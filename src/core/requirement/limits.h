// Limits of a size, distance, angle or value. Where a drawing gives one only ("R0.5 MAX", "20 MIN":
// ISO 129-1; ASME Y14.5, single limits), the other side is open: minus or plus infinity.
#pragma once

#include "requirement/specification.h"
#include <limits>

namespace alder {

inline constexpr double kNoUpper = std::numeric_limits<double>::infinity(), kNoLower = -kNoUpper;

bool hasLower(const Requirement& dimension);
bool hasUpper(const Requirement& dimension);
// Exactly one of them. It has no tolerance, and so no share of one can be used.
bool hasSingleLimit(const Requirement& requirement);

// Both open, or both equal within `room`.
bool sameLimit(double a, double b, double room);

// Share of the tolerance that a figure uses: 1 at a limit, above it outside. Of a single limit: how
// near the figure is to it, also 1 at the limit, by which the worst of several is found.
double shareOfLimits(const Requirement& dimension, double figure);

} // namespace alder
