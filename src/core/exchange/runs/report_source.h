// What reports are filled from, of parts as routines and files hold them.
#pragma once

#include "exchange/routine/project.h"
#include "report/report_model.h"

namespace alder {

// What an approval rests on; taken where the part has one, or is to have one.
void takeSums(ReportSource& source, const Plan& plan, const std::string& csv);

// Of the points of one part; empty: nothing was measured. Error where they cannot be read.
Result<ReportSource> reportSource(const Plan& plan, const std::string& csv,
                                  const std::string& serial);
// Of a file of points, else of the routine's last run, else of nothing.
Result<ReportSource> reportSource(const Project& project, const std::string& points);

} // namespace alder
