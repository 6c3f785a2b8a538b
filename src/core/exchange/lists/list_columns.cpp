#include "exchange/lists/list_columns.h"

#include "exchange/results/result_words.h"
#include <algorithm>
#include <array>
#include <cctype>

namespace alder {
namespace {

constexpr std::size_t kFirstLines = 40; // in which titles are looked for
constexpr std::size_t kLookedAt = 200;  // rows, for what a column holds

struct ColumnWords {
  ListColumn column;
  std::string_view words; // between bars, as plainWord leaves them
};
constexpr std::array<ColumnWords, 5> kOwnWords{{
    {ListColumn::Key,
     "key|key char|key "
     "characteristic|kc|kpc|cc|sc|class|klasse|classification|criticality|critical|"
     "wichtigkeit|kritisch|special characteristic|bes merkmal|designator|importance|merkmalsklasse|"
     "classe|clase|cle|chiave|clave"},
    {ListColumn::SheetZone,
     "sheet zone|drawing zone|zeichnungsfeld|planquadrat|feld|grid|location|drawing location|ref "
     "location|reference location|drw zone|print zone|field|case|casella"},
    {ListColumn::Page, "page|sheet|blatt|seite|sht|feuille|foglio|hoja|sheet no|blatt nr"},
    {ListColumn::Count,
     "qty|quantity|count|anzahl|times|stk|menge|nb|multiplicity|quantite|quantita|cantidad"},
    {ListColumn::Tolerance, "fit|passung|iso fit|ajustement|tolerance class"},
}};

bool among(std::string_view words, std::string_view word) {
  for (std::size_t at = 0; at <= words.size();) {
    const std::size_t end = std::min(words.find('|', at), words.size());
    if (words.substr(at, end - at) == word) return true;
    at = end + 1;
  }
  return false;
}

ListColumn columnOf(ResultRole role) {
  switch (role) {
  case ResultRole::Id:
    return ListColumn::Number;
  case ResultRole::Name:
  case ResultRole::Feature:
    return ListColumn::Words;
  case ResultRole::Axis:
    return ListColumn::Kind;
  case ResultRole::Nominal:
    return ListColumn::Nominal;
  case ResultRole::Upper:
    return ListColumn::Upper;
  case ResultRole::Lower:
    return ListColumn::Lower;
  case ResultRole::UpperDeviation:
    return ListColumn::UpperDeviation;
  case ResultRole::LowerDeviation:
    return ListColumn::LowerDeviation;
  case ResultRole::Tolerance:
    return ListColumn::Tolerance;
  case ResultRole::Datums:
    return ListColumn::Datums;
  case ResultRole::Unit:
    return ListColumn::Unit;
  default:
    return ListColumn::None;
  }
}

bool isField(const std::string& cell) { // "C4", "4C", "2/C4"
  return !cell.empty() && cell.size() <= 7 &&
         std::any_of(cell.begin(), cell.end(), [](unsigned char c) { return std::isupper(c); }) &&
         std::any_of(cell.begin(), cell.end(), [](unsigned char c) { return std::isdigit(c); }) &&
         std::all_of(cell.begin(), cell.end(), [](unsigned char c) {
           return std::isupper(c) || std::isdigit(c) || c == '/' || c == '-' || c == ' ';
         });
}

bool isFigureCell(const std::string& cell) {
  return resultFigure(cell, '.') || resultFigure(cell, ',');
}

std::size_t titlesIn(const std::vector<ListColumn>& columns) {
  std::size_t known = 0;
  bool nominal = false, words = false, tolerance = false;
  for (const ListColumn c : columns) {
    known += c != ListColumn::None;
    nominal |= c == ListColumn::Nominal;
    words |= c == ListColumn::Words || c == ListColumn::Kind;
    tolerance |=
        c == ListColumn::Tolerance || c == ListColumn::Upper || c == ListColumn::UpperDeviation;
  }
  return words || (nominal && known > 1) || (tolerance && known > 2) ? known : 0;
}

// Titles twice, or that mean several things: by what stands below them.
void settleColumns(const ResultText& text, ListHead& head) {
  for (std::size_t c = 0; c < head.columns.size(); ++c) {
    std::size_t fields = 0, figures = 0, filled = 0;
    for (std::size_t l = head.line + 1; l < text.lines.size() && l < head.line + kLookedAt; ++l) {
      const auto cells = cellsOf(text.lines[l], head.layout);
      if (c >= cells.size() || cells[c].text.empty()) continue;
      ++filled;
      fields += isField(cells[c].text);
      figures += isFigureCell(cells[c].text);
    }
    const std::string title = plainWord(head.titles[c]);
    if (title == "zone" && fields > figures) head.columns[c] = ListColumn::SheetZone;
    // "Value" and the like: the nominal where no other column is.
    const bool nominal = std::find(head.columns.begin(), head.columns.end(), ListColumn::Nominal) !=
                         head.columns.end();
    if (head.columns[c] == ListColumn::None && roleOfWord(head.titles[c]) == ResultRole::Actual &&
        !nominal && figures > 0 && (title == "value" || title == "wert" || title == "valeur"))
      head.columns[c] = ListColumn::Nominal;
  }
}

} // namespace

ListColumn listColumnOf(std::string_view title) {
  const std::string word = plainWord(title);
  for (const ColumnWords& w : kOwnWords)
    if (among(w.words, word)) return w.column;
  return columnOf(roleOfWord(title));
}

std::optional<ListHead> listHead(const ResultText& text) {
  std::optional<ListHead> best;
  std::size_t most = 1;
  const std::string separators = text.spreadsheet ? "\t" : "\t;|,";
  for (const char separator : separators)
    for (std::size_t l = 0; l < text.lines.size() && l < kFirstLines; ++l) {
      CellLayout layout;
      layout.rule = CellRule::Separated;
      layout.separator = separator;
      ListHead head{l, layout, {}, {}, false};
      for (const Cell& cell : cellsOf(text.lines[l], layout)) {
        head.titles.push_back(cell.text);
        head.columns.push_back(listColumnOf(cell.text));
        const std::string lower = plainWord(cell.text);
        head.inch |= cell.text.find("[in") != std::string::npos ||
                     cell.text.find("(in") != std::string::npos ||
                     cell.text.find("inch") != std::string::npos;
      }
      if (const std::size_t known = titlesIn(head.columns); known > most)
        most = known, best = std::move(head);
    }
  if (best) settleColumns(text, *best);
  return best;
}

char decimalOf(const ResultText& text, const ListHead& head) {
  if (text.spreadsheet || head.layout.separator == ',') return '.';
  std::size_t commas = 0, points = 0;
  for (std::size_t l = head.line + 1; l < text.lines.size(); ++l) {
    const auto cells = cellsOf(text.lines[l], head.layout);
    for (std::size_t c = 0; c < cells.size() && c < head.columns.size(); ++c) {
      const ListColumn column = head.columns[c];
      if (column == ListColumn::Words || column == ListColumn::Number ||
          column == ListColumn::Datums || column == ListColumn::None)
        continue;
      commas += cells[c].text.find(',') != std::string::npos;
      points += cells[c].text.find('.') != std::string::npos;
    }
  }
  return commas > points ? ',' : '.';
}

} // namespace alder
