// The parts that were measured with a routine as one table: a row for each requirement and part,
// with what the process comes to over all parts.
#pragma once

#include "judge/part_history.h"

namespace alder {

struct JudgedPart {
  std::string name;
  std::string when;                       // as shown; may be empty
  BriefVerdicts verdicts;                 // under the present settings
  std::map<int, std::string> judged_then; // verdict by balloon when it was measured, where known
};

// CSV, parts in the order given. Figures in mm and degrees; the moving range is the step from the
// part before. A cell is empty where there is no figure.
std::string historyTable(const Plan& plan, const std::vector<JudgedPart>& parts);

} // namespace alder
