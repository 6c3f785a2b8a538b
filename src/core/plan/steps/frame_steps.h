// Steps that use a part frame, as edits: put in where what it is found from is measured, and kept
// to its name.
#pragma once

#include "plan/steps/step_edit.h"

namespace alder {

// One stage for each datum of a requirement, in their order, with what each may fix.
std::vector<FrameStage> stagesOf(const Specification& spec,
                                 const std::vector<DatumReference>& datums);

struct FrameUsed {
  std::vector<Edit> edits;
  StepId step; // that uses it
};
// A new frame found from these stages, used right behind the step in which the last of its features
// is measured. Error says which feature is not touched, or not measured in this routine.
Result<FrameUsed> useNewFrame(const Plan& plan, std::vector<FrameStage> stages);
// The routine begins at a place that is kept with the fixture.
Result<FrameUsed> beginAtFrame(const Plan& plan, const std::string& name);

// Steps speak of a frame by its name: edits that make them follow when it is given another.
std::vector<Edit> stepsFollowName(const Plan& plan, const std::string& was, const std::string& now);

} // namespace alder
