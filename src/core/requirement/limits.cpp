#include "requirement/limits.h"

#include <algorithm>
#include <cmath>

namespace alder {

bool hasLower(const Requirement& r) {
  return r.lower > kNoLower;
}

bool hasUpper(const Requirement& r) {
  return r.upper < kNoUpper;
}

bool hasSingleLimit(const Requirement& r) {
  return isDimension(r.kind) && hasLower(r) != hasUpper(r);
}

bool sameLimit(double a, double b, double room) {
  return a == b || (std::isfinite(a) && std::isfinite(b) && std::abs(a - b) <= room);
}

double shareOfLimits(const Requirement& r, double figure) {
  if (hasSingleLimit(r)) {
    const double limit = hasUpper(r) ? r.upper : r.lower;
    const double beyond =
        (hasUpper(r) ? figure - limit : limit - figure) / std::max(std::abs(limit), 1e-3);
    return beyond > 0 ? 1 + beyond : 1 / (1 - beyond);
  }
  const double half = (r.upper - r.lower) / 2, off = std::abs(figure - (r.upper + r.lower) / 2);
  return half > 0 ? off / half : (off > 0 ? 2 : 1);
}

} // namespace alder
