// What a drawing asks for.
#include "answers.h"
#include "commands.h"

#include "base/files.h"
#include "base/units.h"
#include "drawing/accept.h"
#include "drawing/balloon_layout.h"
#include "part/cad_process.h"
#include "plan/id_text.h"
#include "requirement/from_pmi.h"
#include "requirement/general_tolerances.h"
#include "route/draft.h"
#include "sheet/sheet_file.h"
#include <cstdio>
#include <map>

namespace alder::batch {
namespace {

struct ReadDrawing {
  std::vector<DrawingSheet> sheets;
  DrawingReading reading;
};

Result<ReadDrawing> readDrawing(const std::string& path, const ReadingSettings& settings = {}) {
  auto bytes = readFile(path);
  if (!bytes) return pass(bytes.error());
  const auto pages = sheetsOf(*bytes, path);
  if (!pages) return pass(pages.error());
  auto sheets = readSheets(*bytes, path, 1, static_cast<int>(pages->size()));
  if (!sheets) return pass(sheets.error());
  ReadDrawing drawing{std::move(*sheets), {}};
  drawing.reading = readingOf(drawing.sheets, settings);
  return drawing;
}

std::string lettersOf(const DatumReference& d) {
  std::string letters;
  for (const std::string& l : d.letters)
    letters += (letters.empty() ? "" : "-") + l;
  return letters;
}

std::string modifierOf(MaterialModifier m) {
  return m == MaterialModifier::Maximum ? "M" : m == MaterialModifier::Least ? "L" : "";
}

Json figuresOf(const DrawingProposal& p) {
  Json json = Json::object();
  const Typed& t = p.typed.back();
  const Requirement& r = t.requirement;
  const auto shown = [&](double v) {
    return r.kind == Characteristic::Angle ? shownDegrees(v) : v;
  };
  json["count"] = t.count;
  json["kind"] = name(r.kind);
  json["zone"] = name(r.zone);
  json["modifier"] = modifierOf(r.material);
  json["datums"] = Json::array();
  for (const DatumReference& d : r.datums)
    json["datums"].push_back({{"letter", lettersOf(d)}, {"modifier", modifierOf(d.material)}});
  if (!isDimension(r.kind)) {
    json["tolerance"] = r.tolerance;
    return json;
  }
  json["nominal"] = t.nominal_open ? Json() : Json(shown(r.nominal));
  const bool limits = p.as == ProposedAs::Requirement && !t.limits_open && !t.nominal_open;
  json["lower"] = limits ? Json(shown(r.lower)) : Json();
  json["upper"] = limits ? Json(shown(r.upper)) : Json();
  if (!r.fit.empty()) json["fit"] = r.fit;
  return json;
}

Json proposalAnswer(const DrawingProposal& p) {
  const bool figures =
      p.as == ProposedAs::Requirement || p.as == ProposedAs::Basic || p.as == ProposedAs::Reference;
  Json json = figures ? figuresOf(p) : Json{{"kind", name(p.as)}};
  const Vec2 at = p.box.middle();
  json["page"] = p.page;
  json["x_mm"] = at.x(), json["y_mm"] = at.y();
  json["text"] = p.text;
  json["as"] = name(p.as);
  json["callout"] = p.callout;
  if (!p.says.empty()) json["says"] = p.says;
  if (!p.caption.empty()) json["caption"] = p.caption;
  if (p.as == ProposedAs::Datum) json["datums"] = {p.typed.front().words};
  return json;
}

std::vector<FaceId> facesOf(const Specification& spec, const Requirement& r) {
  std::vector<FaceId> faces;
  for (const FeatureId id : r.features)
    faces.insert(faces.end(), spec.feature(id).faces.begin(), spec.feature(id).faces.end());
  std::sort(faces.begin(), faces.end());
  return faces;
}

// Requirements of the model that say the same of the same faces; else as they would be taken over.
void tell(const PartModel& part, const ReadDrawing& drawing, const std::string& name,
          Json& proposals) {
  std::vector<Note> notes;
  const Specification model = specificationFromPmi(part, notes);
  const DrawingTies ties = tiesOf(drawing.reading, drawing.sheets, part);
  const AcceptedDrawing taken =
      acceptProposals(part, {}, drawing.reading, name, sureChoices(drawing.reading, ties));
  for (std::size_t i = 0; i < proposals.size(); ++i) {
    Json suggestions = Json::array();
    for (const FeatureSuggestion& s : ties.suggestions[i]) {
      Json faces = Json::array();
      for (const FaceId f : s.faces)
        faces.push_back(part.face(f).entity);
      suggestions.push_back({{"faces", faces}, {"why", s.why}, {"sure", s.sure}});
    }
    proposals[i]["suggestions"] = suggestions;
    proposals[i]["requirement"] = Json();
  }
  for (const AcceptedProposal& a : taken.taken)
    for (const RequirementId id : a.requirements) {
      const Requirement& r = taken.spec.requirement(id);
      proposals[a.proposal]["requirement"] = idText(id);
      for (const Requirement& m : model.requirements)
        if (describe(m) == describe(r) && facesOf(model, m) == facesOf(taken.spec, r))
          proposals[a.proposal]["requirement"] = idText(m.id);
      if (!a.remarks.empty()) proposals[a.proposal]["remarks"] = a.remarks;
    }
  for (const AcceptedProposal& a : taken.refused)
    proposals[a.proposal]["remarks"] = a.remarks;
}

void printOut(const DrawingReading& reading) {
  for (const DrawingProposal& p : reading.proposals)
    std::printf("page %d  %-16s %s%s%s\n", p.page, std::string(name(p.as)).c_str(),
                p.caption.empty() ? "" : (p.caption + ": ").c_str(), p.text.c_str(),
                p.says.empty() ? "" : ("  (" + p.says + ")").c_str());
}

} // namespace

Result<int> drawing(const DrawingOptions& o) {
  ReadingSettings settings;
  if (o.unit == "mm" || o.unit == "in")
    settings.unit = o.unit == "mm" ? LengthUnit::Millimetre : LengthUnit::Inch;
  else if (!o.unit.empty())
    return fail("--unit {}: say mm or in.", o.unit);
  auto read = readDrawing(o.file, settings);
  if (!read) return pass(read.error());
  PartPtr part;
  if (!o.part.empty()) {
    auto imported = importCadFileApart(o.part);
    if (!imported) return pass(imported.error());
    part = *imported;
  }
  if (!o.json) {
    printOut(read->reading);
    return 0;
  }
  Json proposals = Json::array();
  for (const DrawingProposal& p : read->reading.proposals)
    proposals.push_back(proposalAnswer(p));
  if (part) tell(*part, *read, std::filesystem::path(o.file).filename().string(), proposals);
  print({{"unit", read->reading.unit == LengthUnit::Inch ? "in" : "mm"},
         {"unit_from", read->reading.unit_from},
         {"general", read->reading.general ? alder::name(*read->reading.general) : std::string()},
         {"pages", read->sheets.size()},
         {"proposals", proposals}});
  return 0;
}

Result<int> balloons(const BalloonsOptions& o) {
  auto project = openProject(o.routine);
  if (!project) return pass(project.error());
  const Plan& plan = project->plan;
  if (plan.drawings.empty()) return fail("{}: the routine has no drawing.", o.routine);
  const DrawingFile* file = o.drawing.empty() ? &plan.drawings.front() : nullptr;
  for (const DrawingFile& d : plan.drawings)
    if (d.name == o.drawing) file = &d;
  if (!file) return fail("{}: the routine has no drawing {}.", o.routine, o.drawing);
  const auto pages = sheetsOf(*file->bytes, file->name);
  if (!pages) return pass(pages.error());
  const auto sheets = readSheets(*file->bytes, file->name, 1, static_cast<int>(pages->size()));
  if (!sheets) return pass(sheets.error());
  const Specification spec = withBalloons(plan.spec, file->name, *sheets);
  auto pdf = drawBalloons(*file->bytes, file->name, marksOf(spec, file->name, *sheets));
  if (!pdf) return pass(pdf.error());
  if (auto done = writeFile(o.output, *pdf); !done) return pass(done.error());
  return 0;
}

Result<Plan> begunFromDrawing(Plan begun, const std::string& path) {
  auto read = readDrawing(path);
  if (!read) return pass(read.error());
  const std::string file = std::filesystem::path(path).filename().string();
  const DrawingTies ties = tiesOf(read->reading, read->sheets, *begun.part);
  AcceptedDrawing taken = acceptProposals(*begun.part, begun.spec, read->reading, file,
                                          sureChoices(read->reading, ties));
  std::vector<bool> settled(read->reading.proposals.size());
  for (const AcceptedProposal& a : taken.taken) {
    settled[a.proposal] = true;
    for (const std::string& remark : a.remarks)
      begun.notes.push_back({0, read->reading.proposals[a.proposal].text + ": " + remark});
  }
  for (const AcceptedProposal& a : taken.refused) {
    settled[a.proposal] = true;
    begun.notes.push_back({0, read->reading.proposals[a.proposal].text + ": " + a.remarks.front()});
  }
  for (std::size_t i = 0; i < settled.size(); ++i) {
    const DrawingProposal& p = read->reading.proposals[i];
    if (settled[i]) continue;
    if (p.as == ProposedAs::Requirement || p.as == ProposedAs::Datum)
      begun.notes.push_back({0, p.text + ": its features are not sure; it was not taken over"});
    if (p.as == ProposedAs::NotUnderstood)
      begun.notes.push_back({0, fmt::format("{} on page {}: {}", p.text, p.page, p.says)});
  }
  if (!taken.taken.empty())
    std::erase_if(begun.notes, [](const Note& n) {
      return n.text == "the model holds no tolerances that can be read";
    });
  auto bytes = readFile(path);
  if (!bytes) return pass(bytes.error());
  begun.drawings.push_back({file, std::make_shared<const std::string>(std::move(*bytes))});
  return withSpecification(std::move(begun), std::move(taken.spec));
}

} // namespace alder::batch
