// What is known of the tips at their head angles from touching the reference sphere. Lengths mm.
#pragma once

#include "bench/bench.h"
#include "plan/access.h"
#include <cstdint>
#include <string>
#include <vector>

namespace alder {

struct QualifiedTip {
  Access access;
  Vec3 offset = Vec3::Zero(); // of the ball from where it should be, machine axes
  double diameter = 0;        // effective, of the ball
  double form = 0;            // range of the touches about the fitted sphere
  double sigma = 0;           // standard deviation of the touches
  int touches = 0;
  std::int64_t seconds = 0; // since 1970, when
  friend bool operator==(const QualifiedTip&, const QualifiedTip&) = default;
};

enum class TipState { Unqualified, Stale, OutOfLimits, Qualified };
std::string_view name(TipState state);

// All head angles and tips of the routine and of the reference tip, which the others are tied to.
struct Qualification {
  Vec3 sphere = Vec3::Zero(); // centre as located by the reference tip
  std::vector<QualifiedTip> tips;
  const QualifiedTip* find(const Access& access) const;
  friend bool operator==(const Qualification&, const Qualification&) = default;
};

// `now` in seconds since 1970. Out of limits comes before stale.
TipState stateOf(const Qualification& known, const Access& access, const Bench& bench,
                 std::int64_t now);
// What is left of it when all that is stale is forgotten.
Qualification withoutStale(Qualification known, const Bench& bench, std::int64_t now);
// Never touched the sphere, or is out of limits.
bool needsQualifying(const Qualification& known, const Access& access, const Bench& bench);
// Why it is out of limits, in one sentence; empty when it is not.
std::string beyondLimits(const QualifiedTip& tip, const Bench& bench);

} // namespace alder
