// From a part with tolerances to a complete plan: requirements, features, touches, stylus and head
// angles for each, measuring order, part frame. What cannot be covered says why.
#pragma once

#include "route/access_planner.h"

namespace alder {

// What is known without looking for ways: requirements, features, recipes, the placement (the
// fixture's, else chosen so that most features can be reached). Touches are still missing.
Plan beginPlan(PartPtr part, Bench bench);
// With another specification before anything is planned: features with recipes by its tolerances; a
// part without fixture is placed anew.
Plan withSpecification(Plan begun, Specification spec);
// Touches, accesses and order for a plan that has begun.
Result<Plan> completePlan(Plan plan, const Progress& progress = {}, AccessCount* count = nullptr);
// Both.
Result<Plan> draftPlan(PartPtr part, Bench bench, const Progress& progress = {},
                       AccessCount* count = nullptr);

} // namespace alder
