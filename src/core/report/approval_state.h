// Whether the report of a part still is what was approved.
#pragma once

#include "report/report_model.h"

namespace alder {

std::string sha256(std::string_view bytes); // FIPS 180-4, as 64 hexadecimal digits

// Of all that the report says of requirements, part and run, and of the forms of a first article;
// not of the day it is printed on, nor of its layout, nor of the tips' qualification, which is made
// anew for later parts.
std::string reportDigest(const Plan& plan, const ReportModel& model);

// "Approved by M. Fenn, 2026-03-01 14:20; unchanged since then", "Not approved".
std::string approvalWords(const ApprovalState& state);

// Puts into the model what became of the part's approval, if it has one.
void stateApproval(ReportModel& model, const Plan& plan, const ReportSource& source);

} // namespace alder
