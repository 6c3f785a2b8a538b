// What is reached in a standing, found by planning all of it there; and the part laid so.
#pragma once

#include "base/progress.h"
#include "plan/edit.h"
#include "route/access_planner.h"
#include "route/standing.h"
#include <set>

namespace alder {

// A standing with all that is reached in it.
struct TriedStanding {
  Standing standing;
  Plan plan; // planned as if it were the only one
};

// Part of a longer job.
Progress partOf(const Progress& progress, double from, double to);

Standing standingNow(const Plan& plan);
bool stands(const Plan& plan, const Standing& standing);
// The same routine before anything is planned, in another standing; what held the part before is
// not there.
Result<Plan> standingSo(const Plan& plan, const Standing& standing);
// Touches, accesses and portions of all features of the set-up that is worked on.
Result<Plan> plannedAll(Plan plan, const Progress& progress, AccessCount* count = nullptr);
Result<std::vector<TriedStanding>>
tryStandings(const Plan& begun, const std::vector<Standing>& standings, const Progress& progress);
// Features that are touched, and held well.
std::set<FeatureId> reachedIn(const Plan& plan);

// A standing that a person may choose for the set-up that is worked on.
struct StandingOffer {
  TriedStanding tried;
  std::string on;                  // what it lies on: "Plane 3"
  std::size_t reached = 0, of = 0; // features of the set-up
  std::size_t accesses = 0;        // tips and angles
};

// All but the one in which it stands, the one that reaches most first; of equals the one with the
// fewest tips and angles. Error: a fixture holds the part.
Result<std::vector<StandingOffer>> otherStandings(const Plan& plan, const Progress& progress = {});
// The part laid so, with the touches that were planned there.
EditGroup layPart(const StandingOffer& offer);

} // namespace alder
