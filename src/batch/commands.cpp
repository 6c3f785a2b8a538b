#include "commands.h"

#include "answers.h"
#include "base/files.h"
#include "base/units.h"
#include "exchange/machine/program_file.h"
#include "exchange/points/sheet.h"
#include "exchange/qif/qif_file.h"
#include "exchange/results/bring_in.h"
#include "exchange/results/joined_results.h"
#include "exchange/routine/routine_template.h"
#include "exchange/runs/report_source.h"
#include "exchange/step/model_file.h"
#include "judge/judge.h"
#include "part/cad_process.h"
#include "part/left_out.h"
#include "report/report_file.h"
#include "route/draft.h"
#include "route/router.h"
#include <algorithm>
#include <cstdio>

namespace alder::batch {
namespace {

// The points that a verdict is asked for: those of a file, else the last run of the project.
Result<Measurements> pointsFor(const Project& project, const std::string& path) {
  if (path.empty()) {
    if (project.runs.empty()) return fail("The routine holds no run yet; name a file of points.");
    return measurementsIn(project.runs.back().csv, project.runs.back().name, project.plan);
  }
  auto text = readFile(path);
  if (!text) return pass(text.error());
  return measurementsIn(*text, path, project.plan);
}

bool endsWith(const std::string& text, std::string_view end) {
  return std::string_view(text).ends_with(end);
}

// The bodies that are asked for, else those that the file shows.
Result<PartPtr> partOf(const std::string& path, const std::vector<std::string>& bodies) {
  auto part = importCadFileApart(path);
  if (!part || bodies.empty()) return part;
  const auto out = leftOutBut(**part, bodies);
  if (!out) return fail("{}: {}", path, out.error().message);
  if (*out == leftOut(**part)) return part;
  return importCadFileApart(path, {}, BodyChoice{*out});
}

} // namespace

Result<int> fit(const FitOptions& o) {
  auto shape = shapeNamed(o.shape);
  if (!shape) return pass(shape.error());
  auto criterion = criterionNamed(o.criterion);
  if (!criterion) return fail("--criterion: {}", criterion.error().message);
  auto text = readFile(o.points);
  if (!text) return pass(text.error());
  auto points = barePointsIn(*text, o.points);
  if (!points) return pass(points.error());
  FitSettings settings;
  settings.criterion = *criterion;
  auto association = associate(*shape, *points, settings);
  if (!association) return fail("{}: {}", o.points, association.error().message);
  print(fitAnswer(*association));
  return 0;
}

Result<int> draft(const DraftOptions& o) {
  auto part = partOf(o.part, o.bodies);
  if (!part) return pass(part.error());
  std::optional<RoutineTemplate> start;
  Result<Bench> bench = defaultBench();
  if (!o.bench.empty() || !o.start.empty()) {
    const std::string& path = o.start.empty() ? o.bench : o.start;
    auto text = readFile(path);
    if (!text) return pass(text.error());
    if (o.start.empty()) {
      bench = readBench(*text, path);
    } else {
      auto read = templateFromText(*text, path);
      if (!read) return pass(read.error());
      start = std::move(*read);
    }
  }
  if (!bench) return pass(bench.error());
  AccessCount count;
  Result<Plan> begun = start ? beginPlan(*part, *start) : beginPlan(*part, std::move(*bench));
  if (!o.drawing.empty()) begun = begunFromDrawing(std::move(*begun), o.drawing);
  if (!begun) return pass(begun.error());
  auto plan = completePlan(std::move(*begun), {}, &count);
  if (!plan) return pass(plan.error());
  if (start)
    if (auto done = addTemplateSteps(*plan, *start); !done) return pass(done.error());
  if (!o.output.empty())
    if (auto done = saveProject({*plan, {}, {}}, o.output); !done) return pass(done.error());
  const Coverage coverage = coverageOf(*plan);
  if (o.json) {
    Json answer = draftAnswer(*plan, coverage);
    answer["turned_accesses"] = {{"used", count.used}, {"at_least", count.least}};
    print(answer);
  } else {
    int covered = 0;
    for (const auto& r : plan->spec.requirements) {
      const std::string& why = coverage.at(r.id).why;
      covered += why.empty();
      std::printf("%3d  %-46s %s\n", r.balloon, describe(plan->spec, r).c_str(),
                  why.empty() ? "covered" : why.c_str());
    }
    std::printf("%d of %zu requirements covered\n", covered, plan->spec.requirements.size());
    for (const Note& n : plan->notes)
      std::printf("%s\n", fmt::format("note #{}: {}", n.entity, n.text).c_str());
  }
  return 0;
}

// One part of a file of results, as if it alone had been brought in; what waits for a person does
// not count and is told.
static Result<Measurements> resultsFor(Project project, const JudgeOptions& o) {
  auto bytes = resultBytes(o.results);
  if (!bytes) return pass(bytes.error());
  if (isRunOfPoints(*bytes)) return measurementsIn(*bytes, o.results, project.plan);
  auto file = readResultFile(std::move(*bytes), o.results, project.brought.kinds);
  if (!file) return pass(file.error());
  project.runs.clear();
  joinToRoutine(project.plan, project.qif, *file);
  for (const std::string& remark : file->read.remarks)
    std::fprintf(stderr, "%s: %s\n", o.results.c_str(), remark.c_str());
  const auto names = runNamesFor(project, *file);
  std::size_t at = 0;
  if (o.part.empty() && names.size() > 1)
    return fail("{}: holds {} parts; say --part with one of {}.", o.results, names.size(),
                fmt::join(names, ", "));
  if (!o.part.empty()) {
    const auto found = std::find(names.begin(), names.end(), o.part);
    if (found == names.end())
      return fail("{}: holds no part {}; it has {}.", o.results, o.part, fmt::join(names, ", "));
    at = static_cast<std::size_t>(found - names.begin());
  }
  std::vector<PartMatches> matches;
  for (const ResultsOfPart& part : file->read.parts)
    matches.push_back(
        matchResults(project.plan.spec, part, file->kind.name, project.brought.decisions));
  for (const ResultMatch& m : matches[at].matches)
    if (m.state() == MatchState::Waits || m.state() == MatchState::Left)
      std::fprintf(stderr, "%s, line %d: %s %s: %s\n", o.results.c_str(),
                   file->read.parts[at].values[m.value].line,
                   calledIn(file->read.parts[at].values[m.value]).c_str(),
                   m.state() == MatchState::Waits ? "waits" : "proves no requirement",
                   m.conflicts.empty() ? m.why.c_str() : m.conflicts.front().c_str());
  apply(project, bringingIn(project, *file, matches));
  for (const StoredRun& run : project.runs)
    if (run.name == names[at]) return measurementsIn(run.csv, o.results, project.plan);
  return fail("{}: none of its values proves a requirement of this routine.", o.results);
}

Result<int> judge(const JudgeOptions& o) {
  if (!o.results.empty() && !o.points.empty()) return fail("Name points or --results, not both.");
  auto project = openProject(o.routine);
  if (!project) return pass(project.error());
  auto measured = o.results.empty() ? pointsFor(*project, o.points) : resultsFor(*project, o);
  if (!measured) return pass(measured.error());
  const auto evaluations = judgeAll(project->plan, *measured);
  if (o.json)
    print(judgeAnswer(project->plan, evaluations));
  else
    printVerdicts(project->plan, evaluations);
  return anyOutside(evaluations) ? 1 : 0;
}

Result<int> evaluate(const EvaluateOptions& o) {
  auto text = readFile(o.sheet);
  if (!text) return pass(text.error());
  auto sheet = readSheet(*text, o.sheet);
  if (!sheet) return pass(sheet.error());
  std::vector<Evaluation> evaluations;
  for (std::size_t i = 0; i < sheet->listed; ++i)
    evaluations.push_back(
        alder::judge(sheet->plan, sheet->plan.spec.requirements[i], sheet->measured));
  if (o.json) {
    print(sheetAnswer(*sheet, evaluations));
  } else {
    for (std::size_t i = 0; i < evaluations.size(); ++i) {
      const Evaluation& e = evaluations[i];
      const bool angle = sheet->plan.spec.requirements[i].kind == Characteristic::Angle;
      std::printf("%-12s %-10s %s  %s\n", sheet->ids[i].c_str(),
                  std::string(name(e.verdict)).c_str(),
                  e.actual ? figure(angle ? degrees(*e.actual) : *e.actual, 6).c_str() : "-",
                  e.how.c_str());
    }
  }
  return std::any_of(evaluations.begin(), evaluations.end(),
                     [](const Evaluation& e) { return e.verdict == Verdict::Outside; });
}

Result<int> readProgram(const ReadOptions& o) {
  Plan base;
  if (endsWith(o.part, ".alder")) {
    auto project = openProject(o.part);
    if (!project) return pass(project.error());
    base = std::move(project->plan);
  } else {
    auto part = importCadFileApart(o.part);
    if (!part) return pass(part.error());
    auto text = o.bench.empty() ? Result<std::string>("") : readFile(o.bench);
    if (!text) return pass(text.error());
    auto bench = o.bench.empty() ? defaultBench() : readBench(*text, o.bench);
    if (!bench) return pass(bench.error());
    base = beginPlan(*part, std::move(*bench));
  }
  auto program = readFile(o.program);
  if (!program) return pass(program.error());
  const auto from = endsWith(o.part, ".alder") ? ReadOnto::Routine : ReadOnto::Part;
  auto read = alder::readProgram(*program, o.program, std::move(base), from);
  if (!read) return pass(read.error());
  if (!o.output.empty())
    if (auto done = saveProject({read->plan, {}, {}, {}, read->qif}, o.output); !done)
      return pass(done.error());
  if (o.json) {
    Json answer = draftAnswer(read->plan, coverageOf(read->plan));
    answer["understood"] = read->understood;
    answer["kept"] = read->kept;
    answer["remarks"] = read->remarks;
    Json lines = Json::array();
    for (const ProgramLine& l : read->lines)
      lines.push_back({{"line", l.line},
                       {"statement", l.statement},
                       {"result", name(l.taken)},
                       {"remark", l.remark}});
    answer["lines"] = lines;
    print(answer);
  } else {
    for (const std::string& remark : read->remarks)
      std::printf("%s\n", remark.c_str());
    std::printf("%d statements understood, %d kept as notes\n", read->understood, read->kept);
  }
  return 0;
}

// Of the points named, else of all runs of the routine. 1 where something does not stand in it.
static Result<int> exportQif(const ExportOptions& o) {
  auto project = openProject(o.routine);
  if (!project) return pass(project.error());
  std::vector<StoredRun> runs = project->runs;
  if (!o.points.empty()) {
    auto text = readFile(o.points);
    if (!text) return pass(text.error());
    if (auto good = measurementsIn(*text, o.points, project->plan); !good)
      return pass(good.error());
    runs = {{std::filesystem::path(o.points).stem().string(), std::move(*text)}};
  }
  const QifWritten written = qifDocument(*project, runs);
  if (auto done = writeFile(o.target, written.text); !done) return pass(done.error());
  for (const std::string& line : written.told)
    std::printf("%s\n", line.c_str());
  return written.told.empty() ? 0 : 1;
}

// 1 where not all of the requirements stand in it as they are.
static Result<int> exportModel(const ExportOptions& o) {
  auto project = openProject(o.routine);
  if (!project) return pass(project.error());
  const auto label = std::filesystem::path(o.target).filename().string();
  auto written = provedModel(project->plan, label);
  if (!written) return pass(written.error());
  if (auto done = writeFile(o.target, written->bytes); !done) return pass(done.error());
  for (const std::string& line : written->told)
    std::printf("%s\n", line.c_str());
  std::printf("%s\n", summary(*written).c_str());
  return written->told.empty() ? 0 : 1;
}

Result<int> exportTo(const ExportOptions& o) {
  if (isModelFile(o.target)) return exportModel(o);
  if (isQifFile(o.target)) return exportQif(o);
  if (endsWith(o.target, ".alder-template")) {
    auto project = openProject(o.routine);
    if (!project) return pass(project.error());
    if (auto done = writeFile(o.target, templateText(templateOf(project->plan))); !done)
      return pass(done.error());
    return 0;
  }
  Done done =
      fail("{}: the kind of file is not known; use .csv, .pdf, .xlsx, .html, .dmi, .qif, .step, "
           ".alder-template or a name that ends in path.csv.",
           o.target);
  if (isMachineFile(o.target)) return exportToMachine(o);
  if (isReportFile(o.target)) {
    auto project = openProject(o.routine);
    if (!project) return pass(project.error());
    const auto source = reportSource(*project, o.points);
    if (!source) return pass(source.error());
    const ReportModel model = reportOf(project->plan, *source);
    auto report = reportFile(o.target, model, project->plan);
    if (!report) return pass(report.error());
    for (const std::string& line : report->told)
      std::fprintf(stderr, "%s\n", line.c_str());
    done = writeFile(o.target, report->bytes);
  }
  if (!done) return pass(done.error());
  return 0;
}

} // namespace alder::batch
