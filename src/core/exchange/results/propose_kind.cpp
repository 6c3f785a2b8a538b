#include "exchange/results/propose_kind.h"

#include "exchange/results/kind_rules.h"
#include <algorithm>
#include <cmath>
#include <set>

namespace alder {
namespace {

// A proposal looks at the first lines; the reader then at all.
constexpr std::size_t kLookedAt = 1500;

// Every decimal sign in a figure that is written with one.
char decimalOf(const ResultText& text) {
  if (text.spreadsheet) return '.';
  std::size_t points = 0, commas = 0;
  for (const std::string& line : text.lines)
    for (std::size_t i = 1; i + 1 < line.size(); ++i) {
      const auto digit = [&](std::size_t k) {
        return std::isdigit(static_cast<unsigned char>(line[k])) != 0;
      };
      if (!digit(i - 1) || !digit(i + 1)) continue;
      // Dates and times have two of them.
      std::size_t a = i, b = i + 1;
      while (a > 0 && digit(a - 1))
        --a;
      while (b < line.size() && digit(b))
        ++b;
      const bool date =
          (a > 0 && line[a - 1] == line[i]) || (b < line.size() && line[b] == line[i]);
      if (date) continue;
      points += line[i] == '.', commas += line[i] == ',';
    }
  return commas > points ? ',' : '.';
}

// Places of the columns: characters that are blank in nearly all lines with figures part them.
std::vector<int> columnStarts(const ResultText& text, char decimal) {
  std::vector<std::size_t> lines;
  CellLayout words;
  words.gap = 1;
  for (std::size_t i = 0; i < text.lines.size(); ++i) {
    int figures = 0;
    for (const Cell& c : cellsOf(text.lines[i], words)) {
      const auto f = resultFigure(c.text, decimal);
      figures += f && f->decimals > 0;
    }
    if (figures >= 2) lines.push_back(i);
  }
  if (lines.size() < 3) return {};
  std::vector<std::size_t> filled;
  for (const std::size_t i : lines) {
    const std::string& line = text.lines[i];
    std::size_t column = 0;
    for (std::size_t b = 0; b < line.size(); ++b) {
      if ((static_cast<unsigned char>(line[b]) & 0xC0) == 0x80) continue;
      if (line[b] == '\t') return {}; // wherever a tab leads to
      if (filled.size() <= column) filled.resize(column + 1);
      filled[column++] += line[b] != ' ';
    }
    if (filled.size() > 400) return {};
  }
  const std::size_t few = lines.size() / 200;
  // With few lines a blank may part words of a name by chance.
  const std::size_t least = lines.size() >= 8 ? 1 : 2;
  std::vector<int> starts{0};
  std::size_t blanks = 0, last = 0;
  for (std::size_t c = 0; c < filled.size(); ++c) {
    if (filled[c] <= few) {
      ++blanks;
      continue;
    }
    if (blanks >= least && last > 0) starts.push_back(static_cast<int>(last));
    blanks = 0, last = c + 1;
  }
  return starts.size() >= 3 ? starts : std::vector<int>{};
}

std::vector<CellLayout> layoutsFor(const ResultText& text, char decimal) {
  std::vector<CellLayout> layouts;
  const auto separated = [&](char by) {
    const auto lines = std::count_if(text.lines.begin(), text.lines.end(), [&](const auto& l) {
      return std::count(l.begin(), l.end(), by) >= 1;
    });
    if (static_cast<std::size_t>(lines) * 4 >= text.lines.size() && lines > 0)
      layouts.push_back({CellRule::Separated, by, {}, 2});
  };
  if (text.spreadsheet) {
    layouts.push_back({CellRule::Separated, '\t', {}, 2});
    return layouts;
  }
  separated(';');
  separated('\t');
  separated('|');
  if (decimal == '.') separated(',');
  if (auto starts = columnStarts(text, decimal); !starts.empty())
    layouts.push_back({CellRule::Columns, ';', std::move(starts), 2});
  layouts.push_back({CellRule::Blanks, ';', {}, 2});
  layouts.push_back({CellRule::Blanks, ';', {}, 1});
  return layouts;
}

// What speaks for a value having been read as it was meant.
double borneOut(const StatedResult& r) {
  double score = 1;
  if (r.nominal) score += 0.5;
  if (r.deviation && !r.from_deviation) {
    const double off = std::abs(*r.actual - r.nominal.value_or(0) - *r.deviation);
    score += off <= 2.5 * std::max(r.last_digit, 1e-9) ? 1 : -2;
  }
  if (r.upper && r.lower) {
    score += *r.lower < *r.upper ? 0.5 : -1;
    if (r.nominal && *r.nominal != 0)
      score += *r.lower - 1e-9 <= *r.nominal && *r.nominal <= *r.upper + 1e-9 ? 0.4 : 0;
  } else if (r.upper || r.tolerance) {
    score += 0.3;
  }
  const bool named = !r.name.empty() || !r.feature.empty();
  score += named || characteristicOfWord(r.axis) ? 0.8 : r.id.empty() ? -0.8 : 0.2;
  if (!r.axis.empty()) score += named && characteristicOfWord(r.axis) ? 0.3 : -0.1;
  if (!r.id.empty()) score += 0.2;
  if (!r.status.empty()) score += 0.1;
  return score;
}

double scoreOf(const ResultsRead& read) {
  double score = 0;
  std::set<std::string> names;
  for (const ResultsOfPart& p : read.parts) {
    for (const StatedResult& r : p.values) {
      score += borneOut(r);
      names.insert(r.name + "\n" + r.feature + "\n" + r.axis + "\n" + r.id);
    }
    if (!p.serial.empty()) score += 0.3;
  }
  // Values that are called the same cannot be told apart.
  const double values = static_cast<double>(std::max<std::size_t>(read.values(), 1));
  const double parts = static_cast<double>(std::max<std::size_t>(read.parts.size(), 1));
  score += 0.5 * std::min(values, static_cast<double>(names.size()) * parts);
  return score - 0.8 * static_cast<double>(read.notRead());
}

} // namespace

KindProposal proposeKind(const ResultText& text, const std::vector<Pointing>& pointings) {
  ResultText head = text;
  std::size_t looked = kLookedAt;
  for (const Pointing& p : pointings)
    looked = std::max(looked, p.line + 1);
  if (head.lines.size() > looked) head.lines.resize(looked);
  const char likely = decimalOf(head);
  KindProposal best;
  best.score = -1e18;
  for (const char decimal : {likely, likely == ',' ? '.' : ','}) {
    if (text.spreadsheet && decimal == ',') continue;
    for (const CellLayout& layout : layoutsFor(head, decimal)) {
      KindProposal p;
      p.kind = kindFor(head, layout, decimal, pointings);
      p.read = readResults(head, p.kind);
      p.score = scoreOf(p.read) * (decimal == likely ? 1 : 0.8);
      if (p.score > best.score) best = std::move(p);
    }
  }
  if (head.lines.size() < text.lines.size()) best.read = readResults(text, best.kind);
  return best;
}

FileKind withPointing(const FileKind& kind, const ResultText& text, const Pointing& pointing) {
  if (pointing.line >= text.lines.size()) return kind;
  const std::string& line = text.lines[pointing.line];
  const RuledLine ruled = ruledLine(kind, line);
  const LineRule* rule = ruled.rule;
  const std::vector<Cell>& cells = ruled.cells;
  const auto overlaps = [&](const Cell& c) {
    return c.from < std::max(pointing.to, pointing.from + 1) && pointing.from < c.to;
  };
  const auto place_of = [&](const LineRule* r) { return r - kind.rules.data(); };
  if (!rule || rule->fields.empty()) {
    // A line of a sort that the kind does not know: read as a proposal for it would.
    const FileKind proposed = kindFor(text, kind.layout, kind.decimal, {pointing});
    const LineRule* own = ruledLine(proposed, line).rule;
    FileKind changed = kind;
    if (own) {
      if (rule) changed.rules.erase(changed.rules.begin() + place_of(rule));
      changed.rules.insert(changed.rules.begin(), *own);
    }
    return changed;
  }
  FileKind changed = kind;
  std::vector<KindField>& fields = changed.rules[static_cast<std::size_t>(place_of(rule))].fields;
  // The place as the fields that stand beside it are counted.
  const bool from_end = std::any_of(fields.begin(), fields.end(), [&](const KindField& f) {
    return f.place.after.empty() && f.place.first < 0;
  });
  int first = -1, last = -1;
  for (std::size_t i = 0; i < cells.size(); ++i)
    if (overlaps(cells[i])) {
      if (first < 0) first = static_cast<int>(i);
      last = static_cast<int>(i);
    }
  if (first < 0) return kind;
  CellPlace place{first, last, {}};
  const auto whole = std::find_if(fields.begin(), fields.end(), [&](const KindField& f) {
    const auto there = cellsAt(f.place, cells);
    return !there.empty() && std::any_of(there.begin(), there.end(), overlaps);
  });
  if (whole != fields.end())
    place = whole->place;
  else if (from_end && isFigure(pointing.role))
    place = {first - static_cast<int>(cells.size()), last - static_cast<int>(cells.size()), {}};
  std::erase_if(fields,
                [&](const KindField& f) { return f.role == pointing.role || f.place == place; });
  if (pointing.role != ResultRole::None) fields.push_back({pointing.role, place, FigureUnit::None});
  return changed;
}

const FileKind* kindOf(const std::vector<FileKind>& kept, const ResultText& text) {
  const FileKind* best = nullptr;
  std::size_t most = 0;
  for (const FileKind& k : kept) {
    if (!k.marks.empty() && !holdsMarks(text, k)) continue;
    const ResultsRead read = readResults(text, k);
    if (read.values() == 0 || (k.marks.empty() && (read.notRead() > 0 || !read.remarks.empty())))
      continue;
    if (read.values() > most) most = read.values(), best = &k;
  }
  return best;
}

} // namespace alder
