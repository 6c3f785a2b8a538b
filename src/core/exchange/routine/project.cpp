#include "exchange/routine/project.h"

#include "part/cad_kind.h"
#include "part/cad_process.h"

#include "base/files.h"
#include "base/hash.h"
#include "report/approval_state.h"
#include <algorithm>
#include <memory>
#include <zip.h>

namespace alder {
namespace {

struct ZipDiscard {
  void operator()(zip_t* z) const { zip_discard(z); }
};
using ZipPtr = std::unique_ptr<zip_t, ZipDiscard>;

Result<std::string> entry(zip_t* zip, const std::string& name, const std::string& path) {
  zip_stat_t stat;
  zip_stat_init(&stat);
  if (zip_stat(zip, name.c_str(), 0, &stat) != 0 || !(stat.valid & ZIP_STAT_SIZE))
    return fail("{}: {} is missing inside; restore a copy of the file.", path, name);
  if (stat.size > (1ull << 31)) return fail("{}: {} inside is too large.", path, name);
  std::string bytes(stat.size, '\0');
  zip_file_t* file = zip_fopen(zip, name.c_str(), 0);
  const auto read = file ? zip_fread(file, bytes.data(), bytes.size()) : -1;
  const bool intact = file && zip_fclose(file) == 0; // checks the sum
  if (!intact || read != static_cast<zip_int64_t>(bytes.size()))
    return fail("{}: {} inside is damaged; restore a copy of the file.", path, name);
  return bytes;
}

bool isShown(const Plan& plan, const std::string& picture) {
  return std::any_of(plan.steps.begin(), plan.steps.end(), [&](const RoutineStep& s) {
    const std::string* shown = pictureIn(s.body);
    return shown && *shown == picture;
  });
}

// What is known of a run beside its points; nothing where the file holds nothing.
Done readBeside(zip_t* zip, const std::string& name, const std::string& path, StoredRun& run) {
  if (zip_name_locate(zip, name.c_str(), 0) < 0) return {};
  auto text = entry(zip, name, path);
  if (!text) return pass(text.error());
  const std::string label = path + " (" + name + ")";
  auto json = parseJson(*text, label);
  if (!json) return pass(json.error());
  const JsonFields f(*json, label);
  for (const auto& item : f.list("judged"))
    run.then.push_back(readResult(item));
  run.operated_by = f.text("operator", "");
  if (f.has("kept")) run.kept = readKeptVerdicts(f.object("kept"));
  return f.done();
}

// Files of results, their kinds and what was decided of them.
Done readBroughtIn(zip_t* zip, const std::string& path, BroughtResults& brought) {
  if (zip_name_locate(zip, "results.json", 0) < 0) return {};
  auto text = entry(zip, "results.json", path);
  if (!text) return pass(text.error());
  const std::string label = path + " (results.json)";
  auto json = parseJson(*text, label);
  if (!json) return pass(json.error());
  const JsonFields f(*json, label);
  brought = readBrought(f);
  if (auto done = f.done(); !done) return pass(done.error());
  for (KeptResultFile& file : brought.files) {
    auto bytes = entry(zip, entryNameOf(file), path);
    if (!bytes) return pass(bytes.error());
    file.bytes = std::make_shared<const std::string>(std::move(*bytes));
  }
  return {};
}

Done readQifKept(zip_t* zip, const std::string& path, KeptQif& kept) {
  if (zip_name_locate(zip, "qif.json", 0) < 0) return {};
  auto text = entry(zip, "qif.json", path);
  if (!text) return pass(text.error());
  const std::string label = path + " (qif.json)";
  auto json = parseJson(*text, label);
  if (!json) return pass(json.error());
  const JsonFields f(*json, label);
  kept = readKeptQif(f);
  return f.done();
}

} // namespace

// What is measured, how, and how it is judged; not what is said of the part beside it.
static Json measuring(const Plan& plan) {
  Json routine = toJson(plan);
  for (const char* beside :
       {"drawings", "header", "layouts", "first_article", "approvals", "views"})
    routine.erase(beside);
  return routine;
}

// The CAD file as given; what it is named says which kind it is of.
std::string partEntry(const PartModel& part) {
  const auto kind = cadKindOf(part.bytes);
  return "part" + std::string(ending(kind.value_or(CadKind::Step)));
}

// As the routine has it: files of before bodies could be left out take them all.
BodyChoice choiceOf(const Json& routine) {
  BodyChoice choice{std::vector<int>{}};
  if (const auto left = routine.find("left_out_bodies"); left != routine.end() && left->is_array())
    for (const Json& body : *left)
      if (body.is_number_integer()) choice.left_out->push_back(body.get<int>());
  return choice;
}

Result<PartPtr> partIn(zip_t* zip, const Json& routine, const std::string& path,
                       const Progress& progress) {
  for (const CadKind kind : {CadKind::Iges, CadKind::Brep}) {
    const std::string name = "part" + std::string(ending(kind));
    if (zip_name_locate(zip, name.c_str(), 0) < 0) continue;
    auto bytes = entry(zip, name, path);
    if (!bytes) return pass(bytes.error());
    return importCadApart(std::move(*bytes), path + " (" + name + ")", progress, choiceOf(routine));
  }
  auto step = entry(zip, "part.step", path);
  if (!step) return pass(step.error());
  return importCadApart(std::move(*step), path + " (part.step)", progress, choiceOf(routine));
}

std::string routineKey(const Plan& plan) {
  return hashText(hashOf(plan.bench.json, hashOf(measuring(plan).dump())));
}

std::string routineDigest(const Plan& as_it_is) {
  // Which of the set-ups is being worked on does not count.
  const Plan plan = inSetup(as_it_is, firstSetup(as_it_is));
  Json routine = measuring(plan);
  for (const char* later : {"qualified", "notes"})
    routine.erase(later);
  return sha256(routine.dump() + plan.bench.json + plan.part->bytes);
}

Done saveProject(const Project& project, const std::string& path) {
  Json routine = toJson(project.plan);
  routine["ids_given"] = idsGivenJson(project.plan);
  keepUnknown(project.unknown, routine);
  std::vector<std::pair<std::string, std::string>> entries{
      {"routine.json", routine.dump(1)},
      {"bench.json", project.plan.bench.json},
      {partEntry(*project.plan.part), project.plan.part->bytes}};
  for (const StepPicture& picture : project.plan.pictures)
    if (isShown(project.plan, picture.name))
      entries.emplace_back("pictures/" + picture.name, *picture.bytes);
  for (const DrawingFile& drawing : project.plan.drawings)
    if (drawing.bytes) entries.emplace_back("drawings/" + drawing.name, *drawing.bytes);
  for (std::size_t i = 0; i < project.plan.layouts.size(); ++i)
    entries.emplace_back(layoutEntry(i, project.plan.layouts[i].isWorkbook()),
                         project.plan.layouts[i].text);
  for (const AttachedDocument& d : project.plan.header.documents)
    if (d.bytes) entries.emplace_back("documents/" + d.name, *d.bytes);
  for (const StoredRun& run : project.runs) {
    entries.emplace_back("runs/" + run.name + ".csv", run.csv);
    if (run.then.empty() && run.operated_by.empty() && run.kept.all.empty()) continue;
    Json then = Json::array();
    for (const ResultRecord& r : run.then)
      then.push_back(toJson(r));
    Json beside{{"judged", then}, {"operator", run.operated_by}};
    if (!run.kept.all.empty()) beside["kept"] = toJson(run.kept);
    entries.emplace_back("runs/" + run.name + ".json", beside.dump(1));
  }

  if (!project.brought.empty()) {
    entries.emplace_back("results.json", toJson(project.brought).dump(1));
    for (const KeptResultFile& f : project.brought.files)
      if (f.bytes) entries.emplace_back(entryNameOf(f), *f.bytes);
  }
  if (!project.qif.empty()) entries.emplace_back("qif.json", toJson(project.qif).dump(1));

  zip_error_t error;
  zip_error_init(&error);
  zip_source_t* target = zip_source_buffer_create(nullptr, 0, 0, &error);
  zip_t* zip = target ? zip_open_from_source(target, ZIP_TRUNCATE, &error) : nullptr;
  if (!zip) return fail("{}: cannot be packed.", path);
  zip_source_keep(target);
  for (const auto& [name, bytes] : entries) {
    zip_source_t* source = zip_source_buffer(zip, bytes.data(), bytes.size(), 0);
    const auto index = zip_file_add(zip, name.c_str(), source, ZIP_FL_OVERWRITE | ZIP_FL_ENC_UTF_8);
    // a fixed time, so that the same plan gives the same bytes
    if (index >= 0) zip_file_set_mtime(zip, static_cast<zip_uint64_t>(index), 315532800 + 86400, 0);
  }
  if (zip_close(zip) != 0) {
    zip_discard(zip);
    zip_source_free(target);
    return fail("{}: cannot be packed.", path);
  }
  zip_stat_t stat;
  zip_source_stat(target, &stat);
  std::string bytes(stat.size, '\0');
  zip_source_open(target);
  zip_source_read(target, bytes.data(), bytes.size());
  zip_source_close(target);
  zip_source_free(target);
  return writeFile(path, bytes);
}

Result<Project> openProject(const std::string& path, const Progress& progress) {
  auto bytes = readFile(path);
  if (!bytes) return pass(bytes.error());
  int code = 0;
  const ZipPtr zip(zip_open(path.c_str(), ZIP_RDONLY, &code));
  if (!zip)
    return fail("{}: is not an Alderpoint project or is damaged; restore a copy of the file.",
                path);
  auto routine_text = entry(zip.get(), "routine.json", path);
  if (!routine_text) return pass(routine_text.error());
  auto routine = parseJson(*routine_text, path + " (routine.json)");
  if (!routine) return pass(routine.error());
  auto bench_text = entry(zip.get(), "bench.json", path);
  if (!bench_text) return pass(bench_text.error());
  auto bench = readBench(*bench_text, path + " (bench.json)");
  if (!bench) return pass(bench.error());
  auto part = partIn(zip.get(), *routine, path, progress);
  if (!part) return pass(part.error());
  auto plan = planFromJson(*routine, path + " (routine.json)", *part, std::move(*bench));
  if (!plan) return pass(plan.error());
  // What it does know may be removed since, and must not come back when the file is written.
  Json known = toJson(*plan);
  known["ids_given"] = Json();
  Project project{std::move(*plan), {}, onlyUnknown(*routine, known)};
  if (auto done = readBroughtIn(zip.get(), path, project.brought); !done) return pass(done.error());
  if (auto done = readQifKept(zip.get(), path, project.qif); !done) return pass(done.error());
  const auto count = zip_get_num_entries(zip.get(), 0);
  for (zip_int64_t i = 0; i < count; ++i) {
    const std::string name = zip_get_name(zip.get(), static_cast<zip_uint64_t>(i), 0);
    if (name.starts_with("pictures/")) {
      auto bytes_of = entry(zip.get(), name, path);
      if (!bytes_of) return pass(bytes_of.error());
      StepPicture picture{name.substr(9),
                          std::make_shared<const std::string>(std::move(*bytes_of))};
      if (auto good = validate(picture); !good) return fail("{}: {}", path, good.error().message);
      project.plan.pictures.push_back(std::move(picture));
    }
    if (name.starts_with("drawings/")) {
      auto bytes_of = entry(zip.get(), name, path);
      if (!bytes_of) return pass(bytes_of.error());
      for (DrawingFile& d : project.plan.drawings)
        if (d.name == name.substr(9))
          d.bytes = std::make_shared<const std::string>(std::move(*bytes_of));
    }
    if (name.starts_with("layouts/")) {
      auto text = entry(zip.get(), name, path);
      if (!text) return pass(text.error());
      for (std::size_t k = 0; k < project.plan.layouts.size(); ++k)
        if (name == layoutEntry(k, false) || name == layoutEntry(k, true))
          project.plan.layouts[k].text = std::move(*text);
    }
    if (name.starts_with("documents/")) {
      auto bytes_of = entry(zip.get(), name, path);
      if (!bytes_of) return pass(bytes_of.error());
      for (AttachedDocument& d : project.plan.header.documents)
        if (d.name == name.substr(10))
          d.bytes = std::make_shared<const std::string>(std::move(*bytes_of));
    }
    if (!name.starts_with("runs/") || !name.ends_with(".csv")) continue;
    auto csv = entry(zip.get(), name, path);
    if (!csv) return pass(csv.error());
    StoredRun run{name.substr(5, name.size() - 9), std::move(*csv)};
    if (auto done = readBeside(zip.get(), "runs/" + run.name + ".json", path, run); !done)
      return pass(done.error());
    project.runs.push_back(std::move(run));
  }
  if (auto good = validate(project.plan.layouts); !good)
    return fail("{}: {}", path, good.error().message);
  if (auto good = validate(project.plan.views); !good)
    return fail("{}: {}", path, good.error().message);
  if (auto good = validate(project.plan.approvals); !good)
    return fail("{}: {}", path, good.error().message);
  if (auto good = validate(project.plan.article); !good)
    return fail("{}: {}", path, good.error().message);
  if (auto good = validate(project.plan.header); !good)
    return fail("{}: {}", path, good.error().message);
  for (const DrawingFile& d : project.plan.drawings)
    if (auto good = validate(d); !good) return fail("{}: {}", path, good.error().message);
  return project;
}

} // namespace alder
