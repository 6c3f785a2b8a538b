// The report on paper.
#pragma once

#include "report/document.h"

namespace alder {

// A4 with embedded fonts: title block, picture with callouts, table. Deterministic but for the
// date.
Result<std::string> reportPdf(const ReportModel& model, const Plan& plan);

} // namespace alder
