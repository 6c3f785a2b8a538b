// What a run comes to while it goes on.
#include "judge/conditioning.h"
#include "judge/judge.h"
#include "plan/constructions/construct.h"
#include "run/session.h"
#include <algorithm>

namespace alder {
namespace {

Result<Shaped> shapeNow(const Plan& plan, const Measurements& measured, FeatureId id) {
  const NominalFeature& feature = plan.nominal(id);
  if (!feature.isConstructed()) {
    const auto found = measured.find(id);
    if (found == measured.end()) return fail("{} is not measured yet", feature.name);
    return measuredShape(feature, found->second);
  }
  std::vector<Shaped> parents;
  for (FeatureId parent : feature.from->of) {
    auto shape = shapeNow(plan, measured, parent);
    if (!shape) return shape;
    parents.push_back(std::move(*shape));
  }
  return construct(*feature.from, parents);
}

} // namespace

Run RunSession::run() const {
  Run run = compensated(*plan_, raw_, frame_);
  run.frames = frames_used_;
  return run;
}

Result<Shaped> RunSession::constructed(FeatureId feature) const {
  return shapeNow(*plan_, measurementsOf(run()), feature);
}

std::vector<Evaluation> RunSession::evaluate(const std::vector<RequirementId>& requirements) const {
  const Measurements measured = measurementsOf(run());
  std::vector<Evaluation> all;
  for (const Requirement& r : plan_->spec.requirements) {
    const bool asked = std::count(requirements.begin(), requirements.end(), r.id) > 0;
    const auto needed = featuresNeeded(plan_->spec, r);
    const bool complete = std::all_of(needed.begin(), needed.end(),
                                      [&](FeatureId id) { return measured.count(id) > 0; });
    if (requirements.empty() ? complete && !needed.empty() : asked)
      all.push_back(judge(*plan_, r, measured));
  }
  return all;
}

} // namespace alder
