// The report: what it says (model), and its forms.
#pragma once

#include "judge/verdict.h"
#include <string>
#include <vector>

namespace alder {

struct ReportRow {
  RequirementId requirement;
  int balloon = 0;
  std::string text, features;                           // callout; what it is about
  std::string nominal, lower, upper, actual, deviation; // with the requirement's decimals
  std::optional<double> share;                          // of the tolerance; none of a single limit
  Verdict verdict = Verdict::Unmeasured;
  std::string how;
};

struct ReportModel {
  std::string title, part, bench, date, part_serial;
  std::vector<std::pair<std::string, std::string>> header; // of the part: what, and which
  std::string operated_by;                                 // empty: nobody was asked
  std::string
      standard; // that the requirements are judged by, with the balloons of those by another
  std::vector<ReportRow> rows;
  std::vector<std::string> tips;  // a line each: what is known of those that touched
  std::vector<std::string> again; // the same: what was measured again, and when
  int within = 0, near = 0, not_proved = 0, outside = 0, unmeasured = 0;
};

ReportModel reportOf(const Plan& plan, const std::vector<Evaluation>& evaluations);
std::string reportTable(const ReportModel& model); // comma-separated values
// In the form that the ending of the file asks for: a table by .csv, else the report.
Result<std::string> reportFile(const std::string& target, const ReportModel& model,
                               const Plan& plan);

} // namespace alder
