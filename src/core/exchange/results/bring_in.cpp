#include "exchange/results/bring_in.h"

#include "base/hash.h"
#include "base/units.h"
#include <algorithm>
#include <filesystem>

namespace alder {
namespace {

auto findRun(Project& project, const std::string& name) {
  return std::find_if(project.runs.begin(), project.runs.end(),
                      [&](const StoredRun& r) { return r.name == name; });
}

// The same table, whatever stands above it.
bool samePoints(const std::string& a, const std::string& b) {
  const auto table = [](const std::string& csv) {
    std::size_t at = 0;
    while (at < csv.size() && csv[at] == '#')
      at = std::min(csv.find('\n', at), csv.size() - 1) + 1;
    return std::string_view(csv).substr(at);
  };
  return table(a) == table(b);
}

std::string oneLine(std::string text) {
  std::replace(text.begin(), text.end(), '\n', ' ');
  std::replace(text.begin(), text.end(), '\r', ' ');
  return text;
}

std::string plainRunName(const ResultFile& file, std::size_t part) {
  const std::string& serial = file.read.parts[part].serial;
  std::string name;
  for (const char c : serial.empty() ? std::filesystem::path(file.name).stem().string() : serial)
    name += std::isalnum(static_cast<unsigned char>(c)) || c == '-' || c == '_' ? c : '-';
  return name;
}

} // namespace

std::vector<std::string> runsOf(const ResultsEdit& edit) {
  std::vector<std::string> names;
  for (const StatedRunChange& c : edit.runs)
    names.push_back(c.run);
  for (const RunReplaced& r : edit.replaced)
    names.push_back(r.run);
  return names;
}

ResultsEdit apply(Project& project, const ResultsEdit& edit) {
  ResultsEdit back{edit.text, {}, {}, project.brought};
  project.brought = edit.brought;
  for (const StatedRunChange& c : edit.runs) {
    auto run = findRun(project, c.run);
    StatedRunChange undo{c.run, c.fresh, c.operated_by, {}};
    if (run == project.runs.end()) {
      if (c.lines.empty()) continue;
      project.runs.push_back({c.run, withStated(c.fresh, c.lines), {}, c.operated_by, {}});
    } else {
      undo.lines = statedIn(run->csv);
      if (undo.fresh.empty()) undo.fresh = run->csv;
      run->csv = withStated(run->csv, c.lines);
      if (c.lines.empty() && !holdsPoints(run->csv)) project.runs.erase(run);
    }
    back.runs.push_back(std::move(undo));
  }
  for (const RunReplaced& r : edit.replaced) {
    const auto run = findRun(project, r.run);
    RunReplaced undo{r.run, {}};
    if (run != project.runs.end()) undo.by = *run;
    if (!r.by && run != project.runs.end())
      project.runs.erase(run);
    else if (r.by && run != project.runs.end())
      *run = *r.by;
    else if (r.by)
      project.runs.push_back(*r.by);
    back.replaced.push_back(std::move(undo));
  }
  return back;
}

std::vector<std::string> runNamesFor(const Project& project, const ResultFile& file) {
  std::map<std::string_view, const StoredRun*> runs;
  for (const StoredRun& r : project.runs)
    runs.emplace(r.name, &r);

  // Serial numbers may differ in signs that no name of a run has.
  std::map<std::string, int> taken;
  std::vector<std::string> names;
  for (std::size_t p = 0; p < file.read.parts.size(); ++p) {
    const std::string plain = plainRunName(file, p), &text = file.read.parts[p].run;
    std::string name;
    do {
      const int again = ++taken[plain];
      name = again > 1 ? fmt::format("{}-{}", plain, again) : plain;
      const auto there = runs.find(name);
      if (text.empty() || there == runs.end() || !holdsPoints(there->second->csv) ||
          samePoints(there->second->csv, text))
        break;
    } while (true);
    names.push_back(std::move(name));
  }
  return names;
}

std::map<RequirementId, double> knownFigures(const Specification& spec,
                                             const BriefVerdicts& verdicts) {
  std::map<RequirementId, double> known;
  for (const auto& [id, verdict] : verdicts)
    if (const Requirement* r = spec.requirements.find(id); r && verdict.actual)
      known[id] = r->kind == Characteristic::Angle ? degrees(*verdict.actual) : *verdict.actual;
  return known;
}

ResultsEdit bringingIn(const Project& project, const ResultFile& file,
                       const std::vector<PartMatches>& matches) {
  ResultsEdit edit{"Bring in " + file.name, {}, {}, project.brought};
  const std::string hash = resultFileHash(file.bytes);
  const KeptResultFile kept{file.name, hash, std::make_shared<const std::string>(file.bytes)};
  std::erase(edit.brought.files, kept);
  edit.brought.files.push_back(kept);
  if (!file.fixed) {
    std::erase_if(edit.brought.kinds, [&](const FileKind& k) { return k.name == file.kind.name; });
    edit.brought.kinds.push_back(file.kind);
  }
  const std::vector<std::string> names = runNamesFor(project, file);
  std::map<std::string_view, const StoredRun*> runs;
  for (const StoredRun& r : project.runs)
    runs.emplace(r.name, &r);
  std::map<ValueKey, MatchDecision> decided; // those of the last part count
  for (std::size_t p = 0; p < file.read.parts.size(); ++p) {
    const ResultsOfPart& part = file.read.parts[p];
    StatedRunChange change;
    change.run = names[p];
    change.operated_by = part.operated_by;
    change.fresh = fmt::format("# results of: {} ({})\n", oneLine(file.name), hash);
    for (const auto& [what, value] :
         {std::pair("Date", part.date), {"Operator", part.operated_by}, {"Machine", part.machine}})
      if (!value.empty()) change.fresh += fmt::format("# {}: {}\n", what, oneLine(value));
    // The same file is the same run wherever it is brought in.
    if (part.run.empty())
      change.fresh += runWithoutPoints(hashText(hashOf(change.run, hashOf(hash))));
    else
      change.fresh = part.run;
    // What other files said of other requirements stays.
    std::vector<StatedLine> lines;
    for (const ResultMatch& m : matches[p].matches)
      if (m.settled() && (!part.judged.contains(m.requirement) || m.let_stand))
        lines.push_back({m.requirement, part.values[m.value].actual.value_or(0), file.name,
                         oneLine(calledIn(part.values[m.value])), part.values[m.value].line});
    if (const auto run = runs.find(change.run); run != runs.end())
      for (StatedLine& before : statedIn(run->second->csv))
        if (std::none_of(lines.begin(), lines.end(),
                         [&](const StatedLine& l) { return l.requirement == before.requirement; }))
          change.lines.push_back(std::move(before));
    change.lines.insert(change.lines.end(), lines.begin(), lines.end());
    const bool there = runs.contains(change.run);
    if (!part.run.empty() && !there)
      edit.replaced.push_back(
          {change.run,
           StoredRun{change.run, withStated(change.fresh, change.lines), {}, part.operated_by}});
    else
      edit.runs.push_back(std::move(change));
    for (MatchDecision& d : decisionsOf(part, matches[p], file.kind.name))
      decided.insert_or_assign(d.key, std::move(d));
  }
  std::erase_if(edit.brought.decisions, [&](const MatchDecision& k) {
    return k.kind == file.kind.name && decided.contains(k.key);
  });
  for (auto& [key, d] : decided)
    edit.brought.decisions.push_back(std::move(d));
  return edit;
}

} // namespace alder
