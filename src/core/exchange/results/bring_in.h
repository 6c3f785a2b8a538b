// Results of a file brought into a routine, as one edit that can be undone.
#pragma once

#include "exchange/results/result_file.h"
#include "exchange/results/stated_lines.h"
#include "exchange/routine/project.h"

namespace alder {

// What a run is to hold of stated values. A run that is not there yet is made of `fresh`; one that
// holds neither points nor values any more goes.
struct StatedRunChange {
  std::string run;
  std::string fresh;
  std::string operated_by;
  std::vector<StatedLine> lines;
};
// A run as a whole.
struct RunReplaced {
  std::string run;
  std::optional<StoredRun> by; // nothing: it goes
};
struct ResultsEdit {
  std::string text; // of the undo
  std::vector<StatedRunChange> runs;
  std::vector<RunReplaced> replaced;
  BroughtResults brought;
};
// Runs that it changes or brings.
std::vector<std::string> runsOf(const ResultsEdit& edit);
// Changes the project and returns the edit that takes it back.
ResultsEdit apply(Project& project, const ResultsEdit& edit);

// Names of the runs that its parts belong to: serial numbers, else the name of the file. No two are
// the same. A part with points does not take the place of another run with points.
std::vector<std::string> runNamesFor(const Project& project, const ResultFile& file);
// The figures of a judged run, in mm and degrees, as matchResults takes them.
std::map<RequirementId, double> knownFigures(const Specification& spec,
                                             const BriefVerdicts& verdicts);

// The values that are settled; the file; its kind, which has a name by then; what was decided.
// `matches`: of each part. Where a part has points they are its run, and values that say the same
// are not kept beside them.
ResultsEdit bringingIn(const Project& project, const ResultFile& file,
                       const std::vector<PartMatches>& matches);

} // namespace alder
