#include "run/measure_again.h"

#include "plan/repeats/repeat.h"
#include "run/as_found.h"
#include <algorithm>
#include <set>

namespace alder {
namespace {

bool isWanted(const Plan& plan, const RoutineStep& step, const std::set<FeatureId>& features,
              bool frames) {
  if (const FeatureId id = measuredIn(step.body); id.valid()) return features.count(id) > 0;
  if (clampIn(step.body)) return true;
  if (const auto* use = useFrameIn(step.body))
    return frames && (plan.frame(use->frame) || plan.bench.fixture.frame(use->frame));
  return false;
}

// Repeats written out, groups gone.
Steps stepsOf(const Plan& plan, const std::set<FeatureId>& features, bool frames) {
  const Steps all = stepsDone(plan).steps;
  Steps kept;
  for (std::size_t i = nextActive(all, 0); i < all.size();) {
    if (!isWanted(plan, all[i], features, frames)) {
      i = nextActive(all, measuredIn(all[i].body).valid() ? endOf(all, i) : i + 1);
      continue;
    }
    const std::size_t end = endOf(all, i);
    for (std::size_t k = i; k < end; ++k) {
      kept.push_back(all[k]);
      kept.back().depth -= all[i].depth;
    }
    i = nextActive(all, end);
  }
  return kept;
}

} // namespace

Result<Plan> planToMeasureAgain(const Plan& plan, const std::vector<FeatureId>& features,
                                const std::optional<Frame>& lies) {
  std::set<FeatureId> wanted;
  const auto measured = measuringOrder(plan.steps, false);
  for (FeatureId id : features)
    if (plan.feature(id).covered() && std::count(measured.begin(), measured.end(), id) > 0)
      wanted.insert(id);
  if (wanted.empty()) return fail("None of these features is measured in this routine.");
  Plan again = lies ? planAsFound(plan, *lies) : plan;
  if (lies) {
    again.alignment.clear();
  } else {
    wanted.insert(plan.alignment.begin(), plan.alignment.end());
    for (const PartFrame& f : plan.frames)
      for (const FrameStage& s : f.stages)
        wanted.insert(s.features.begin(), s.features.end());
  }
  again.steps = stepsOf(plan, wanted, !lies);
  return again;
}

} // namespace alder
