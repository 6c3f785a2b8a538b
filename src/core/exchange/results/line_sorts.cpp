#include "exchange/results/line_sorts.h"

#include "exchange/results/word_roles.h"
#include <algorithm>
#include <map>

namespace alder {
namespace {

class Sorting {
 public:
  explicit Sorting(const LookedFile& file)
      : file_(file) {}

  // Lines of one sort have their figures at the same places.
  SortedLines sort() {
    std::map<std::string, std::size_t> known;
    std::size_t all = 0;
    std::map<std::string, std::size_t> labelled;
    for (std::size_t i = 0; i < file_.lines.size(); ++i) {
      all += file_.lines[i].look == LineLook::Figures;
      if (const std::string key = labelKey(i); !key.empty()) ++labelled[key];
    }
    for (std::size_t i = 0; i < file_.lines.size(); ++i) {
      std::string key = labelKey(i);
      // One name that happens to be such a word makes no sort.
      if (!key.empty() && labelled[key] * 12 < all && labelled[key] < 3) key.clear();
      if (key.empty() && file_.lines[i].look != LineLook::Figures) continue;
      if (key.empty()) key = tableKey(i);
      const auto [found, fresh] = known.emplace(key, sorted_.sorts.size());
      if (fresh) sorted_.sorts.push_back({key, {}, {}, {}, {}});
      sorted_.sorts[found->second].lines.push_back(i);
      sorted_.sequence.emplace_back(i, found->second);
    }
    for (LineSort& s : sorted_.sorts)
      findPlaces(s);
    return std::move(sorted_);
  }

 private:
  bool table() const { return file_.layout.rule != CellRule::Blanks; }
  const std::vector<Cell>& cells(std::size_t line) const { return file_.lines[line].cells; }

  std::string labelKey(std::size_t i) const {
    const LookedLine& l = file_.lines[i];
    if (l.look != LineLook::Figures && l.look != LineLook::Text) return {};
    if (table() && file_.titles) return {};
    std::string key;
    for (const Label& label : l.labels)
      if (!isOfPart(label.role)) key += label.word + "|";
    if (key.empty()) return {};
    // Figures that no label speaks for make another sort.
    return "L:" + key + std::to_string(l.figures);
  }
  std::string tableKey(std::size_t i) const {
    const LookedLine& l = file_.lines[i];
    if (file_.layout.rule == CellRule::Columns) return "C";
    if (table()) return file_.titles ? "T" : "T" + std::to_string(l.cells.size());
    return "F" + std::to_string(l.figures) + "W" + std::to_string(l.words);
  }

  void findPlaces(LineSort& s) {
    if (s.key.starts_with("L:"))
      labelPlaces(s);
    else if (table())
      tablePlaces(s);
    else
      tailPlaces(s);
  }

  void labelPlaces(LineSort& s) {
    const LookedLine& l = file_.lines[s.lines.front()];
    for (const Label& label : l.labels) {
      if (isOfPart(label.role)) continue;
      if (!isFigure(label.role)) {
        s.words.push_back({0, -1, label.word});
        continue;
      }
      // Further figures behind it, up to the next word.
      const auto behind = cellsAt({0, -1, label.word}, l.cells);
      for (int k = 0; k < static_cast<int>(behind.size()); ++k) {
        if (!resultFigure(behind[static_cast<std::size_t>(k)].text, file_.decimal)) break;
        s.figures.push_back({k, k, label.word});
      }
    }
    // What stands to the left of the first label.
    const std::string& first = l.labels.front().word;
    const std::string beginning = first.substr(0, first.find(' '));
    std::vector<std::size_t> left;
    for (const std::size_t i : s.lines) {
      std::size_t n = 0;
      while (n < cells(i).size() && !plainWord(cells(i)[n].text).starts_with(beginning))
        ++n;
      left.push_back(n);
    }
    if (!isFigure(l.labels.front().role)) return;
    // Figures right before it, as many as all lines have.
    std::size_t before = 10;
    for (std::size_t k = 0; k < s.lines.size(); ++k) {
      std::size_t n = 0;
      while (n < left[k] &&
             resultFigure(cells(s.lines[k])[left[k] - n - 1].text, file_.decimal).has_value())
        ++n;
      before = std::min(before, n);
    }
    const std::size_t behind = cells(s.lines.front()).size() - left.front();
    for (std::size_t k = before; k > 0; --k) {
      const int place = -static_cast<int>(behind + k);
      s.figures.push_back({place, place, {}});
    }
    for (std::size_t& n : left)
      n -= before;
    leftPlaces(s, left, behind + before);
  }

  void tablePlaces(LineSort& s) {
    std::size_t width = 0;
    for (const std::size_t i : s.lines)
      width = std::max(width, cells(i).size());
    for (std::size_t c = 0; c < std::min<std::size_t>(width, 64); ++c) {
      std::size_t filled = 0, figures = 0, decimals = 0;
      for (const std::size_t i : s.lines) {
        if (c >= cells(i).size() || isNoFigure(cells(i)[c].text)) continue;
        ++filled;
        const auto f = resultFigure(cells(i)[c].text, file_.decimal);
        figures += f.has_value(), decimals += f && f->decimals > 0;
      }
      const int at = static_cast<int>(c);
      const auto titled = titleAt(file_, at);
      const bool counts = figures * 10 >= filled * 9 && filled > 0 &&
                          (isFigure(titled) || (titled == ResultRole::None && decimals > 0) ||
                           pointedFigure(s, at));
      const bool goes_on = !counts && c > 0 && !s.words.empty() && s.words.back().last == at - 1 &&
                           partOfName(s, s.words.back(), at);
      if (goes_on)
        s.words.back().last = at;
      else
        (counts ? s.figures : s.words).push_back({at, at, {}});
    }
  }
  // Blanks that stand below each other by chance part no columns.
  bool partOfName(const LineSort& s, const CellPlace& before, int column) const {
    if (file_.layout.rule != CellRule::Columns) return false;
    if (file_.titles)
      return static_cast<std::size_t>(column) >= cells(*file_.titles).size() ||
             cells(*file_.titles)[static_cast<std::size_t>(column)].text.empty();
    std::vector<std::string> left, right;
    for (const std::size_t i : s.lines) {
      left.push_back(textAt(before, cells(i)));
      right.push_back(textAt({column, column, {}}, cells(i)));
    }
    return !areNumbers(left) && shareOf(right, isAxisWord) <= 0.7 &&
           shareOf(right, isUnitWord) <= 0.7 && shareOf(right, isStatusWord) <= 0.7;
  }
  bool pointedFigure(const LineSort& s, int column) const {
    return std::any_of(file_.pointings.begin(), file_.pointings.end(), [&](const Pointing& p) {
      return isFigure(p.role) && lineIn(s, p.line) &&
             overlaps({column, column, {}}, cells(p.line), p);
    });
  }
  void tailPlaces(LineSort& s) {
    const LookedLine& l = file_.lines[s.lines.front()];
    const int figures = static_cast<int>(l.figures), behind = static_cast<int>(l.words);
    for (int k = figures; k > 0; --k)
      s.figures.push_back({-behind - k, -behind - k, {}});
    for (int k = behind; k > 0; --k)
      s.words.push_back({-k, -k, {}});
    std::vector<std::size_t> left;
    for (const std::size_t i : s.lines)
      left.push_back(cells(i).size() - l.figures - l.words);
    leftPlaces(s, left, l.figures + l.words);
  }

  // Words to the left of the figures, so many in each line, with so many cells behind them.
  void leftPlaces(LineSort& s, const std::vector<std::size_t>& left, std::size_t behind) {
    const auto [least, most] = std::minmax_element(left.begin(), left.end());
    const int end = -static_cast<int>(behind) - 1; // the last cell of them
    if (*least == *most && file_.layout.gap > 1) {
      for (int c = 0; c < static_cast<int>(*most); ++c)
        s.words.push_back({c, c, {}});
      return;
    }
    // Names of one word and of more: a number before them and an axis behind them stand by
    // themselves.
    std::vector<std::string> firsts, lasts;
    for (std::size_t k = 0; k < s.lines.size(); ++k)
      if (left[k] > 0) {
        firsts.push_back(cells(s.lines[k]).front().text);
        lasts.push_back(cells(s.lines[k])[left[k] - 1].text);
      }
    const bool number = *least >= 1 && areNumbers(firsts);
    const bool axis = *least >= 1 && shareOf(lasts, isAxisWord) > 0.7;
    if (number) s.words.push_back({0, 0, {}});
    if (axis) s.words.push_back({end, end, {}});
    s.words.push_back({number ? 1 : 0, axis ? end - 1 : end, {}});
  }

  const LookedFile& file_;
  SortedLines sorted_;
};

} // namespace

SortedLines sortedLines(const LookedFile& file) {
  return Sorting(file).sort();
}

bool lineIn(const LineSort& sort, std::size_t line) {
  return std::binary_search(sort.lines.begin(), sort.lines.end(), line);
}

bool overlaps(const CellPlace& place, const std::vector<Cell>& cells, const Pointing& p) {
  const auto there = cellsAt(place, cells);
  return !there.empty() && there.front().from < std::max(p.to, p.from + 1) &&
         p.from < there.back().to;
}

ResultRole titleAt(const LookedFile& file, int column) {
  if (!file.titles || file.layout.rule == CellRule::Blanks) return ResultRole::None;
  const auto& all = file.lines[*file.titles].cells;
  return column < static_cast<int>(all.size())
             ? roleOfWord(all[static_cast<std::size_t>(column)].text)
             : ResultRole::None;
}

} // namespace alder
