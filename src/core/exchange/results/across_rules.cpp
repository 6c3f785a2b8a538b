#include "exchange/results/across_rules.h"

#include <algorithm>
#include <map>
#include <set>

namespace alder {
namespace {

// Lines that say one thing of all characteristics: "Soll; 32,000; 8,000".
struct SaidAcross {
  std::size_t label = 0;                   // the cell that says what
  std::map<std::size_t, ResultRole> roles; // by line
};

ResultRole roleAcross(const LookedLine& line, std::size_t label, char decimal) {
  const auto& all = line.cells;
  if (line.look != LineLook::Figures || all.size() < label + 3 || line.labels.size() > 1)
    return ResultRole::None;
  const ResultRole role = roleOfWord(all[label].text);
  if (!isFigure(role) || role == ResultRole::Actual) return ResultRole::None;
  // Words and figures by turns are another thing.
  const bool figures =
      resultFigure(all[label + 1].text, decimal) || resultFigure(all[label + 2].text, decimal);
  return figures ? role : ResultRole::None;
}

SaidAcross saidAcross(const std::vector<LookedLine>& lines, char decimal) {
  constexpr std::size_t kLastLabel = 4;
  SaidAcross best;
  for (std::size_t label = 0; label <= kLastLabel; ++label) {
    SaidAcross said{label, {}};
    std::set<ResultRole> kinds;
    for (std::size_t i = 0; i < lines.size(); ++i)
      if (const ResultRole role = roleAcross(lines[i], label, decimal); role != ResultRole::None)
        said.roles[i] = role, kinds.insert(role);
    if (kinds.size() == said.roles.size() && kinds.size() > best.roles.size())
      best = std::move(said);
  }
  return best;
}

} // namespace

void addMark(FileKind& kind, const std::string& line) {
  std::string mark = plainWord(line);
  const bool known = std::find(kind.marks.begin(), kind.marks.end(), mark) != kind.marks.end();
  if (!mark.empty() && !known && kind.marks.size() < 6) kind.marks.push_back(std::move(mark));
}

bool acrossRules(const ResultText& text, const std::vector<LookedLine>& lines, FileKind& kind) {
  if (kind.layout.rule == CellRule::Blanks) return false;
  const SaidAcross said = saidAcross(lines, kind.decimal);
  if (said.roles.size() < 2) return false;
  const std::size_t first = said.roles.begin()->first, last = said.roles.rbegin()->first;
  const std::size_t width = lines[first].cells.size();
  // Above the first of them are the names; below the last the parts.
  std::optional<std::size_t> names;
  for (std::size_t i = 0; i < first; ++i)
    if (lines[i].cells.size() == width && lines[i].look != LineLook::Blank) names = i;
  const auto parts = std::count_if(
      lines.begin() + static_cast<std::ptrdiff_t>(last) + 1, lines.end(), [&](const LookedLine& l) {
        return l.look == LineLook::Figures && l.cells.size() + 2 >= width;
      });
  if (!names || parts == 0) return false;
  const int from = static_cast<int>(said.label) + 1;
  const auto add = [&](const std::string& beginning, ResultRole role) {
    LineRule rule;
    rule.use = LineUse::Across;
    rule.begins = plainWord(beginning);
    rule.least = said.label + 3;
    rule.fields = {{role, {from, -1, {}}, {}}};
    kind.rules.push_back(std::move(rule));
  };
  const auto beginning = [&](std::size_t line) {
    return text.lines[line].substr(0, lines[line].cells[said.label].to);
  };
  for (const auto& [line, role] : said.roles)
    add(beginning(line), role), addMark(kind, beginning(line));
  // The names were taken for titles, to be passed over.
  std::erase_if(kind.rules, [&](const LineRule& r) {
    return r.use == LineUse::Passed && r.begins == plainWord(text.lines[*names]);
  });
  const bool titled = !plainWord(beginning(*names)).empty();
  add(titled ? beginning(*names) : text.lines[*names], ResultRole::Name);
  LineRule values;
  values.use = LineUse::Across;
  values.least = said.label + 3;
  const int label = static_cast<int>(said.label);
  values.fields = {{ResultRole::Serial, {label, label, {}}, {}},
                   {ResultRole::Actual, {from, -1, {}}, {}}};
  // What stands to the left of the serial numbers, by its title.
  std::set<ResultRole> taken{ResultRole::Serial};
  for (int c = 0; c < label; ++c) {
    const ResultRole role = roleOfWord(lines[*names].cells[static_cast<std::size_t>(c)].text);
    if (isOfPart(role) && taken.insert(role).second)
      values.fields.push_back({role, {c, c, {}}, {}});
  }
  kind.rules.push_back(std::move(values));
  return true;
}

} // namespace alder
