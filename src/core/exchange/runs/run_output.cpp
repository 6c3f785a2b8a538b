#include "exchange/runs/run_output.h"

#include "base/files.h"
#include "base/local_time.h"
#include "exchange/points/points_file.h"
#include "judge/judge.h"
#include "report/report_file.h"
#include <algorithm>

namespace alder {
namespace {

// What is filled in may not lead elsewhere.
std::string harmless(std::string text) {
  for (char& c : text)
    if (static_cast<unsigned char>(c) < 32 ||
        std::string_view("/\\:*?\"<>|").find(c) != std::string::npos)
      c = '-';
  return text;
}

} // namespace

std::string outputName(const Output& output, const std::string& routine,
                       const std::vector<Answered>& answers, std::int64_t now) {
  std::string name;
  for (std::size_t i = 0; i < output.file.size();) {
    const auto close = output.file[i] == '{' ? output.file.find('}', i) : std::string::npos;
    if (close == std::string::npos) {
      name += output.file[i++];
      continue;
    }
    const std::string word = output.file.substr(i + 1, close - i - 1);
    if (word == "routine") name += harmless(routine);
    if (word == "time") name += localTime(now, "%Y-%m-%d %H-%M-%S");
    for (const Answered& a : answers)
      if (a.what == word) name += harmless(a.value);
    i = close + 1;
  }
  if (output.kind == OutputKind::Report) {
    for (const char* ending : {".pdf", ".xlsx", ".html", ".csv"})
      if (name.ends_with(ending)) return name;
    return name + ".pdf";
  }
  return name.ends_with(".csv") ? name : name + ".csv";
}

Done writeOutput(const Output& output, const RunSession& session,
                 const std::filesystem::path& folder, std::int64_t now) {
  const Plan& plan = session.plan();
  const auto path = folder / outputName(output, plan.name, session.answers(), now);
  Result<std::string> bytes = std::string();
  if (output.kind == OutputKind::TouchedPoints) {
    bytes = pointsText(session.run());
  } else {
    const Measurements measured = measurementsOf(session.run());
    ReportSource source;
    source.evaluations = judgeAll(plan, measured), source.measured = measured;
    source.serial = answerFor(QuestionRole::SerialNumber, session.answers());
    source.operated_by = answerFor(QuestionRole::Operator, session.answers());
    const ReportModel model = reportOf(plan, source);
    auto report = reportFile(path.string(), model, plan, output.layout);
    bytes = report ? Result<std::string>(std::move(report->bytes))
                   : Result<std::string>(pass(report.error()));
  }
  if (!bytes) return pass(bytes.error());
  return writeFile(path.string(), *bytes);
}

} // namespace alder
