// Reports of measured parts by a layout: of one, or of many in one go.
#include "commands.h"

#include "base/files.h"
#include "exchange/routine/project.h"
#include "exchange/runs/report_source.h"
#include "exchange/runs/run_output.h"
#include "report/report_file.h"
#include <algorithm>
#include <cstdio>
#include <filesystem>
#include <set>

namespace alder::batch {
namespace {

struct MeasuredPart {
  std::string name, csv, operated_by;
};

// Files of points, else the runs that the routine keeps.
Result<std::vector<MeasuredPart>> partsFor(const Project& project, const ReportOptions& o) {
  std::vector<MeasuredPart> parts;
  for (const std::string& path : o.points) {
    auto text = readFile(path);
    if (!text) return pass(text.error());
    parts.push_back({std::filesystem::path(path).stem().string(), std::move(*text), ""});
  }
  if (o.points.empty())
    for (const StoredRun& run : project.runs)
      parts.push_back({run.name, run.csv, run.operated_by});
  if (parts.empty()) return fail("The routine holds no run yet; name files of points.");
  return parts;
}

} // namespace

Result<int> report(const ReportOptions& o) {
  auto project = openProject(o.routine);
  if (!project) return pass(project.error());
  const Plan& plan = project->plan;
  const auto form = reportForm(plan, o.layout);
  if (!form) return pass(form.error());
  const auto parts = partsFor(*project, o);
  if (!parts) return pass(parts.error());
  const auto setter = TextSetter::create();
  if (!setter) return pass(setter.error());
  // All names first, so that none is written where two parts would share one.
  std::vector<std::string> targets;
  for (const MeasuredPart& part : *parts) {
    const std::string target =
        outputName({OutputKind::Report, o.output}, plan.name,
                   {{{}, "serial", part.name, QuestionRole::SerialNumber}}, 0);
    if (std::find(targets.begin(), targets.end(), target) != targets.end())
      return fail("{}: two parts would be written to it; put {{serial}} into the name.", target);
    targets.push_back(target);
  }
  ReportSource source;
  std::set<std::string> told;
  int outside = 0;
  for (std::size_t i = 0; i < parts->size(); ++i) {
    const MeasuredPart& part = (*parts)[i];
    auto of_part = reportSource(plan, part.csv, part.name);
    if (!of_part) return pass(of_part.error());
    of_part->parts = std::move(source.parts);
    source = std::move(*of_part);
    source.operated_by = part.operated_by;
    source.parts.push_back({part.name, "", brief(source.evaluations), {}});
    const ReportModel model = reportOf(plan, source);
    outside += model.outside > 0;
    const auto file = reportFile(targets[i], *form, model, plan, **setter);
    if (!file) return pass(file.error());
    if (auto done = writeFile(targets[i], file->bytes); !done) return pass(done.error());
    std::printf("%s\n", targets[i].c_str());
    for (const std::string& line : file->told)
      if (told.insert(line).second)
        std::fprintf(stderr, "%s: %s\n", targets[i].c_str(), line.c_str());
  }
  return outside > 0 ? 1 : 0;
}

} // namespace alder::batch
