// From a part with tolerances to a complete plan: requirements, features, touches, stylus and head
// angles for each, measuring order, part frame. What cannot be covered says why.
#pragma once

#include "base/progress.h"
#include "plan/edit.h"
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

struct NewFeatures {
  std::vector<FeatureId> features;
  std::vector<Edit> edits; // to be applied in turn
};
// What it takes to measure faces that are no feature yet: one feature for each surface, with
// touches and access like those drafted, preferring tips and angles in use, in the place of the
// order where it costs least. What is not reached says why. Edits are to be applied in turn. Error
// when the faces are features already, or cancelled.
Result<NewFeatures> planNewFeatures(const Plan& plan, const Obstacles& obstacles,
                                    const std::vector<FaceId>& faces,
                                    const Progress& progress = {});
// Index in the steps, before one that stands in no other or at the end, behind the features of the
// part frame and not between a pinned feature and the one it follows, where this one costs least
// time.
std::size_t cheapestPlace(const Plan& plan, FeatureId feature);

// A block from the table up to the lowest point of the part, where no fixture is given.
void addPedestal(Bench& bench, const PartModel& part, const Frame& placement);
// Chooses a placement on the table and adds a pedestal under the part to the bench's fixture.
Frame placeOnTable(const PartModel& part, const Specification& spec, Bench& bench);

// Plans touches and chooses stylus and angles for all features that are not forced; fills
// `touches`, `access` and `why_not`.
Done planAccess(Plan& plan, const Obstacles& obstacles, const Progress& progress,
                AccessCount* count = nullptr);

// The same for one feature, the others as they are.
Done planAccessOf(Plan& plan, const Obstacles& obstacles, FeatureId feature,
                  const Progress& progress = {});

// Features of the part frame (3-2-1 from the datum system used most) and a short measuring order.
void planOrder(Plan& plan);
// The order that takes least time with hops, head turns and swaps, as far as found: the features of
// the part frame stay first and as they are, pinned ones behind the one they follow now.
void orderForTime(Plan& plan);

} // namespace alder
