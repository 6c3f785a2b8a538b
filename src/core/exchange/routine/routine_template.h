// A routine without a part, from which new routines start: bench with fixture, recipes, shell,
// pairs, how is judged, and the steps that come before and after everything that touches a feature.
// A file of JSON, described in docs/files.md.
#pragma once

#include "plan/plan.h"

namespace alder {

struct RoutineTemplate {
  Bench bench;
  RecipeBook book;
  Shell shell;
  std::vector<PairRule> pairs;
  ToleranceStandard standard = ToleranceStandard::Iso;
  double uncertainty = 0, near_share = 0.9;
  GeneralTolerances general;
  Steps opening, closing;
};

// What of a routine does not speak of its part.
RoutineTemplate templateOf(const Plan& plan);
std::string templateText(const RoutineTemplate& t);
// Error names the line or the field.
Result<RoutineTemplate> templateFromText(const std::string& text, const std::string& label);

// A routine that has begun (route/draft.h) with what the template holds; its steps come when the
// draft is complete.
Plan beginPlan(PartPtr part, const RoutineTemplate& t);
Done addTemplateSteps(Plan& plan, const RoutineTemplate& t);

} // namespace alder
