#include "exchange/clouds/cloud_run.h"

#include "base/hash.h"
#include "exchange/points/cloud_head.h"
#include "exchange/points/points_file.h"
#include <algorithm>
#include <filesystem>

namespace alder {
namespace {

const StoredRun* runNamed(const Project& project, const std::string& name) {
  const auto run = std::find_if(project.runs.begin(), project.runs.end(),
                                [&](const StoredRun& r) { return r.name == name; });
  return run == project.runs.end() ? nullptr : &*run;
}

std::string fitWords(const Plan& plan, const CloudSettings& settings) {
  if (!settings.datums.valid()) return std::string(name(settings.fit));
  const Requirement* r = plan.spec.requirements.find(settings.datums);
  return r ? fmt::format("datums of {}", r->balloon) : std::string("datums");
}

} // namespace

std::string cloudRunText(const Plan& plan, const PlacedCloud& placed, const CloudFile& file,
                         const std::string& unit, const CloudSettings& settings) {
  const Measurements measured = measurementsOf(plan, placed.gathered);
  CloudHead head;
  head.file = file.name, head.hash = file.hash, head.form = file.form, head.unit = unit;
  head.fit = fitWords(plan, settings);
  head.points = placed.points, head.used = placed.gathered.used(), head.rms = placed.gathered.rms;
  head.edge = settings.gather.edge, head.reach = settings.gather.reach;
  head.placement = placed.placement;
  for (const auto& [id, m] : measured)
    head.from[id] = tallyOf(plan.nominal(id), placed.gathered).used;
  const std::string body = cloudLine(head) + placesText(plan, measured);
  // The same cloud placed alike is the same run wherever it is brought in.
  return "# run: " + hashText(hashOfLong(body)) + "\n" + body;
}

std::string cloudRunName(const Project& project, const std::string& file,
                         const std::string& asked) {
  std::string wanted;
  for (const char c : asked.empty() ? std::filesystem::path(file).stem().string() : asked)
    wanted += std::isalnum(static_cast<unsigned char>(c)) || c == '-' || c == '_' ? c : '-';
  if (wanted.empty()) wanted = "cloud";
  const auto free = [&](const std::string& name) {
    const StoredRun* run = runNamed(project, name);
    return !run || !holdsPoints(run->csv) || cloudHeadIn(run->csv);
  };
  std::string name = wanted;
  for (int k = 2; !free(name); ++k)
    name = fmt::format("{}-{}", wanted, k);
  return name;
}

ResultsEdit bringingInCloud(const Project& project, const std::string& csv, const std::string& file,
                            const std::string& run_name) {
  ResultsEdit edit{"Bring in " + file, {}, {}, project.brought};
  StoredRun run{run_name, csv};
  if (const StoredRun* before = runNamed(project, run_name)) {
    run.csv = withStated(csv, statedIn(before->csv));
    run.operated_by = before->operated_by;
  }
  edit.replaced.push_back({run_name, std::move(run)});
  return edit;
}

} // namespace alder
