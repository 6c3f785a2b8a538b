#include "exchange/results/file_kind.h"

#include "exchange/routine/named.h"
#include <algorithm>
#include <array>
#include <set>

namespace alder {
namespace {

void trim(const std::string& line, Cell& cell) {
  const auto blank = [&](std::size_t i) { return line[i] == ' ' || line[i] == '\t'; };
  while (cell.from < cell.to && blank(cell.from))
    ++cell.from;
  while (cell.to > cell.from && blank(cell.to - 1))
    --cell.to;
  cell.text = line.substr(cell.from, cell.to - cell.from);
}

// Quotes hold separators back, and are doubled within; a quote in the middle is an inch sign.
std::vector<Cell> separatedCells(const std::string& line, char separator) {
  std::vector<Cell> cells;
  for (std::size_t at = 0; at <= line.size();) {
    Cell cell{{}, at, at};
    std::size_t begin = line.find_first_not_of(' ', at);
    if (begin != std::string::npos && line[begin] == '"') {
      std::size_t i = begin + 1;
      std::string text;
      bool closed = false;
      for (; i < line.size(); ++i) {
        if (line[i] != '"')
          text += line[i];
        else if (i + 1 < line.size() && line[i + 1] == '"')
          text += line[i++];
        else {
          closed = true;
          break;
        }
      }
      const std::size_t end = closed ? std::min(line.find(separator, i), line.size()) : 0;
      if (closed && line.find_first_not_of(" \t", i + 1) >= end) {
        cell.from = begin, cell.to = i + 1, cell.text = std::move(text);
        cells.push_back(std::move(cell));
        at = end + 1;
        continue;
      }
    }
    cell.to = std::min(line.find(separator, at), line.size());
    at = cell.to + 1;
    trim(line, cell);
    cells.push_back(std::move(cell));
  }
  return cells;
}

std::vector<Cell> columnCells(const std::string& line, const std::vector<int>& starts) {
  std::vector<Cell> cells;
  for (std::size_t i = 0; i < starts.size(); ++i) {
    Cell cell;
    cell.from = byteOf(line, static_cast<std::size_t>(starts[i]));
    cell.to =
        i + 1 < starts.size() ? byteOf(line, static_cast<std::size_t>(starts[i + 1])) : line.size();
    if (cell.from >= line.size()) break;
    trim(line, cell);
    cells.push_back(std::move(cell));
  }
  return cells;
}

std::vector<Cell> blankCells(const std::string& line, int gap) {
  std::vector<Cell> cells;
  std::size_t at = line.find_first_not_of(" \t");
  while (at != std::string::npos && at < line.size()) {
    std::size_t end = at, blanks = 0, i = at;
    for (; i < line.size(); ++i) {
      if (line[i] == '\t') {
        blanks = static_cast<std::size_t>(gap);
        break;
      }
      if (line[i] == ' ') {
        if (++blanks >= static_cast<std::size_t>(gap)) break;
      } else {
        blanks = 0, end = i + 1;
      }
    }
    cells.push_back({line.substr(at, end - at), at, end});
    at = line.find_first_not_of(" \t", i);
  }
  return cells;
}

// Digits with signs of figures and nothing else.
bool looksLikeFigure(std::string_view text) {
  return text.find_first_of("0123456789") != std::string_view::npos &&
         text.find_first_not_of("0123456789.,+-'") == std::string_view::npos;
}

// "+0.025/-0.010" are two figures, "(32.000" is one, and a unit belongs to the figure before it.
std::vector<Cell> figuresApart(const std::vector<Cell>& cells, bool with_units) {
  std::vector<Cell> apart;
  for (const Cell& whole : cells) {
    Cell c = whole;
    // Signs that stand for themselves between figures: "[ 7.990 - 8.022 ] = 8.009".
    const bool after_figure = !apart.empty() && looksLikeFigure(apart.back().text);
    if (with_units &&
        (c.text.find_first_not_of("[]()") == std::string::npos || (c.text == "=" && after_figure)))
      continue;
    const bool known_unit = with_units && !apart.empty() && looksLikeFigure(apart.back().text) &&
                            figureUnitNamed(c.text).has_value();
    if (known_unit) {
      apart.back().text += " " + c.text;
      apart.back().to = c.to;
      continue;
    }
    std::string_view inside = c.text;
    while (!inside.empty() && (inside.front() == '(' || inside.front() == '['))
      inside.remove_prefix(1);
    while (!inside.empty() && (inside.back() == ')' || inside.back() == ']'))
      inside.remove_suffix(1);
    if (inside.size() < c.text.size() && looksLikeFigure(inside)) {
      c.from += static_cast<std::size_t>(inside.data() - c.text.data());
      c.to = c.from + inside.size();
      c.text = std::string(inside);
    }
    const auto slash = c.text.find('/');
    if (slash != std::string::npos && looksLikeFigure(c.text.substr(0, slash)) &&
        looksLikeFigure(c.text.substr(slash + 1))) {
      apart.push_back({c.text.substr(0, slash), c.from, c.from + slash});
      apart.push_back({c.text.substr(slash + 1), c.from + slash + 1, c.to});
    } else {
      apart.push_back(std::move(c));
    }
  }
  return apart;
}

bool begins(const std::string& line, const std::string& words) {
  if (words.empty()) return true;
  const std::string plain = plainWord(line);
  return plain.starts_with(words) &&
         (plain.size() == words.size() ||
          !std::isalpha(static_cast<unsigned char>(plain[words.size()])));
}

Json toJson(const KindField& field) {
  Json json{{"role", name(field.role)}, {"cell", field.place.first}};
  if (field.place.last != field.place.first) json["to_cell"] = field.place.last;
  if (!field.place.after.empty()) json["after"] = field.place.after;
  if (field.unit != FigureUnit::None) json["unit"] = name(field.unit);
  return json;
}

FigureUnit readUnit(const JsonFields& f, const char* key, FigureUnit otherwise) {
  if (!f.has(key)) return otherwise;
  const auto unit = figureUnitNamed(f.text(key));
  if (!unit) f.complain(key, "is none of mm, um, in and deg");
  return unit.value_or(otherwise);
}

KindField readField(const JsonFields& f) {
  KindField field;
  field.role = readNamed<ResultRole>(f, "role", kResultRoleCount);
  field.place.first = f.integer("cell", 0);
  field.place.last = f.integer("to_cell", field.place.first);
  field.place.after = plainWord(f.text("after", ""));
  field.unit = readUnit(f, "unit", FigureUnit::None);
  return field;
}

LineRule readRule(const JsonFields& f) {
  LineRule rule;
  rule.use = readNamed<LineUse>(f, "use", kLineUseCount);
  rule.begins = plainWord(f.text("begins", ""));
  const auto count = [&](const char* key, int otherwise) {
    const int v = f.integer(key, otherwise);
    if (v < 0) f.complain(key, "must not be negative");
    return static_cast<std::size_t>(std::max(v, 0));
  };
  rule.least = count("least_cells", 1);
  rule.most = count("most_cells", 0);
  for (const JsonFields& one : f.list("fields"))
    rule.fields.push_back(readField(one));
  return rule;
}

// What stands behind a word, which may be of up to three cells, or the beginning of one.
std::vector<Cell> cellsBehind(const std::string& word, const std::vector<Cell>& cells) {
  for (std::size_t i = 0; i < cells.size(); ++i) {
    std::string joined;
    for (std::size_t n = 0; n < 3 && i + n < cells.size(); ++n) {
      joined += (n > 0 ? " " : "") + cells[i + n].text;
      if (plainWord(joined) != word) continue;
      auto behind = cells.begin() + static_cast<std::ptrdiff_t>(i + n) + 1;
      while (behind != cells.end() && behind->text.find_first_not_of(":=.") == std::string::npos &&
             !behind->text.empty())
        ++behind;
      return {behind, cells.end()};
    }
    const std::string& text = cells[i].text;
    const auto colon = text.find_first_of(":=");
    if (colon == std::string::npos || plainWord(text.substr(0, colon)) != word) continue;
    const auto rest = text.find_first_not_of(":= ", colon);
    std::vector<Cell> behind;
    if (rest != std::string::npos)
      behind.push_back({text.substr(rest), cells[i].from + rest, cells[i].to});
    behind.insert(behind.end(), cells.begin() + static_cast<std::ptrdiff_t>(i) + 1, cells.end());
    return behind;
  }
  return {};
}

// How many of the cells are figures, each by itself or all as one; nothing where one is neither a
// figure nor empty.
std::optional<int> figuresAt(bool each, const CellPlace& place, const std::vector<Cell>& cells,
                             char decimal) {
  int count = 0;
  const auto take = [&](const std::string& text) {
    const bool figure = resultFigure(text, decimal).has_value();
    count += figure;
    return figure || isNoFigure(text);
  };
  if (!each) return take(textAt(place, cells)) ? std::optional(count) : std::nullopt;
  const std::vector<Cell> there = cellsAt(place, cells);
  if (there.empty()) return {};
  for (const Cell& c : there)
    if (!take(c.text)) return {};
  return count;
}

} // namespace

std::vector<Cell> cellsOf(const std::string& line, const CellLayout& layout) {
  if (line.find_first_not_of(" \t") == std::string::npos) return {};
  switch (layout.rule) {
  case CellRule::Separated:
    return separatedCells(line, layout.separator);
  case CellRule::Columns:
    return columnCells(line, layout.starts);
  default:
    return figuresApart(blankCells(line, std::max(layout.gap, 1)), layout.gap == 1);
  }
}

CellLayout besideTable(const CellLayout& layout) {
  return layout.rule == CellRule::Columns ? CellLayout{CellRule::Blanks, ';', {}, 2} : layout;
}

std::vector<Cell> cellsAt(const CellPlace& place, const std::vector<Cell>& cells) {
  const std::vector<Cell> counted = place.after.empty() ? cells : cellsBehind(place.after, cells);
  const auto count = static_cast<long>(counted.size());
  const auto index = [&](int at) { return at < 0 ? count + at : at; };
  const long first = index(place.first);
  long last = std::min(index(place.last), count - 1);
  if (first < 0 || first >= count || last < first) return {};
  if (!place.after.empty() && place.last < 0)
    for (long i = first + 1; i <= last; ++i)
      if (counted[static_cast<std::size_t>(i)].text.find(':') != std::string::npos) {
        last = i - 1;
        break;
      }
  return {counted.begin() + first, counted.begin() + last + 1};
}

std::string textAt(const CellPlace& place, const std::vector<Cell>& cells) {
  std::string text;
  for (const Cell& c : cellsAt(place, cells))
    if (!c.text.empty()) text += (text.empty() ? "" : " ") + c.text;
  return text;
}

std::string_view name(LineUse use) {
  constexpr std::array<std::string_view, kLineUseCount> kUses{"passed",  "record", "more",
                                                              "heading", "part",   "across"};
  return kUses[static_cast<std::size_t>(use)];
}

std::string_view name(CellRule rule) {
  constexpr std::array<std::string_view, 3> kRules{"separated", "columns", "blanks"};
  return kRules[static_cast<std::size_t>(rule)];
}

bool fits(const LineRule& rule, const std::vector<Cell>& cells, const std::string& line,
          char decimal) {
  if (cells.size() < rule.least || (rule.most > 0 && cells.size() > rule.most)) return false;
  if (!begins(line, rule.begins)) return false;
  if (rule.use == LineUse::Passed)
    return std::none_of(cells.begin(), cells.end(), [&](const Cell& c) {
      const auto figure = resultFigure(c.text, decimal);
      return figure && figure->decimals > 0;
    });
  bool any = false, needs_actual = false, actual = false, needs_nominal = false, nominal = false;
  for (const KindField& f : rule.fields) {
    if (!isFigure(f.role)) {
      if (!f.place.after.empty() && cellsAt(f.place, cells).empty()) return false;
      continue;
    }
    const auto figures = figuresAt(rule.use == LineUse::Across, f.place, cells, decimal);
    if (!figures) return false;
    const bool figure = *figures > 0;
    any |= figure;
    needs_actual |= f.role == ResultRole::Actual, needs_nominal |= f.role == ResultRole::Nominal;
    actual |= figure && f.role == ResultRole::Actual;
    nominal |= figure && f.role == ResultRole::Nominal;
  }
  const bool figures = std::any_of(rule.fields.begin(), rule.fields.end(),
                                   [](const KindField& f) { return isFigure(f.role); });
  if (!figures) return true;
  if (!any) return false;
  if (rule.use != LineUse::Record) return true;
  return needs_actual ? actual : !needs_nominal || nominal;
}

RuledLine ruledLine(const FileKind& kind, const std::string& line) {
  std::vector<Cell> cells = cellsOf(line, kind.layout);
  std::vector<Cell> beside = kind.layout.rule == CellRule::Columns
                                 ? cellsOf(line, besideTable(kind.layout))
                                 : std::vector<Cell>{};
  for (const LineRule& r : kind.rules) {
    const bool words = kind.layout.rule == CellRule::Columns &&
                       (r.use == LineUse::Part || r.use == LineUse::Heading);
    if (fits(r, words ? beside : cells, line, kind.decimal))
      return {&r, std::move(words ? beside : cells)};
  }
  return {nullptr, std::move(cells)};
}

Json toJson(const FileKind& kind) {
  Json rules = Json::array();
  for (const LineRule& r : kind.rules) {
    Json fields = Json::array();
    for (const KindField& f : r.fields)
      fields.push_back(toJson(f));
    Json rule{{"use", name(r.use)}, {"fields", fields}};
    if (!r.begins.empty()) rule["begins"] = r.begins;
    if (r.least > 1) rule["least_cells"] = r.least;
    if (r.most > 0) rule["most_cells"] = r.most;
    rules.push_back(std::move(rule));
  }
  Json json{{"result_file_kind", 1},
            {"name", kind.name},
            {"marks", kind.marks},
            {"cells", name(kind.layout.rule)},
            {"decimal", std::string(1, kind.decimal)},
            {"unit", name(kind.unit)},
            {"rules", rules}};
  if (kind.layout.rule == CellRule::Separated)
    json["separator"] = std::string(1, kind.layout.separator);
  if (kind.layout.rule == CellRule::Columns) json["starts"] = kind.layout.starts;
  if (kind.layout.rule == CellRule::Blanks) json["gap"] = kind.layout.gap;
  return json;
}

Result<FileKind> fileKindFromText(const std::string& text, const std::string& label) {
  auto json = parseJson(text, label);
  if (!json) return pass(json.error());
  const JsonFields f(*json, label);
  if (!json->is_object() || f.integer("result_file_kind", 0) == 0)
    return fail("{}: describes no kind of result file.", label);
  if (f.integer("result_file_kind", 0) > 1)
    return fail("{}: was written by a newer version of this program.", label);
  FileKind kind;
  kind.name = f.text("name");
  for (const Json& mark :
       f.has("marks") && (*json)["marks"].is_array() ? (*json)["marks"] : Json::array())
    if (mark.is_string()) kind.marks.push_back(mark.get<std::string>());
  kind.layout.rule = readNamed<CellRule>(f, "cells", 3);
  const auto sign = [&](const char* key, const std::string& otherwise) {
    const std::string s = f.text(key, otherwise);
    if (s.size() != 1) f.complain(key, "must be one sign");
    return s.empty() ? otherwise[0] : s[0];
  };
  kind.layout.separator = sign("separator", ";");
  kind.layout.gap = f.integer("gap", 2);
  for (const Json& start :
       f.has("starts") && (*json)["starts"].is_array() ? (*json)["starts"] : Json::array())
    if (start.is_number_integer()) kind.layout.starts.push_back(start.get<int>());
  if (kind.layout.rule == CellRule::Columns &&
      (kind.layout.starts.empty() || kind.layout.starts[0] < 0 ||
       !std::is_sorted(kind.layout.starts.begin(), kind.layout.starts.end())))
    f.complain("starts", "must be ascending places of columns");
  kind.decimal = sign("decimal", ".");
  if (kind.decimal != '.' && kind.decimal != ',') f.complain("decimal", "must be . or ,");
  kind.unit = readUnit(f, "unit", FigureUnit::Millimetre);
  if (kind.unit != FigureUnit::Millimetre && kind.unit != FigureUnit::Inch)
    f.complain("unit", "must be mm or in");
  for (const JsonFields& one : f.list("rules"))
    kind.rules.push_back(readRule(one));
  if (auto done = f.done(); !done) return pass(done.error());
  return kind;
}

bool holdsMarks(const ResultText& text, const FileKind& kind) {
  if (kind.marks.empty()) return false;
  std::set<std::string> lines;
  for (const std::string& l : text.lines)
    lines.insert(plainWord(l));
  // Marks are lines, or the words that one begins with.
  return std::all_of(kind.marks.begin(), kind.marks.end(), [&](const std::string& m) {
    const auto at = lines.lower_bound(m);
    return at != lines.end() && at->starts_with(m) &&
           (at->size() == m.size() || !std::isalnum(static_cast<unsigned char>((*at)[m.size()])));
  });
}

} // namespace alder
