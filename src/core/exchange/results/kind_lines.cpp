#include "exchange/results/kind_lines.h"

#include <algorithm>

namespace alder {
namespace {

bool isFigureCell(const Cell& c, char decimal) {
  return resultFigure(c.text, decimal).has_value();
}

// What is written behind the colon of "Serial: 1042" within a cell.
bool holdsValueBehindColon(const std::string& text) {
  const auto colon = text.find_first_of(":=");
  return colon != std::string::npos && text.find_first_not_of(":= .", colon) != std::string::npos;
}

bool endsWithColon(const std::string& text) {
  return !text.empty() && (text.back() == ':' || text.back() == '=');
}

// A label for figures stands before a figure; one for words has a colon.
std::vector<Label> labelsIn(const std::vector<Cell>& cells, char decimal) {
  std::vector<Label> labels;
  for (std::size_t i = 0; i < cells.size(); ++i) {
    const std::string& text = cells[i].text;
    if (holdsValueBehindColon(text)) {
      const std::string word = plainWord(text.substr(0, text.find_first_of(":=")));
      if (const ResultRole role = roleOfWord(word); role != ResultRole::None)
        labels.push_back({word, role});
      continue;
    }
    std::string joined;
    std::optional<Label> longest;
    std::size_t taken = 0;
    for (std::size_t n = 0; n < 3 && i + n + 1 < cells.size(); ++n) {
      joined += (n > 0 ? " " : "") + cells[i + n].text;
      const ResultRole role = roleOfWord(joined);
      // A sign alone is a title, but no word before a figure.
      const bool word = std::any_of(joined.begin(), joined.end(),
                                    [](unsigned char c) { return std::isalpha(c) || c >= 0x80; });
      if (role == ResultRole::None || !word) continue;
      const Cell& next = cells[i + n + 1];
      const bool colon =
          endsWithColon(cells[i + n].text) || (isOfPart(role) && i == 0 && n + 2 == cells.size() &&
                                               roleOfWord(next.text) == ResultRole::None);
      if (isFigure(role) ? isFigureCell(next, decimal) : colon && !next.text.empty())
        longest = Label{plainWord(joined), role}, taken = n;
    }
    if (!longest) continue;
    labels.push_back(*longest);
    i += taken;
  }
  return labels;
}

bool saysPage(const std::string& line) {
  for (const std::string word : {"page", "seite", "blatt", "pagina", "sheet"}) {
    const std::string plain = plainWord(line);
    const auto at = plain.find(word);
    if (at == std::string::npos ||
        (at > 0 && std::isalpha(static_cast<unsigned char>(plain[at - 1]))))
      continue;
    const auto digit = plain.find_first_not_of(" #", at + word.size());
    if (digit != std::string::npos && std::isdigit(static_cast<unsigned char>(plain[digit])))
      return true;
  }
  return false;
}

std::size_t titleCells(const std::vector<Cell>& cells) {
  return static_cast<std::size_t>(std::count_if(cells.begin(), cells.end(), [](const Cell& c) {
    return roleOfWord(c.text) != ResultRole::None;
  }));
}

// Of titles that are cut into single words: two may be one title.
std::size_t joinedTitles(const std::vector<Cell>& cells) {
  std::size_t count = 0;
  for (std::size_t i = 0; i + 1 < cells.size(); ++i)
    count += roleOfWord(cells[i].text + " " + cells[i + 1].text) != ResultRole::None;
  return count;
}

void lookAt(const std::string& line, const CellLayout& layout, char decimal, LookedLine& l) {
  const auto filled = static_cast<std::size_t>(
      std::count_if(l.cells.begin(), l.cells.end(), [](const Cell& c) { return !c.text.empty(); }));
  if (filled == 0) return;
  const auto figures = static_cast<std::size_t>(std::count_if(
      l.cells.begin(), l.cells.end(), [&](const Cell& c) { return isFigureCell(c, decimal); }));
  if (saysPage(line)) {
    l.look = LineLook::Page;
    return;
  }
  const bool titles = figures == 0 && filled >= 2 &&
                      std::max(titleCells(l.cells), joinedTitles(l.cells)) * 2 >= filled &&
                      titleCells(l.cells) >= 2;
  l.labels = labelsIn(l.cells, decimal);
  const bool of_part = std::any_of(l.labels.begin(), l.labels.end(),
                                   [](const Label& label) { return isOfPart(label.role); });
  const bool of_result = std::any_of(l.labels.begin(), l.labels.end(),
                                     [](const Label& label) { return isFigure(label.role); });
  if (of_part && !of_result) {
    l.look = LineLook::OfPart;
    return;
  }
  if (titles && l.labels.empty()) {
    l.look = LineLook::Titles;
    return;
  }
  // Figures at the end, with a word or two behind them at most.
  const auto is_figure = [&](std::size_t i) {
    return isFigureCell(l.cells[i], decimal) || isNoFigure(l.cells[i].text);
  };
  std::size_t end = l.cells.size();
  while (end > 0 && l.words < 2 && !is_figure(end - 1))
    --end, ++l.words;
  while (end > 0 && is_figure(end - 1))
    --end, ++l.figures;
  const bool decimals = std::any_of(l.cells.begin(), l.cells.end(), [&](const Cell& c) {
    const auto f = resultFigure(c.text, decimal);
    return f && f->decimals > 0;
  });
  // Single words of a name may be whole figures: "Bore 32 H7".
  const bool counts =
      layout.rule == CellRule::Separated ? figures > 0 : figures > 0 && (decimals || figures > 2);
  l.look = counts ? LineLook::Figures : LineLook::Text;
}

} // namespace

std::vector<LookedLine> lookedLines(const ResultText& text, const CellLayout& layout,
                                    char decimal) {
  std::vector<LookedLine> looked;
  for (const std::string& line : text.lines) {
    LookedLine l;
    l.cells = cellsOf(line, layout);
    lookAt(line, layout, decimal, l);
    // Beside the table its columns cut words apart.
    if (layout.rule == CellRule::Columns && l.look != LineLook::Figures &&
        l.look != LineLook::Titles) {
      l = {};
      l.cells = cellsOf(line, besideTable(layout));
      lookAt(line, besideTable(layout), decimal, l);
      if (l.look == LineLook::Figures) l.look = LineLook::Text;
    }
    looked.push_back(std::move(l));
  }
  return looked;
}

} // namespace alder
