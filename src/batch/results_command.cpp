// Results of other machines matched to the requirements of a routine.
#include "answers.h"
#include "commands.h"
#include "judge/judge.h"

#include "base/files.h"
#include "base/hash.h"
#include "base/units.h"
#include "exchange/results/bring_in.h"
#include "exchange/results/joined_results.h"
#include "plan/id_text.h"
#include <cstdio>
#include <filesystem>

namespace alder::batch {
namespace {

Json orNull(const std::optional<double>& v) {
  return v ? Json(*v) : Json();
}

Json matchAnswer(const Plan& plan, const StatedResult& v, const ResultMatch& m) {
  const Requirement* r = plan.spec.requirements.find(m.requirement);
  Json json{{"requirement", r ? Json(idText(r->id)) : Json()},
            {"balloon", r ? Json(r->balloon) : Json()},
            {"name", calledIn(v)},
            {"id", v.id},
            {"line", v.line},
            {"actual", orNull(v.actual)},
            {"nominal", orNull(v.nominal)},
            {"deviation", orNull(v.deviation)},
            {"lower", orNull(v.lower)},
            {"upper", orNull(v.upper ? v.upper : v.tolerance)},
            {"unit", v.degrees ? "deg" : "mm"},
            {"sure", m.sure},
            {"state", name(m.state())},
            {"why", m.why},
            {"conflicts", m.conflicts}};
  if (m.coordinate_of.valid()) json["coordinate_of"] = idText(m.coordinate_of);
  return json;
}

Json partAnswer(const Plan& plan, const ResultFile& file, std::size_t p, const std::string& run,
                const PartMatches& found) {
  const ResultsOfPart& part = file.read.parts[p];
  Json matches = Json::array(), left = Json::array(), missing = Json::array();
  for (const ResultMatch& m : found.matches) {
    const StatedResult& v = part.values[m.value];
    matches.push_back(matchAnswer(plan, v, m));
    if (m.state() == MatchState::Left) left.push_back({{"line", v.line}, {"name", calledIn(v)}});
  }
  for (const RequirementId id : found.missing)
    missing.push_back(idText(id));
  return {{"serial", part.serial},        {"file", file.name},  {"date", part.date},
          {"operator", part.operated_by}, {"matches", matches}, {"left", left},
          {"missing", missing},           {"run", run}};
}

Json fileAnswer(const ResultFile& file) {
  Json not_read = Json::array();
  for (std::size_t i = 0; i < file.read.lines.size(); ++i)
    if (file.read.lines[i].not_read)
      not_read.push_back({{"line", i + 1}, {"text", file.text.lines[i]}});
  return {{"file", file.name},
          {"hash", resultFileHash(file.bytes)},
          {"kind", file.fixed ? Json(file.kind.name) : toJson(file.kind)},
          {"known", file.known},
          {"encoding", name(file.text.encoding)},
          {"not_read", not_read},
          {"remarks", file.read.remarks}};
}

// A run of our own: its points are judged.
Result<Json> ownRunAnswer(const Plan& plan, const std::string& csv, const std::string& path) {
  auto measured = measurementsIn(csv, path, plan);
  if (!measured) return pass(measured.error());
  Json matches = Json::array(), missing = Json::array();
  for (const Evaluation& e : judgeAll(plan, *measured)) {
    const Requirement& r = plan.spec.requirement(e.requirement);
    const double scale = r.kind == Characteristic::Angle ? degrees(1) : 1;
    if (!e.actual) {
      missing.push_back(idText(r.id));
      continue;
    }
    matches.push_back({{"requirement", idText(r.id)},
                       {"balloon", r.balloon},
                       {"name", describe(plan.spec, r)},
                       {"line", 0},
                       {"actual", *e.actual * scale},
                       {"nominal", isDimension(r.kind) ? Json(r.nominal * scale) : Json()},
                       {"lower", isDimension(r.kind) ? Json(e.lower * scale) : Json()},
                       {"upper", e.upper * scale},
                       {"sure", 1},
                       {"state", "settled"},
                       {"why", "Judged from the points of the run."},
                       {"conflicts", Json::array()}});
  }
  return Json{{"serial", std::filesystem::path(path).stem().string()},
              {"file", std::filesystem::path(path).filename().string()},
              {"matches", matches},
              {"left", Json::array()},
              {"missing", missing}};
}

void printPart(const Plan& plan, const ResultFile& file, std::size_t p, const std::string& run_name,
               const PartMatches& found) {
  std::printf("%s: %s\n", file.name.c_str(), run_name.c_str());
  for (const ResultMatch& m : found.matches) {
    const StatedResult& v = file.read.parts[p].values[m.value];
    const Requirement* r = plan.spec.requirements.find(m.requirement);
    std::printf("%5d  %-40s %12s  %s%s\n", v.line, calledIn(v).c_str(),
                v.actual ? figure(*v.actual, 4).c_str() : "-",
                r ? fmt::format("{} {}", r->balloon, describe(plan.spec, *r)).c_str()
                  : (m.coordinate_of.valid() ? "(coordinate)" : "-"),
                m.state() == MatchState::Waits ? "  ?" : "");
    for (const std::string& c : m.conflicts)
      std::printf("       %s\n", c.c_str());
  }
  for (const RequirementId id : found.missing) {
    const Requirement& r = plan.spec.requirement(id);
    std::printf("no value: %d %s\n", r.balloon, describe(plan.spec, r).c_str());
  }
}

Result<std::vector<FileKind>> kindsFor(const ResultsOptions& o, const Project& project) {
  if (o.kind.empty()) return project.brought.kinds;
  auto text = readFile(o.kind);
  if (!text) return pass(text.error());
  auto kind = fileKindFromText(*text, o.kind);
  if (!kind) return pass(kind.error());
  return std::vector<FileKind>{std::move(*kind)};
}

struct Answer {
  Json parts = Json::array(), files = Json::array();
  bool waits = false;
};

Done takeFile(const ResultsOptions& o, const std::string& path, Project& project, Answer& answer) {
  auto bytes = resultBytes(path);
  if (!bytes) return pass(bytes.error());
  if (isRunOfPoints(*bytes)) {
    auto part = ownRunAnswer(project.plan, *bytes, path);
    if (!part) return pass(part.error());
    answer.parts.push_back(std::move(*part));
    project.runs.push_back({std::filesystem::path(path).stem().string(), *bytes});
    return {};
  }
  const auto kinds = kindsFor(o, project);
  if (!kinds) return pass(kinds.error());
  auto file = o.kind.empty() ? readResultFile(std::move(*bytes), path, *kinds)
                             : readResultFile(std::move(*bytes), path, kinds->front());
  if (!file) return pass(file.error());
  if (file->kind.name.empty())
    file->kind.name = o.name.empty() ? std::filesystem::path(path).stem().string() : o.name;
  if (!o.kind_output.empty())
    if (auto done = writeFile(o.kind_output, toJson(file->kind).dump(1)); !done)
      return pass(done.error());
  std::vector<PartMatches> all;
  joinToRoutine(project.plan, project.qif, *file);
  const std::vector<std::string> names = runNamesFor(project, *file);
  for (std::size_t p = 0; p < file->read.parts.size(); ++p) {
    std::map<RequirementId, double> known;
    for (const StoredRun& run : project.runs)
      if (run.name == names[p])
        if (const auto measured = measurementsIn(run.csv, run.name, project.plan))
          known = knownFigures(project.plan.spec, brief(judgeAll(project.plan, *measured)));
    all.push_back(matchResults(project.plan.spec, file->read.parts[p], file->kind.name,
                               project.brought.decisions, std::move(known)));
    if (o.let_stand)
      for (ResultMatch& m : all.back().matches)
        letStand(m, true);
    answer.waits |= countsOf(all.back()).waiting > 0;
    answer.parts.push_back(partAnswer(project.plan, *file, p, names[p], all.back()));
    if (!o.json) printPart(project.plan, *file, p, names[p], all.back());
  }
  answer.files.push_back(fileAnswer(*file));
  if (!o.json && file->read.notRead() > 0)
    std::printf("%zu lines with figures were passed over.\n", file->read.notRead());
  apply(project, bringingIn(project, *file, all));
  return {};
}

} // namespace

Result<int> results(const ResultsOptions& o) {
  auto project = openProject(o.part);
  if (!project) return pass(project.error());
  Answer answer;
  for (const std::string& path : o.files)
    if (auto done = takeFile(o, path, *project, answer); !done) return pass(done.error());
  if (!o.output.empty())
    if (auto done = saveProject(*project, o.output); !done) return pass(done.error());
  if (o.json) print({{"parts", answer.parts}, {"files", answer.files}});
  return answer.waits ? 1 : 0;
}

} // namespace alder::batch
