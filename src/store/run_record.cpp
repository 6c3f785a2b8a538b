#include "store/run_record.h"

#include <QUuid>
#include <algorithm>

namespace alder {
namespace {

constexpr std::string_view kIdLine = "# run: ";

// The lines that begin with # above the table, without the sign.
std::vector<std::string> headLines(const std::string& csv) {
  std::vector<std::string> lines;
  for (std::size_t at = 0; at < csv.size() && csv[at] == '#';) {
    const auto end = std::min(csv.find('\n', at), csv.size());
    lines.push_back(csv.substr(at, end - at));
    at = end + 1;
  }
  return lines;
}

std::string lower(std::string text) {
  std::transform(text.begin(), text.end(), text.begin(),
                 [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
  return text;
}

} // namespace

std::string idOf(const StoredRun& run) {
  for (const std::string& line : headLines(run.csv))
    if (line.starts_with(kIdLine)) return line.substr(kIdLine.size());
  return {};
}

std::string freshId() {
  return QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString();
}

std::string withId(const std::string& csv, const std::string& id) {
  return std::string(kIdLine) + id + "\n" + csv;
}

std::string answerIn(const std::string& csv, std::string_view word) {
  for (const std::string& line : headLines(csv)) {
    const auto colon = line.find(": ");
    if (colon != std::string::npos && !line.starts_with(kIdLine) &&
        lower(line.substr(0, colon)).find(word) != std::string::npos)
      return line.substr(colon + 2);
  }
  return {};
}

RunRecord recordOf(const Plan& plan, const StoredRun& run,
                   const std::vector<Evaluation>& evaluations, std::int64_t now) {
  RunRecord record;
  record.id = idOf(run);
  record.routine = plan.name;
  record.part = run.name;
  record.person = answerIn(run.csv, "operator");
  record.bench = plan.bench.name;
  record.seconds = now;
  record.qualification = toJson(plan)["qualified"].dump();
  record.points = run.csv;
  record.results = resultsOf(plan, evaluations);
  return record;
}

} // namespace alder
