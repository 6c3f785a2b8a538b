// From a part with tolerances to a complete plan: requirements, features, touches, stylus and head
// angles for each, measuring order, part frame. What cannot be covered says why.
#pragma once

#include "base/progress.h"
#include "route/router.h"

namespace alder {

// Of the features that are not reached from straight above: with how many tips and angles they are
// touched, and how many it takes at least among those that were tried.
struct AccessCount {
  int used = 0, least = 0;
};

// What is known without looking for ways: requirements, features, recipes, the placement (the
// fixture's, else chosen so that most features can be reached). Touches are still missing.
Plan beginPlan(PartPtr part, Bench bench);
// Touches, accesses and order for a plan that has begun.
Result<Plan> completePlan(Plan plan, const Progress& progress = {}, AccessCount* count = nullptr);
// Both.
Result<Plan> draftPlan(PartPtr part, Bench bench, const Progress& progress = {},
                       AccessCount* count = nullptr);

// A block from the table up to the lowest point of the part, where no fixture is given.
void addPedestal(Bench& bench, const PartModel& part, const Frame& placement);
// Chooses a placement on the table and adds a pedestal under the part to the bench's fixture.
Frame placeOnTable(const PartModel& part, const Specification& spec, Bench& bench);

// Plans touches and chooses stylus and angles for all features that are not forced; fills
// `touches`, `access` and `why_not`.
Done planAccess(Plan& plan, const Obstacles& obstacles, const Progress& progress,
                AccessCount* count = nullptr);

// Features of the part frame (3-2-1 from the datum system used most) and a short measuring order.
void planOrder(Plan& plan);
// The order that takes least time with hops, head turns and swaps, as far as found: the features of
// the part frame stay first and as they are, pinned ones behind the one they follow now.
void orderForTime(Plan& plan);

} // namespace alder
