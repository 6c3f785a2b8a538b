// The setup correction of a run.
#include "commands.h"

#include "base/files.h"
#include "exchange/routine/project.h"
#include "exchange/runs/correction.h"
#include <cstdio>

namespace alder::batch {

Result<int> correct(const CorrectOptions& o) {
  auto project = openProject(o.routine);
  if (!project) return pass(project.error());
  const Plan& plan = project->plan;
  if (o.points.empty() && project->runs.empty())
    return fail("The routine holds no run yet; name a file of points.");
  auto text = o.points.empty() ? Result<std::string>(project->runs.back().csv) : readFile(o.points);
  if (!text) return pass(text.error());
  auto correction =
      correctionOfPoints(plan, *text, o.points.empty() ? project->runs.back().name : o.points,
                         o.in_machine ? CorrectionAxes::Machine : CorrectionAxes::Part, o.order);
  if (!correction) return pass(correction.error());
  if (o.target.empty()) {
    std::printf("%s\n", describe(*correction).c_str());
    return 0;
  }
  if (auto done = writeCorrection(*correction, plan.name, o.target, o.form); !done)
    return pass(done.error());
  return 0;
}

} // namespace alder::batch
