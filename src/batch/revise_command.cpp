// A newer model or drawing beside a routine.
#include "answers.h"
#include "commands.h"

#include "exchange/routine/project.h"
#include "part/cad_process.h"
#include "plan/id_text.h"
#include "revision/read_drawing.h"
#include <cstdio>

namespace alder::batch {
namespace {

Json facesJson(const PartModel& part, const std::vector<FaceId>& faces) {
  Json json = Json::array();
  for (const FaceId f : faces)
    json.push_back(part.face(f).entity);
  return json;
}

Json entryJson(const Plan& plan, const Revision& revision, const RevisionEntry& e) {
  Json json{{"subject", name(e.subject)},
            {"fate", name(e.fate)},
            {"words", e.words},
            {"detail", e.detail},
            {"settled", e.settled}};
  json["faces_before"] = facesJson(*plan.part, e.before);
  json["faces_now"] = facesJson(*revision.part, e.now);
  json["features"] = Json::array();
  for (const FeatureId id : e.features)
    if (const NominalFeature* f = plan.spec.features.find(id)) json["features"].push_back(f->name);
  if (e.was) json["requirement"] = idText(e.was->id), json["balloon"] = e.was->balloon;
  return json;
}

} // namespace

Result<int> revise(const ReviseOptions& o) {
  auto project = openProject(o.routine);
  if (!project) return pass(project.error());
  if (o.part.empty() && o.drawing.empty())
    return fail("Name the newer model (--part), the newer drawing (--drawing), or both.");
  RevisionSources sources;
  if (!o.part.empty()) {
    auto part = importCadFileApart(o.part);
    if (!part) return pass(part.error());
    sources.part = *part;
  }
  const Plan& plan = project->plan;
  if (!o.drawing.empty()) {
    auto drawing =
        readRevisedDrawing(plan, sources.part ? *sources.part : *plan.part, o.drawing, o.replaces);
    if (!drawing) return fail("{}: {}", o.drawing, drawing.error().message);
    sources.drawings.push_back(std::move(*drawing));
  }
  const auto revision = revisionOf(plan, sources);
  if (!revision)
    return fail("{}: {}", o.part.empty() ? o.drawing : o.part, revision.error().message);
  if (o.json) {
    Json answer{
        {"stayed", revision->stayed}, {"notes", revision->notes}, {"entries", Json::array()}};
    for (const RevisionEntry& e : revision->entries)
      answer["entries"].push_back(entryJson(plan, *revision, e));
    print(answer);
  } else {
    for (const RevisionEntry& e : revision->entries)
      std::printf("%-12s %-8s %s%s\n", std::string(name(e.subject)).c_str(),
                  std::string(name(e.fate)).c_str(), e.words.c_str(),
                  e.detail.empty() ? "" : ("  (" + e.detail + ")").c_str());
    for (const std::string& note : revision->notes)
      std::printf("%s\n", note.c_str());
    std::printf("%zu requirements stay as they are\n", revision->stayed);
  }
  if (!o.output.empty()) {
    const auto group = revisedRoutine(
        plan, *revision, std::vector<Decision>(revision->entries.size(), Decision::Taken));
    if (!group) return pass(group.error());
    Project now = *project;
    if (auto done = applyEdits(now.plan, *group); !done) return pass(done.error());
    if (auto done = saveProject(now, o.output); !done) return pass(done.error());
  }
  return revision->entries.empty() ? 0 : 1;
}

} // namespace alder::batch
