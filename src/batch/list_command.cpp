// Requirements from a table of others.
#include "answers.h"
#include "commands.h"

#include "base/files.h"
#include "exchange/lists/take_list.h"
#include "exchange/routine/project.h"
#include "part/cad_process.h"
#include "plan/id_text.h"
#include "route/draft.h"
#include "route/new_feature.h"
#include <cstdio>
#include <filesystem>

namespace alder::batch {
namespace {

// A routine as it is, or one that begins from a model.
Result<Project> projectFor(const std::string& path) {
  if (path.ends_with(".alder")) return openProject(path);
  auto part = importCadFileApart(path);
  if (!part) return pass(part.error());
  auto bench = defaultBench();
  if (!bench) return pass(bench.error());
  return Project{beginPlan(*part, std::move(*bench)), {}, {}};
}

Result<Plan> withList(const Plan& plan, const Specification& wanted) {
  if (plan.steps.empty()) return completePlan(withSpecification(plan, wanted));
  auto found = planSpecification(plan, obstaclesOf(plan), wanted);
  if (!found) return pass(found.error());
  Plan now = plan;
  if (auto done = applyEdits(now, {"Take the list", found->edits}); !done)
    return pass(done.error());
  return now;
}

} // namespace

Result<int> list(const ListOptions& o) {
  const std::string label = std::filesystem::path(o.file).filename().string();
  auto bytes = resultBytes(o.file);
  if (!bytes) return pass(bytes.error());
  const auto text = resultText(*bytes, label);
  if (!text) return pass(text.error());
  auto project = projectFor(o.part);
  if (!project) return pass(project.error());
  TypingSettings settings;
  settings.standard = project->plan.spec.standard;
  if (o.unit == "in") settings.unit = LengthUnit::Inch;
  if (!o.unit.empty() && o.unit != "in" && o.unit != "mm") return fail("--unit: mm or in.");
  const auto read = requirementList(*text, label, settings);
  if (!read) return pass(read.error());
  const TakenList taken = takeList(*project->plan.part, project->plan.spec, *read, label);
  if (o.json) {
    Json answer{{"rows", read->rows.size()}, {"taken", taken.taken.size()},
                {"tied", taken.tied},        {"passed", read->passed},
                {"notes", taken.notes},      {"requirements", Json::array()}};
    for (const RequirementId id : taken.taken) {
      const Requirement& r = taken.spec.requirement(id);
      Json one{{"id", idText(id)},
               {"balloon", r.balloon},
               {"kind", name(r.kind)},
               {"text", describe(taken.spec, r)},
               {"key", r.key},
               {"sheet_zone", r.sheet_zone},
               {"features", Json::array()},
               {"suggestions", Json::array()}};
      for (const FeatureId f : r.features)
        one["features"].push_back(taken.spec.feature(f).name);
      if (r.features.empty())
        for (const FeatureSuggestion& s : suggestionsFor(*project->plan.part, taken.spec, r)) {
          Json faces = Json::array();
          for (const FaceId f : s.faces)
            faces.push_back(project->plan.part->face(f).entity);
          one["suggestions"].push_back({{"faces", faces}, {"why", s.why}});
        }
      answer["requirements"].push_back(std::move(one));
    }
    print(answer);
  } else {
    for (const RequirementId id : taken.taken) {
      const Requirement& r = taken.spec.requirement(id);
      std::printf("%3d  %-44s %s\n", r.balloon, describe(taken.spec, r).c_str(),
                  r.features.empty() ? "waits for its features"
                                     : taken.spec.feature(r.features.front()).name.c_str());
    }
    for (const std::string& note : taken.notes)
      std::printf("%s\n", note.c_str());
    for (const int line : read->passed)
      std::printf("%s line %d: passed over, it holds no figure\n", label.c_str(), line);
  }
  if (!o.output.empty()) {
    auto plan = withList(project->plan, taken.spec);
    if (!plan) return pass(plan.error());
    for (const std::string& note : taken.notes)
      plan->notes.push_back({0, note});
    project->plan = std::move(*plan);
    if (auto done = saveProject(*project, o.output); !done) return pass(done.error());
  }
  return taken.taken.size() == read->rows.size() ? 0 : 1;
}

} // namespace alder::batch
