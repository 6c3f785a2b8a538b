#include "plan/steps/frame_steps.h"

#include <algorithm>

namespace alder {
namespace {

std::string freeFrameName(const Plan& plan) {
  std::string name;
  for (int number = 1; name.empty() || plan.frame(name) || plan.bench.fixture.frame(name); ++number)
    name = "frame " + std::to_string(number);
  return name;
}

Result<FrameUsed> withStep(const Plan& plan, std::vector<Edit> before, const std::string& frame,
                           std::size_t at, int depth) {
  auto put = insertSteps(plan, {{StepId{0}, 0, true, 0, UseFrameStep{frame}}}, at, depth);
  if (!put) return pass(put.error());
  before.push_back(std::move(*put));
  return FrameUsed{std::move(before), freeId(plan.steps)};
}

} // namespace

std::vector<FrameStage> stagesOf(const Specification& spec,
                                 const std::vector<DatumReference>& datums) {
  std::vector<FrameStage> stages;
  for (const DatumReference& d : datums) {
    FrameStage stage;
    for (const std::string& letter : d.letters)
      if (const Datum* datum = spec.datum(letter))
        stage.features.insert(stage.features.end(), datum->features.begin(), datum->features.end());
    stage.locks = d.may_fix;
    if (!stage.features.empty()) stages.push_back(std::move(stage));
  }
  return stages;
}

Result<FrameUsed> useNewFrame(const Plan& plan, std::vector<FrameStage> stages) {
  std::vector<FeatureId> features;
  for (const FrameStage& s : stages)
    features.insert(features.end(), s.features.begin(), s.features.end());
  if (features.empty())
    return fail("Select the features that the frame is to be found from, the first first.");
  for (FeatureId id : features)
    if (plan.nominal(id).isConstructed() || !plan.feature(id).covered())
      return fail("{} is not touched; a frame is found from features that are.",
                  plan.nominal(id).name);
  const Steps& steps = plan.steps;
  std::size_t at = 0;
  for (FeatureId id : features) {
    const std::size_t i = indexOf(steps, stepOf(steps, id));
    if (i == steps.size())
      return fail("{} is not measured in this routine.", plan.nominal(id).name);
    at = std::max(at, endOf(steps, i));
  }
  PartFrame frame;
  frame.name = freeFrameName(plan);
  frame.stages = std::move(stages);
  std::vector<PartFrame> frames = plan.frames;
  frames.push_back(frame);
  return withStep(plan, {SetFrames{std::move(frames)}}, frame.name, at,
                  at < steps.size() ? steps[at].depth : 0);
}

Result<FrameUsed> beginAtFrame(const Plan& plan, const std::string& name) {
  return withStep(plan, {}, name, 0, 0);
}

std::vector<Edit> stepsFollowName(const Plan& plan, const std::string& was,
                                  const std::string& now) {
  std::vector<Edit> edits;
  for (std::size_t i = 0; i < plan.steps.size(); ++i) {
    const auto* use = useFrameIn(plan.steps[i].body);
    if (!use || use->frame != was) continue;
    UseFrameStep changed = *use;
    changed.frame = now;
    RoutineStep step = plan.steps[i];
    step.body = changed;
    edits.push_back(SpliceSteps{i, 1, {step}});
  }
  return edits;
}

} // namespace alder
