// The parts measured with a routine, from its file or from a database of runs.
#include "commands.h"
#include "judge/judge.h"

#include "base/files.h"
#include "base/local_time.h"
#include "exchange/points/points_file.h"
#include "report/history_table.h"
#include "store/run_database.h"
#include <QCoreApplication>
#include <cstdio>

namespace alder::batch {
namespace {

// Error names the run whose points do not belong to the routine as it is now.
Result<JudgedPart> judged(const Plan& plan, const RunRecord& run) {
  auto measured = measurementsIn(run.points, run.part, plan);
  if (!measured) return pass(measured.error());
  JudgedPart part{run.part,
                  run.seconds > 0 ? localTime(run.seconds, "%Y-%m-%d %H:%M") : "",
                  brief(judgeAll(plan, *measured)),
                  {}};
  for (const Requirement& r : plan.spec.requirements)
    if (const ResultRecord* then = recordOf(plan.spec, r, run.results))
      part.judged_then[r.balloon] = then->verdict;
  return part;
}

} // namespace

// Drivers of databases are found by the application object.
Result<RunDatabase> openDatabase(const std::string& where) {
  static std::string program = "alderpoint-batch";
  static std::array<char*, 2> words{program.data(), nullptr};
  static int count = 1;
  static QCoreApplication application(count, words.data());
  return RunDatabase::open(where);
}

Result<int> history(const HistoryOptions& o) {
  auto project = openProject(o.routine);
  if (!project) return pass(project.error());
  std::vector<RunRecord> runs;
  if (o.database.empty()) {
    for (const StoredRun& run : project->runs)
      runs.push_back({idOf(run), project->plan.name, run.name, "", "", 0, "", run.csv, {}});
  } else {
    auto database = openDatabase(o.database);
    if (!database) return pass(database.error());
    auto kept = database->runsOf(project->plan.name, true);
    if (!kept) return pass(kept.error());
    runs = std::move(*kept);
  }
  if (runs.empty())
    return fail("{}: no part was measured with this routine yet.",
                o.database.empty() ? o.routine : o.database);
  std::vector<JudgedPart> parts;
  for (const RunRecord& run : runs) {
    auto part = judged(project->plan, run);
    if (!part) return pass(part.error());
    parts.push_back(std::move(*part));
  }
  const std::string csv = historyTable(project->plan, parts);
  if (o.output.empty())
    std::fputs(csv.c_str(), stdout);
  else if (auto done = writeFile(o.output, csv); !done)
    return pass(done.error());
  return 0;
}

} // namespace alder::batch
