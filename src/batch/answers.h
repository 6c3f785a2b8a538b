// The JSON answers of the batch program; their fields are a contract (docs/files.md).
#pragma once

#include "exchange/points/points_file.h"
#include "exchange/points/sheet.h"
#include "exchange/routine/project.h"
#include "fit/association.h"
#include "judge/coverage.h"
#include "judge/verdict.h"

namespace alder::batch {

void print(const Json& json); // what is no UTF-8 is replaced

Json fitAnswer(const Association& association);
Json draftAnswer(const Plan& plan, const Coverage& coverage);
Json rehearsalAnswer(const Plan& plan, const Way& way, const Rehearsal& rehearsal);
// Of several set-ups: sums and lists of all, and each by itself under `set_ups`.
Json rehearsalOfSetups(const std::vector<Json>& answers, const std::vector<std::string>& names);
// A line each.
void printVerdicts(const Plan& plan, const std::vector<Evaluation>& evaluations);
bool anyOutside(const std::vector<Evaluation>& evaluations);
Json judgeAnswer(const Plan& plan, const std::vector<Evaluation>& evaluations);

Json sheetAnswer(const Sheet& sheet, const std::vector<Evaluation>& evaluations);

} // namespace alder::batch
