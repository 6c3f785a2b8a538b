// A point cloud placed on the part of a routine and judged.
#include "answers.h"
#include "commands.h"
#include "judge/judge.h"

#include "base/files.h"
#include "exchange/clouds/cloud_run.h"
#include "plan/id_text.h"
#include <cstdio>

namespace alder::batch {
namespace {

Result<RequirementId> datumsOf(const Plan& plan, const std::string& name) {
  for (const Requirement& r : plan.spec.requirements)
    if (name == idText(r.id) || name == std::to_string(r.balloon)) return r.id;
  return fail("--fit datums:{}: there is no such requirement; give its balloon number.", name);
}

Result<CloudSettings> settingsOf(const Plan& plan, const CloudOptions& o) {
  CloudSettings settings;
  settings.gather.edge = o.edge, settings.gather.reach = o.reach, settings.gather.cell = o.cell;
  if (!(o.edge >= 0) || !(o.reach > 0) || !(o.cell >= 0))
    return fail("--edge and --cell must not be negative, --reach must be more than 0.");
  constexpr std::string_view kDatums = "datums:";
  if (o.fit.starts_with(kDatums)) {
    auto id = datumsOf(plan, o.fit.substr(kDatums.size()));
    if (!id) return pass(id.error());
    settings.datums = *id;
  } else if (const auto fit = cloudFitNamed(o.fit)) {
    settings.fit = *fit;
  } else {
    return fail("--fit {}: say ls, worst, or datums: with the balloon of a requirement.", o.fit);
  }
  return settings;
}

// The points in mm. Where neither the file nor a person says the unit, one that does not look like
// mm is asked for.
Result<std::string> scaled(const Plan& plan, const CloudOptions& o, CloudFile& file) {
  CloudUnit unit{"mm", 1};
  if (!o.unit.empty()) {
    const auto named = cloudUnitNamed(o.unit);
    if (!named) return fail("--unit {}: say mm, in, m, cm or um.", o.unit);
    unit = *named;
  } else if (file.unit) {
    unit = *file.unit;
  } else if (plan.part) {
    const Box3 box = file.cloud.box(), part = plan.part->mesh.box();
    if (const auto likely = likelyUnit(box, part); likely && likely->name != "mm")
      return fail("{}: spans {:.4g} where the part spans {:.4g} mm: is its unit \"{}\"? Say "
                  "--unit {}, or --unit mm.",
                  file.name, box.sizes().norm(), part.sizes().norm(), likely->name, likely->name);
  }
  if (unit.mm != 1)
    for (Vec3& p : file.cloud.points)
      p *= unit.mm;
  return std::string(unit.name);
}

Json answer(const Plan& plan, const std::vector<Evaluation>& evaluations, const CloudFile& file,
            const std::string& unit, const PlacedCloud& placed) {
  Json json = judgeAnswer(plan, evaluations);
  Json placement = Json::array(), features = Json::array(), remarks = file.notes;
  for (int i = 0; i < 4; ++i) {
    Json row = Json::array();
    for (int j = 0; j < 4; ++j)
      row.push_back(placed.placement.matrix()(i, j));
    placement.push_back(row);
  }
  for (const std::string& r : placed.remarks)
    remarks.push_back(r);
  for (const auto& [id, m] : measurementsOf(plan, placed.gathered)) {
    const FaceTally t = tallyOf(plan.nominal(id), placed.gathered);
    features.push_back({{"feature", idText(id)},
                        {"name", plan.nominal(id).name},
                        {"points", t.used},
                        {"places", m.points.size()},
                        {"cell_mm", t.cell},
                        {"noise", t.noise},
                        {"place_noise", t.place_noise},
                        {"at_edges", t.at_edges},
                        {"far", t.far + t.askew},
                        {"outliers", t.outliers}});
  }
  json["placement"] = placement;
  json["rms"] = placed.gathered.rms;
  json["file"] = file.name;
  json["form"] = file.form;
  json["hash"] = file.hash;
  json["unit"] = unit;
  json["points"] = placed.points;
  json["used"] = placed.gathered.used();
  json["remarks"] = remarks;
  json["features"] = features;
  return json;
}

void printOut(const Plan& plan, const std::vector<Evaluation>& evaluations, const CloudFile& file,
              const PlacedCloud& placed) {
  std::printf("%s (%s): %zu points, %zu used, rms %.4f mm\n", file.name.c_str(), file.form.c_str(),
              placed.points, placed.gathered.used(), placed.gathered.rms);
  for (const std::string& note : file.notes)
    std::printf("%s\n", note.c_str());
  for (const std::string& remark : placed.remarks)
    std::printf("%s\n", remark.c_str());
  printVerdicts(plan, evaluations);
}

} // namespace

Result<int> cloud(const CloudOptions& o) {
  auto project = openProject(o.part);
  if (!project) return pass(project.error());
  const Plan& plan = project->plan;
  const auto settings = settingsOf(plan, o);
  if (!settings) return pass(settings.error());
  auto file = readCloudFile(o.file);
  if (!file) return pass(file.error());
  const auto unit = scaled(plan, o, *file);
  if (!unit) return pass(unit.error());
  const auto placed = placeCloud(plan, file->cloud, *settings, {});
  if (!placed) return fail("{}: {}", file->name, placed.error().message);
  const auto evaluations = judgeAll(plan, measurementsOf(plan, placed->gathered));
  if (!o.output.empty() || !o.points.empty()) {
    const std::string csv = cloudRunText(plan, *placed, *file, *unit, *settings);
    if (!o.points.empty())
      if (auto done = writeFile(o.points, csv); !done) return pass(done.error());
    if (!o.output.empty()) {
      apply(*project,
            bringingInCloud(*project, csv, file->name, cloudRunName(*project, file->name, o.name)));
      if (auto done = saveProject(*project, o.output); !done) return pass(done.error());
    }
  }
  if (o.json)
    print(answer(plan, evaluations, *file, *unit, *placed));
  else
    printOut(plan, evaluations, *file, *placed);
  return anyOutside(evaluations) ? 1 : 0;
}

} // namespace alder::batch
