#include "exchange/results/kind_rules.h"

#include "exchange/results/across_rules.h"
#include "exchange/results/column_roles.h"
#include "exchange/results/line_sorts.h"
#include "exchange/results/word_roles.h"
#include <algorithm>
#include <map>
#include <set>

namespace alder {
namespace {

class Rules {
 public:
  Rules(const ResultText& text, const CellLayout& layout, char decimal,
        const std::vector<Pointing>& pointings)
      : text_(text)
      , pointings_(pointings)
      , lines_(lookedLines(text, layout, decimal)) {
    kind_.layout = layout;
    kind_.decimal = decimal;
  }

  FileKind make() {
    findUnit();
    findTitles();
    partRules();
    pageRules();
    if (!acrossRules(text_, lines_, kind_)) {
      sorted_ = sortedLines({text_, lines_, kind_.layout, kind_.decimal, titles_, pointings_});
      if (!cycle())
        for (LineSort& s : sorted_.sorts)
          record({&s});
      headingRule();
    }
    return std::move(kind_);
  }

 private:
  bool table() const { return kind_.layout.rule != CellRule::Blanks; }
  const std::vector<Cell>& cells(std::size_t line) const { return lines_[line].cells; }

  void findUnit() {
    int inch = 0, mm = 0;
    for (std::size_t i = 0; i < lines_.size(); ++i) {
      if (lines_[i].look == LineLook::Figures || lines_[i].look == LineLook::Blank) continue;
      std::string word;
      for (const char c : text_.lines[i] + " ") {
        if (std::isalpha(static_cast<unsigned char>(c))) {
          word += c;
          continue;
        }
        const auto unit = figureUnitNamed(word);
        // "in" is a word of English too.
        if (unit == FigureUnit::Inch && (word.size() > 2 || word == "IN" || c == ']' || c == ')'))
          ++inch;
        mm += unit == FigureUnit::Millimetre;
        word.clear();
      }
    }
    if (inch > mm) kind_.unit = FigureUnit::Inch;
  }

  void findTitles() {
    for (std::size_t i = 0; i < lines_.size(); ++i)
      if (lines_[i].look == LineLook::Titles) {
        if (!titles_) titles_ = i;
        passRule(text_.lines[i]);
        addMark(kind_, text_.lines[i]);
      }
  }
  void passRule(const std::string& line) {
    LineRule rule;
    rule.begins = plainWord(line);
    constexpr std::size_t kMostRules = 60;
    if (rule.begins.empty() || kind_.rules.size() > kMostRules) return;
    if (std::find(kind_.rules.begin(), kind_.rules.end(), rule) == kind_.rules.end())
      kind_.rules.push_back(std::move(rule));
  }
  void partRules() {
    std::set<std::string> known;
    for (std::size_t i = 0; i < lines_.size(); ++i) {
      LineRule rule;
      rule.use = LineUse::Part;
      if (lines_[i].look == LineLook::OfPart)
        for (const Label& l : lines_[i].labels)
          if (isOfPart(l.role)) rule.fields.push_back({l.role, placeBehind(l.word, cells(i)), {}});
      for (const Pointing& p : pointings_)
        if (p.line == i && isOfPart(p.role)) pointAtPart(p, rule);
      if (rule.fields.empty()) continue;
      if (pointedAt(i)) lines_[i].look = LineLook::OfPart;
      std::string key;
      for (const KindField& f : rule.fields)
        key += std::string(name(f.role)) + f.place.after + "|";
      if (known.insert(key).second) kind_.rules.push_back(std::move(rule));
    }
  }
  // One cell, unless single words are cells or the next one is empty.
  CellPlace placeBehind(const std::string& word, const std::vector<Cell>& all) const {
    const bool words = kind_.layout.rule == CellRule::Blanks && kind_.layout.gap == 1;
    const bool empty = textAt({0, 0, word}, all).empty();
    return {0, words || empty ? -1 : 0, word};
  }
  bool pointedAt(std::size_t line) const {
    return std::any_of(pointings_.begin(), pointings_.end(),
                       [&](const Pointing& p) { return p.line == line && isOfPart(p.role); });
  }
  // Behind the words that stand before it.
  void pointAtPart(const Pointing& p, LineRule& rule) const {
    std::erase_if(rule.fields, [&](const KindField& f) { return f.role == p.role; });
    const auto& all = cells(p.line);
    const auto at = static_cast<std::size_t>(
        std::find_if(all.begin(), all.end(), [&](const Cell& c) { return c.to > p.from; }) -
        all.begin());
    if (at >= all.size()) return;
    const auto colon = all[at].text.find_first_of(":=");
    std::string word;
    if (colon != std::string::npos && all[at].from + colon < p.from)
      word = plainWord(all[at].text.substr(0, colon));
    else if (at > 0)
      word = plainWord(all[at - 1].text);
    const int place = static_cast<int>(at);
    if (!word.empty())
      rule.fields.push_back({p.role, {0, 0, word}, {}});
    else
      rule.fields.push_back({p.role, {place, place, {}}, {}});
    if (rule.begins.empty() && word.empty()) rule.most = all.size(), rule.least = all.size();
  }

  void pageRules() {
    for (std::size_t i = 0; i < lines_.size(); ++i)
      if (lines_[i].look == LineLook::Page) {
        LineRule rule;
        for (const Cell& c : cells(i)) {
          rule.begins = plainWord(c.text.substr(0, c.text.find_first_of("0123456789")));
          break;
        }
        if (!rule.begins.empty() &&
            std::find(kind_.rules.begin(), kind_.rules.end(), rule) == kind_.rules.end())
          kind_.rules.push_back(std::move(rule));
      }
  }

  FigureUnit titledUnit(const std::string& title) const {
    const auto open = title.find_first_of("[(");
    if (open == std::string::npos) return FigureUnit::None;
    const auto close = title.find_first_of("])", open);
    const auto unit = figureUnitNamed(title.substr(open + 1, close - open - 1));
    // What the whole file is in needs no word.
    return !unit || *unit == kind_.unit ? FigureUnit::None : *unit;
  }

  // How often a title stands above a place, and its words.
  std::map<ResultRole, double> titlesAbove(const LineSort& s, const CellPlace& place,
                                           FigureUnit& unit) const {
    std::map<ResultRole, double> votes;
    if (!titles_) return votes;
    const std::vector<Cell> titles = joinedTitleCells();
    const std::string& title_line = text_.lines[*titles_];
    for (const std::size_t i : s.lines) {
      const auto there = cellsAt(place, cells(i));
      if (there.empty()) continue;
      const Cell* title = nullptr;
      if (table()) {
        if (place.first >= 0 && static_cast<std::size_t>(place.first) < cells(*titles_).size())
          title = &cells(*titles_)[static_cast<std::size_t>(place.first)];
      } else {
        // Figures stand flush with one end of their title, or below its middle.
        const auto from = columnOf(text_.lines[i], there.front().from),
                   to = columnOf(text_.lines[i], there.back().to);
        double best = 1e9;
        for (const Cell& t : titles) {
          const auto a = columnOf(title_line, t.from), b = columnOf(title_line, t.to);
          const auto apart = [](std::size_t x, std::size_t y) {
            return std::abs(static_cast<double>(x) - static_cast<double>(y));
          };
          const double off = std::min({apart(a, from), apart(b, to), apart(a + b, from + to) / 2});
          if (off < best) best = off, title = &t;
        }
        if (best > 6) title = nullptr;
      }
      if (!title) continue;
      const ResultRole role = roleOfWord(title->text);
      if (role != ResultRole::None) votes[role] += 1;
      if (const FigureUnit u = titledUnit(title->text); u != FigureUnit::None) unit = u;
    }
    const double rows = static_cast<double>(s.lines.size());
    for (auto& [role, count] : votes)
      count /= rows;
    return votes;
  }
  // Titles of two words that were cut apart.
  std::vector<Cell> joinedTitleCells() const {
    std::vector<Cell> joined;
    const auto& all = cells(*titles_);
    for (std::size_t i = 0; i < all.size(); ++i) {
      if (i + 1 < all.size()) {
        const std::string two = all[i].text + " " + all[i + 1].text;
        if (roleOfWord(two) != ResultRole::None) {
          joined.push_back({two, all[i].from, all[i + 1].to});
          ++i;
          continue;
        }
      }
      joined.push_back(all[i]);
    }
    return joined;
  }

  // Several sorts one behind the other, again and again, are one record.
  bool cycle() {
    std::map<std::size_t, std::size_t> counts;
    for (const auto& [line, sort] : sorted_.sequence)
      ++counts[sort];
    std::size_t most = 0;
    for (const auto& [sort, count] : counts)
      most = std::max(most, count);
    std::vector<std::size_t> order; // of the sorts that come about as often
    for (const auto& [line, sort] : sorted_.sequence)
      if (counts[sort] * 10 >= most * 6 &&
          std::find(order.begin(), order.end(), sort) == order.end())
        order.push_back(sort);
    if (order.size() < 2 || most < 2) return false;
    std::vector<std::vector<std::size_t>> rounds;
    for (const auto& [line, sort] : sorted_.sequence) {
      if (std::find(order.begin(), order.end(), sort) == order.end()) continue;
      if (sort == order.front()) rounds.emplace_back();
      if (!rounds.empty()) rounds.back().push_back(sort);
    }
    std::size_t good = 0;
    for (const auto& r : rounds) {
      std::vector<std::size_t> part = r;
      // Some may lack a piece, none may have one twice.
      std::sort(part.begin(), part.end());
      good += part.size() >= 2 && std::adjacent_find(part.begin(), part.end()) == part.end() &&
              std::is_sorted(r.begin(), r.end(), [&](std::size_t a, std::size_t b) {
                return std::find(order.begin(), order.end(), a) <
                       std::find(order.begin(), order.end(), b);
              });
    }
    if (good * 10 < rounds.size() * 8) return false;
    std::vector<LineSort*> together;
    for (const std::size_t sort : order)
      together.push_back(&sorted_.sorts[sort]);
    record(together);
    for (std::size_t s = 0; s < sorted_.sorts.size(); ++s)
      if (std::find(order.begin(), order.end(), s) == order.end()) record({&sorted_.sorts[s]});
    return true;
  }

  // Rows of a record: the line of each sort, by the lines of the first.
  std::vector<std::vector<std::optional<std::size_t>>> rowsOf(const std::vector<LineSort*>& sorts) {
    std::vector<std::vector<std::optional<std::size_t>>> rows;
    for (std::size_t k = 0; k < sorts.front()->lines.size(); ++k) {
      const std::size_t begin = sorts.front()->lines[k];
      const std::size_t end =
          k + 1 < sorts.front()->lines.size() ? sorts.front()->lines[k + 1] : lines_.size();
      std::vector<std::optional<std::size_t>> row{begin};
      for (std::size_t s = 1; s < sorts.size(); ++s) {
        const auto& own = sorts[s]->lines;
        const auto found = std::upper_bound(own.begin(), own.end(), begin);
        row.push_back(found != own.end() && *found < end ? std::optional(*found) : std::nullopt);
      }
      rows.push_back(std::move(row));
    }
    return rows;
  }

  void record(const std::vector<LineSort*>& sorts) {
    const auto rows = rowsOf(sorts);
    std::vector<FigureColumn> figures;
    std::vector<WordColumn> words;
    std::vector<FigureUnit> units;
    std::vector<std::pair<std::size_t, std::size_t>> figure_of, word_of; // sort, place
    for (std::size_t s = 0; s < sorts.size(); ++s) {
      for (std::size_t p = 0; p < sorts[s]->figures.size(); ++p) {
        if (numbersCharacteristics(*sorts[s], sorts[s]->figures[p])) {
          words.push_back(wordColumn(*sorts[s], sorts[s]->figures[p], s, rows));
          sorts[s]->words.push_back(sorts[s]->figures[p]);
          word_of.emplace_back(s, sorts[s]->words.size() - 1);
          continue;
        }
        units.push_back(FigureUnit::None);
        figures.push_back(figureColumn(*sorts[s], sorts[s]->figures[p], s, rows, units.back()));
        figure_of.emplace_back(s, p);
      }
      for (std::size_t p = 0; p < sorts[s]->words.size(); ++p) {
        if (std::find(word_of.begin(), word_of.end(), std::pair(s, p)) != word_of.end()) continue;
        words.push_back(wordColumn(*sorts[s], sorts[s]->words[p], s, rows));
        word_of.emplace_back(s, p);
      }
    }
    if (figures.empty()) return;
    const ColumnRoles found = columnRoles(figures);
    const std::vector<ResultRole> said = wordRoles(words);
    for (std::size_t i = 0; i < figures.size(); ++i)
      if (found.roles[i] != ResultRole::None) {
        LineSort& s = *sorts[figure_of[i].first];
        s.fields.push_back({found.roles[i], s.figures[figure_of[i].second], units[i]});
      }
    for (std::size_t i = 0; i < words.size(); ++i)
      if (said[i] != ResultRole::None) {
        LineSort& s = *sorts[word_of[i].first];
        s.fields.push_back({said[i], s.words[word_of[i].second], FigureUnit::None});
      }
    named_ |= std::any_of(said.begin(), said.end(), [](ResultRole r) {
      return r == ResultRole::Name || r == ResultRole::Feature;
    });
    bool first = true;
    for (LineSort* s : sorts) {
      addRule(*s, first ? LineUse::Record : LineUse::More);
      first = false;
    }
  }

  static void eitherWay(ResultRole a, ResultRole b, std::map<ResultRole, double>& titled) {
    constexpr double kLess = 0.7;
    const double is_a = titled.contains(a) ? titled[a] : 0,
                 is_b = titled.contains(b) ? titled[b] : 0;
    if (is_a > 0) titled[b] = std::max(is_b, kLess * is_a);
    if (is_b > 0) titled[a] = std::max(is_a, kLess * is_b);
  }

  // 1, 2, 3 down the lines, without a title that says otherwise.
  bool numbersCharacteristics(const LineSort& s, const CellPlace& place) const {
    if (!place.after.empty() || s.lines.size() < 2 || pointedRole(s, place)) return false;
    FigureUnit unit = FigureUnit::None;
    for (const auto& [role, share] : titlesAbove(s, place, unit))
      if (share > 0.4) return role == ResultRole::Id;
    std::vector<std::string> rows;
    for (const std::size_t i : s.lines)
      rows.push_back(textAt(place, cells(i)));
    return rows.front() == "1" && areNumbers(rows);
  }

  FigureColumn figureColumn(const LineSort& s, const CellPlace& place, std::size_t index,
                            const std::vector<std::vector<std::optional<std::size_t>>>& rows,
                            FigureUnit& unit) const {
    FigureColumn column;
    for (const auto& row : rows)
      column.rows.push_back(row[index]
                                ? resultFigure(textAt(place, cells(*row[index])), kind_.decimal)
                                : std::nullopt);
    column.titled = titlesAbove(s, place, unit);
    if (!place.after.empty()) {
      const bool two = std::count_if(s.figures.begin(), s.figures.end(), [&](const CellPlace& p) {
                         return p.after == place.after;
                       }) > 1;
      const ResultRole role = roleOfWord(place.after);
      // "Tol +0.025 0": both limits behind one word.
      if (role == ResultRole::Tolerance && two)
        column.titled[place.first == 0 ? ResultRole::UpperDeviation : ResultRole::LowerDeviation] =
            1;
      else if (place.first == 0)
        column.titled[role] = 1;
    }
    const bool both = std::any_of(column.rows.begin(), column.rows.end(),
                                  [](const auto& f) { return f && f->plus_minus; });
    if (both) column.titled[ResultRole::Tolerance] = 1;
    // "Upper" is a limit or its distance from the nominal; the sums know.
    for (const auto& [limit, from_nominal] :
         {std::pair(ResultRole::Upper, ResultRole::UpperDeviation),
          {ResultRole::Lower, ResultRole::LowerDeviation}})
      eitherWay(limit, from_nominal, column.titled);
    column.set = pointedRole(s, place);
    return column;
  }
  WordColumn wordColumn(const LineSort& s, const CellPlace& place, std::size_t index,
                        const std::vector<std::vector<std::optional<std::size_t>>>& rows) const {
    WordColumn column;
    column.place = place;
    for (const auto& row : rows)
      column.rows.push_back(row[index] ? textAt(place, cells(*row[index])) : "");
    FigureUnit unit = FigureUnit::None;
    double most = 0.4;
    for (const auto& [role, share] : titlesAbove(s, place, unit))
      if (share > most) most = share, column.titled = role;
    if (!place.after.empty()) column.titled = roleOfWord(place.after);
    if (titles_ && table() && place.first == place.last) {
      const auto& all = cells(*titles_);
      const auto at = static_cast<std::size_t>(place.first);
      column.foreign_title =
          at < all.size() && !all[at].text.empty() && roleOfWord(all[at].text) == ResultRole::None;
    }
    column.set = pointedRole(s, place);
    return column;
  }
  std::optional<ResultRole> pointedRole(const LineSort& s, const CellPlace& place) const {
    std::optional<ResultRole> role;
    for (const Pointing& p : pointings_)
      if (!isOfPart(p.role) && lineIn(s, p.line) && overlaps(place, cells(p.line), p))
        role = p.role;
    return role;
  }

  void addRule(const LineSort& s, LineUse use) {
    if (s.fields.empty()) return;
    LineRule rule;
    rule.use = use;
    rule.fields = s.fields;
    if (s.key.starts_with("L:") && !lines_[s.lines.front()].labels.empty()) {
      const std::string& word = lines_[s.lines.front()].labels.front().word;
      const bool begins = std::all_of(s.lines.begin(), s.lines.end(), [&](std::size_t i) {
        return plainWord(text_.lines[i]).starts_with(word);
      });
      if (begins) rule.begins = word;
    } else {
      for (const KindField& f : rule.fields)
        if (f.role == ResultRole::Actual || f.role == ResultRole::Nominal)
          rule.least = std::max<std::size_t>(
              rule.least,
              static_cast<std::size_t>(f.place.first >= 0 ? f.place.first + 1 : -f.place.first));
    }
    // What would read words as results is no rule.
    const auto wrong = std::count_if(lines_.begin(), lines_.end(), [&](const LookedLine& l) {
      const auto i = static_cast<std::size_t>(&l - lines_.data());
      return l.look == LineLook::Text && !lineIn(s, i) &&
             fits(rule, l.cells, text_.lines[i], kind_.decimal);
    });
    if (use == LineUse::Record && static_cast<std::size_t>(wrong) > s.lines.size()) return;
    // Those that ask for more come first.
    const auto place = std::find_if(kind_.rules.begin(), kind_.rules.end(), [&](const LineRule& r) {
      return r.use != LineUse::Part && r.use != LineUse::Passed && r.begins.empty() &&
             (!rule.begins.empty() || r.fields.size() < rule.fields.size());
    });
    kind_.rules.insert(place, std::move(rule));
  }

  // Lines of words right above results that have no name of their own.
  void headingRule() {
    std::optional<std::size_t> most;
    std::set<std::string> seen;
    bool pointed = false;
    ResultRole role = ResultRole::Feature;
    std::size_t headings = 0, words = 0;
    for (std::size_t i = 0; i < lines_.size(); ++i) {
      const bool here = std::any_of(pointings_.begin(), pointings_.end(), [&](const Pointing& p) {
        const bool name = p.role == ResultRole::Name || p.role == ResultRole::Feature;
        if (name && p.line == i && lines_[i].look == LineLook::Text) role = p.role;
        return name && p.line == i && lines_[i].look == LineLook::Text;
      });
      pointed |= here;
      if (lines_[i].look != LineLook::Text) continue;
      ++words;
      const auto next =
          std::find_if(lines_.begin() + static_cast<std::ptrdiff_t>(i) + 1, lines_.end(),
                       [](const LookedLine& l) {
                         return l.look != LineLook::Blank && l.look != LineLook::Titles;
                       });
      const bool above = next != lines_.end() && next->look == LineLook::Figures;
      if (!above && !here) continue;
      ++headings;
      most = std::max(most.value_or(0), cells(i).size());
      seen.insert(text_.lines[i]);
    }
    if (!most || (named_ && !pointed)) return;
    // Words that are no headings, and come again and again, are passed over by name.
    for (std::size_t i = 0; i < lines_.size(); ++i)
      if (lines_[i].look == LineLook::Text && !seen.contains(text_.lines[i]))
        passRule(text_.lines[i]);
    LineRule rule;
    rule.use = LineUse::Heading;
    rule.most = *most;
    rule.fields = {{role, {0, -1, {}}, FigureUnit::None}};
    kind_.rules.push_back(std::move(rule));
  }

  const ResultText& text_;
  const std::vector<Pointing>& pointings_;
  FileKind kind_;
  std::vector<LookedLine> lines_;
  std::optional<std::size_t> titles_;
  SortedLines sorted_;
  bool named_ = false;
};

} // namespace

FileKind kindFor(const ResultText& text, const CellLayout& layout, char decimal,
                 const std::vector<Pointing>& pointings) {
  return Rules(text, layout, decimal, pointings).make();
}

} // namespace alder
