// ALDER_FUZZ=NAME alderpoint-fuzz CORPUS: feeds bytes to one of the readers. Each may answer with
// an error, never with a crash; what it takes must hold what the rest of the program counts on.
#include "base/files.h"
#include "drawing/accept.h"
#include "drawing/balloon_layout.h"
#include "exchange/clouds/cloud_file.h"
#include "exchange/dmis/dmis_reader.h"
#include "exchange/lists/requirement_list.h"
#include "exchange/points/points_file.h"
#include "exchange/points/sheet.h"
#include "exchange/qif/qif_file.h"
#include "exchange/results/bring_in.h"
#include "exchange/results/joined_results.h"
#include "exchange/routine/frames_file.h"
#include "exchange/routine/project.h"
#include "exchange/routine/recipe_json.h"
#include "exchange/routine/routine_template.h"
#include "exchange/routine/step_text.h"
#include "part/pmi/pmi_reader.h"
#include "part/step_text.h"
#include "plan/repeats/repeat.h"
#include "rehearse/defects.h"
#include "report/layout/layout_json.h"
#include "report/workbook/package.h"
#include "report/workbook/workbook_template.h"
#include "requirement/general_tolerances.h"
#include "run/dme_text.h"
#include "run/journal.h"
#include <cstdio>
#include <cstdlib>
#include <functional>

using namespace alder;

namespace {

// The demo part and its routine, read once.
const Project& heron() {
  static const Project project = [] {
    auto opened = openProject((dataFolder() / "demo" / "data" / "heron.alder").string());
    if (!opened) {
      std::fprintf(stderr, "%s\n", opened.error().message.c_str());
      std::abort();
    }
    return std::move(*opened);
  }();
  return project;
}

void mustHold(bool condition) {
  if (!condition) std::abort();
}

void readRoutine(const std::string& bytes) {
  const Json json = Json::parse(bytes, nullptr, false);
  if (json.is_discarded()) return;
  auto plan = planFromJson(json, "fuzz", heron().plan.part, heron().plan.bench);
  if (!plan) return;
  mustHold(validSteps(*plan).has_value());
  mustHold(validate(stepsDone(*plan).steps).has_value());
  (void)toJson(*plan);
}

void readMachineProgram(const std::string& bytes) {
  auto read = readDmis(bytes, "fuzz", heron().plan);
  if (!read) return;
  mustHold(validate(read->plan.steps).has_value());
  for (FeatureId id : measuringOrder(read->plan.steps))
    mustHold(id.valid() && static_cast<std::size_t>(id.value) < read->plan.features.size());
}

void readCloud(const std::string& bytes) {
  const auto read = readCloudBytes(bytes, "fuzz");
  if (!read) {
    mustHold(read.error().message.find('\n') == std::string::npos);
    return;
  }
  mustHold(!read->cloud.points.empty());
  mustHold(read->cloud.normals.empty() || read->cloud.normals.size() == read->cloud.points.size());
  for (const Vec3& p : read->cloud.points)
    mustHold(p.allFinite());
}

// As a plan with requirements, and as results; what was read can be written.
void readQifFile(const std::string& bytes) {
  auto read = readQif(bytes, "fuzz", heron().plan, ReadOnto::Routine);
  if (read) {
    mustHold(validSteps(read->plan).has_value());
    mustHold(isQif(qifDocument({read->plan, {}, {}, {}, read->qif}, {}).text));
  } else {
    mustHold(read.error().message.find('\n') == std::string::npos);
  }
  auto file = readResultFile(bytes, "fuzz.qif", std::vector<FileKind>{});
  if (!file || file->kind.name != "QIF") return;
  joinToRoutine(heron().plan, {}, *file);
  for (const ResultsOfPart& part : file->read.parts)
    mustHold(part.run.empty() || measurementsIn(part.run, "fuzz", heron().plan).has_value());
}

void readLine(const std::string& bytes) {
  const auto line = readDmeLine(bytes);
  if (!line) return;
  const auto again = readDmeLine(dmeText(*line));
  mustHold(again.has_value());
}

void readRun(const std::string& bytes) {
  auto journal = readJournal(bytes, "fuzz");
  if (!journal) return;
  for (const RunEvent& e : journal->events)
    mustHold(!journalLine(e).empty());
}

void readTemplate(const std::string& bytes) {
  const auto read = templateFromText(bytes, "fuzz");
  if (!read) return;
  mustHold(validate(read->opening).has_value() && validate(read->closing).has_value());
  mustHold(templateFromText(templateText(*read), "fuzz").has_value());
}

void readFrames(const std::string& bytes) {
  const Plan& plan = heron().plan;
  const auto read = framesFromText(bytes, "fuzz", plan);
  if (!read) return;
  for (const PartFrame& f : read->frames)
    mustHold(validate(f).has_value());
  const auto again = framesFromText(framesText(plan, *read), "fuzz", plan);
  mustHold(again.has_value() && again->frames == read->frames);
}

void readPlaces(const std::string& bytes) {
  const auto places = listedFromText(bytes);
  if (!places) return;
  Pattern pattern;
  pattern.kind = PatternKind::Listed;
  pattern.places = *places;
  if (validate(pattern)) mustHold(motionsOf(pattern).size() == places->size());
}

// What is read by a kind, proposed or given: every line told of, spans within it, figures figures;
// brought in and taken back the project is as before.
void readByKind(ResultFile file) {
  mustHold(file.read.lines.size() == file.text.lines.size());
  for (std::size_t i = 0; i < file.read.lines.size(); ++i)
    for (const ReadSpan& s : file.read.lines[i].spans)
      mustHold(s.from <= s.to && s.to <= file.text.lines[i].size());
  const auto& spec = heron().plan.spec;
  std::vector<PartMatches> all;
  file.kind.name = "fuzz";
  for (const ResultsOfPart& p : file.read.parts) {
    for (const StatedResult& v : p.values)
      mustHold(v.actual.has_value() && v.line > 0);
    if (p.values.size() > 200) return; // as many tell nothing more
    all.push_back(matchResults(spec, p, "fuzz", {}));
    for (const ResultMatch& m : all.back().matches)
      mustHold(!m.requirement.valid() || spec.requirements.holds(m.requirement));
  }
  Project project{heron().plan, {}, {}};
  const ResultsEdit back = apply(project, bringingIn(project, file, all));
  for (const StoredRun& r : project.runs)
    mustHold(measurementsIn(r.csv, "fuzz", project.plan).has_value());
  apply(project, back);
  mustHold(project.runs.empty() && project.brought.empty());
}

void readResultsOfOthers(const std::string& bytes) {
  auto file = readResultFile(bytes, "fuzz", std::vector<FileKind>{});
  if (!file) return;
  if (!file->fixed) {
    const auto again = fileKindFromText(
        toJson(file->kind).dump(-1, ' ', false, Json::error_handler_t::replace), "fuzz");
    mustHold(again.has_value());
  }
  readByKind(std::move(*file));
}

// A kind as somebody else wrote it, used on a text.
void readKind(const std::string& bytes) {
  const auto kind = fileKindFromText(bytes, "fuzz");
  if (!kind) return;
  auto file = readResultFile("Serial: 7\n1  Bore  32.000  32.011  0.025  0.000\nName: Pin\n"
                             "Soll 8,000; Ist 8,004;;\nx\t1\t2\n",
                             "fuzz", *kind);
  if (file) readByKind(std::move(*file));
}

// A sheet as alderpoint-sheet hands it over; the drawing itself is read by libraries.
void readDrawing(const std::string& bytes) {
  const auto sheets = sheetsFromBytes(bytes);
  if (!sheets) return;
  const DrawingReading reading = readingOf(*sheets);
  for (const DrawingProposal& p : reading.proposals) {
    const bool typed =
        p.as != ProposedAs::Note && p.as != ProposedAs::Title && p.as != ProposedAs::NotUnderstood;
    mustHold(!typed || !p.typed.empty());
  }
  const DrawingTies ties = tiesOf(reading, *sheets, *heron().plan.part);
  mustHold(ties.suggestions.size() == reading.proposals.size());
  const AcceptedDrawing taken =
      acceptProposals(*heron().plan.part, {}, reading, "fuzz", sureChoices(reading, ties));
  (void)marksOf(withBalloons(taken.spec, "fuzz", *sheets), "fuzz", *sheets);
}

// A list as somebody's table, and each line of it as typed text and as a table of tolerances.
void readList(const std::string& bytes) {
  if (const auto text = resultText(bytes, "fuzz"))
    if (const auto list = requirementList(*text, "fuzz"))
      for (const ListedRequirement& row : list->rows)
        mustHold(row.typed.empty() == !row.fault.empty());
  if (const auto rows = generalRows(bytes)) mustHold(generalRows(textOf(*rows)).has_value());
  for (const Typing& typing : {typedText(bytes), typedText(bytes, {{}, {}, true})})
    if (!typing) mustHold(!typing.error().says.empty());
}

// A sheet of somebody's workbook, in a whole one; what is written is a sheet again.
void readWorkbook(const std::string& bytes) {
  static const std::string kSheet = "xl/worksheets/sheet1.xml";
  static const Package whole = *Package::open(
      *readFile(dataFolder() / "tests" / "data" / "workbooks" / "openpyxl.xlsx"), "fuzz");
  static const ReportModel model = reportOf(heron().plan, std::vector<Evaluation>{});
  Package workbook = whole;
  workbook.replace(kSheet, bytes);
  const auto filled = filledWorkbook(*workbook.packed(), "fuzz", model, heron().plan);
  if (!filled) {
    mustHold(filled.error().message.find('\n') == std::string::npos);
    return;
  }
  const auto again = Package::open(filled->bytes, "fuzz");
  mustHold(again.has_value() && again->read(kSheet).has_value());
}

void readLayout(const std::string& bytes) {
  const auto layout = layoutFrom(bytes, "fuzz");
  if (!layout) return;
  const auto again = layoutFrom(layoutText(*layout), "fuzz");
  mustHold(again.has_value() && *again == *layout);
}

struct Reader {
  const char* name;
  std::function<void(const std::string&)> read;
};
const std::vector<Reader>& readers() {
  static const std::vector<Reader> all{
      {"csv", [](const std::string& b) { (void)measurementsIn(b, "fuzz", heron().plan); }},
      {"sheet", [](const std::string& b) { (void)readSheet(b, "fuzz"); }},
      {"bench", [](const std::string& b) { (void)readBench(b, "fuzz"); }},
      {"defects", [](const std::string& b) { (void)readDefects(b, "fuzz", heron().plan); }},
      {"journal", readRun},
      {"protocol", readLine},
      {"dmis", readMachineProgram},
      {"routine", readRoutine},
      {"template", readTemplate},
      {"places", readPlaces},
      {"frames", readFrames},
      {"results", readResultsOfOthers},
      {"clouds", readCloud},
      {"qif", readQifFile},
      {"kinds", readKind},
      {"drawing", readDrawing},
      {"list", readList},
      {"workbook", readWorkbook},
      {"layout", readLayout},
      {"recipes", [](const std::string& b) { (void)bookFromText(b, "fuzz"); }},
      {"steps", [](const std::string& b) { (void)stepsFromText(b, heron().plan); }},
      {"step",
       [](const std::string& b) {
         const auto text = StepText::parse(plainStep(b).bytes);
         if (!text) return;
         for (const std::string& type : text->typesEndingWith("_TOLERANCE"))
           for (const int id : text->ofType(type))
             mustHold(text->instance(id) != nullptr);
         std::vector<Note> notes;
         (void)readPmi(
             *text, [](int id) { return std::vector<FaceId>{FaceId{id % 7}}; }, notes);
       }},
  };
  return all;
}

const Reader& chosen() {
  static const Reader& reader = [&]() -> const Reader& {
    const char* wanted = std::getenv("ALDER_FUZZ");
    for (const Reader& r : readers())
      if (wanted && std::string(wanted) == r.name) return r;
    std::fprintf(stderr, "ALDER_FUZZ names none of the readers:");
    for (const Reader& r : readers())
      std::fprintf(stderr, " %s", r.name);
    std::fprintf(stderr, "\n");
    std::exit(2);
  }();
  return reader;
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size) {
  chosen().read(std::string(reinterpret_cast<const char*>(data), size));
  return 0;
}
