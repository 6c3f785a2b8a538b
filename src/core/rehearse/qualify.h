// Qualification on the simulated machine. Its tips are a little off and worn, each in its own way,
// always the same for the same bench.
#pragma once

#include "base/progress.h"
#include "base/random.h"
#include "plan/qualification.h"
#include "route/qualify_way.h"

namespace alder {

// How a tip of the simulated machine really is: the ball lies off where the machine believes it,
// and is effectively smaller than nominal (the switching way is part of it).
struct TipTruth {
  Vec3 offset = Vec3::Zero(); // mm, machine axes
  double diameter = 0;
};
TipTruth truthOf(const Bench& bench, const Access& access);

// Where the machine believes the ball when it touches: it drives from `from` towards the middle of
// the sphere as the bench has it, and the true ball meets the true sphere.
Vec3 contactBelieved(const ReferenceSphere& sphere, const TipTruth& tip, const Vec3& really_at,
                     const Vec3& from);

struct QualifyRun {
  std::uint64_t seed = 1;
  std::int64_t now = 0;          // seconds since 1970
  bool sphere_moved = false;     // then the reference tip locates it anew
  Vec3 sphere_at = Vec3::Zero(); // where the sphere really stands, off the bench's place
};

// Touches the sphere along the way and fits each tip. The first tip of the way is the reference:
// its offset is none, those of the others count from it. Where the sphere was not moved and
// `before` knows it, offsets count from there instead, so that earlier ones stay comparable. Tips
// of `before` that are not on the way are kept, unless the sphere was moved. Error when a sphere
// cannot be fitted.
Result<Qualification> qualifyOnSimulatedMachine(const Plan& plan, const Way& way,
                                                const Qualification& before, const QualifyRun& run);

} // namespace alder
