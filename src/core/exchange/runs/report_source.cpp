#include "exchange/runs/report_source.h"

#include "base/files.h"
#include "exchange/points/points_file.h"
#include "exchange/runs/measured_again.h"
#include "judge/judge.h"
#include "report/approval_state.h"
#include <filesystem>

namespace alder {

void takeSums(ReportSource& source, const Plan& plan, const std::string& csv) {
  source.routine_digest = routineDigest(plan), source.points_digest = sha256(csv);
}

Result<ReportSource> reportSource(const Plan& plan, const std::string& csv,
                                  const std::string& serial) {
  ReportSource source;
  source.serial = serial;
  if (!csv.empty()) {
    auto measured = measurementsIn(csv, serial, plan);
    if (!measured) return pass(measured.error());
    source.measured = std::move(*measured);
    source.again = measuredAgainIn(csv);
  }
  source.evaluations = judgeAll(plan, source.measured);
  if (approvalOf(plan.approvals, serial)) takeSums(source, plan, csv);
  return source;
}

Result<ReportSource> reportSource(const Project& project, const std::string& points) {
  if (!points.empty()) {
    const auto text = readFile(points);
    if (!text) return pass(text.error());
    return reportSource(project.plan, *text, std::filesystem::path(points).stem().string());
  }
  if (project.runs.empty()) return reportSource(project.plan, "", "");
  const StoredRun& last = project.runs.back();
  auto source = reportSource(project.plan, last.csv, last.name);
  if (source) source->operated_by = last.operated_by;
  return source;
}

} // namespace alder
