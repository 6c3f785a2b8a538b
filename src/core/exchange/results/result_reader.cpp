#include "exchange/results/result_reader.h"

#include "base/units.h"
#include <algorithm>
#include <cmath>
#include <map>

namespace alder {
namespace {

struct TakenFigure {
  double value = 0;
  double last_digit = 0;
  bool degrees = false;
};

// What was said of a result so far; headings and columns hand it on.
struct Said {
  std::map<ResultRole, std::string> words;
  std::map<ResultRole, ResultFigure> figures;
  std::map<ResultRole, FigureUnit> units; // of the figures, as the kind has them
  int line = 0;
};

// A word of the name, such as "Seat angle", that is not an abbreviation.
bool saysAngle(std::string_view name) {
  for (std::size_t at = 0; at < name.size();) {
    const auto end = std::min(name.find(' ', at), name.size());
    const auto word = name.substr(at, end - at);
    const auto said = word.size() > 2 ? characteristicOfWord(word) : std::nullopt;
    if (said && said->kind == Characteristic::Angle) return true;
    at = end + 1;
  }
  return false;
}

bool saysAngle(const Said& said) {
  for (const auto& [role, figure] : said.figures)
    if (figure.unit == FigureUnit::Degree) return true;
  for (const auto& [role, unit] : said.units)
    if (unit == FigureUnit::Degree) return true;
  const auto word = [&](ResultRole role) {
    const auto found = said.words.find(role);
    return found == said.words.end() ? std::string_view() : std::string_view(found->second);
  };
  if (figureUnitNamed(word(ResultRole::Unit)) == FigureUnit::Degree) return true;
  // "Angle 0.05" without a nominal is an angularity, which is a length.
  const auto nominal = said.figures.find(ResultRole::Nominal);
  if (nominal == said.figures.end() || nominal->second.value == 0) return false;
  if (const auto axis = characteristicOfWord(word(ResultRole::Axis)))
    return axis->kind == Characteristic::Angle;
  return saysAngle(word(ResultRole::Name));
}

class Reader {
 public:
  Reader(const ResultText& text, const FileKind& kind)
      : text_(text)
      , kind_(kind) {}

  ResultsRead read() {
    for (std::size_t i = 0; i < text_.lines.size(); ++i)
      readLine(i);
    finish();
    std::erase_if(read_.parts, [](const ResultsOfPart& p) { return p.values.empty(); });
    if (disagreeing_ > read_.remarks.size())
      read_.remarks.push_back(
          fmt::format("{} more lines like these.", disagreeing_ - read_.remarks.size()));
    return std::move(read_);
  }

 private:
  void readLine(std::size_t index) {
    const std::string& line = text_.lines[index];
    ReadLine& told = read_.lines.emplace_back();
    const auto [rule, cells] = ruledLine(kind_, line);
    if (cells.empty()) return;
    if (!rule) {
      told.not_read = holdsFigure(cells);
      return;
    }
    const LineRule& r = *rule;
    told.use = r.use;
    for (const KindField& f : r.fields)
      tellSpan(f, cells, told);
    const int number = static_cast<int>(index) + 1;
    switch (r.use) {
    case LineUse::Record:
      finish();
      open_ = heading_;
      has_open_ = true;
      take(r, cells, number, open_);
      break;
    case LineUse::More:
      if (!has_open_)
        told.not_read = holdsFigure(cells), told.spans.clear();
      else
        take(r, cells, number, open_);
      break;
    case LineUse::Heading:
      finish();
      heading_ = {};
      take(r, cells, number, heading_);
      break;
    case LineUse::Part:
      finish();
      sayOfPart(r, cells);
      told.not_read = holdsFigureBeside(cells, told.spans);
      break;
    case LineUse::Across:
      across(r, cells, number);
      break;
    case LineUse::Passed:
      break;
    }
  }

  // A figure with decimals where nothing was read; whole ones number pages and parts.
  bool holdsFigureBeside(const std::vector<Cell>& cells, const std::vector<ReadSpan>& spans) const {
    return std::any_of(cells.begin(), cells.end(), [&](const Cell& c) {
      const auto figure = resultFigure(c.text, kind_.decimal);
      return figure && figure->decimals > 0 &&
             std::none_of(spans.begin(), spans.end(),
                          [&](const ReadSpan& s) { return s.from <= c.from && c.to <= s.to; });
    });
  }

  // Of the cells that hold something.
  static void tellSpan(const KindField& f, const std::vector<Cell>& cells, ReadLine& told) {
    std::optional<ReadSpan> span;
    for (const Cell& c : cellsAt(f.place, cells)) {
      if (c.text.empty()) continue;
      if (!span) span = ReadSpan{c.from, c.to, f.role};
      span->to = c.to;
    }
    if (span) told.spans.push_back(*span);
  }

  bool holdsFigure(const std::vector<Cell>& cells) const {
    return std::any_of(cells.begin(), cells.end(), [&](const Cell& c) {
      return resultFigure(c.text, kind_.decimal).has_value();
    });
  }

  void take(const LineRule& rule, const std::vector<Cell>& cells, int line, Said& said) const {
    for (const KindField& f : rule.fields)
      takeText(f, textAt(f.place, cells), line, said);
  }

  void takeText(const KindField& f, const std::string& text, int line, Said& said) const {
    if (!isFigure(f.role)) {
      if (!text.empty()) said.words[f.role] = text;
      if (said.line == 0) said.line = line;
      return;
    }
    const auto figure = resultFigure(text, kind_.decimal);
    if (!figure) return;
    said.figures[f.role] = *figure;
    said.units[f.role] = f.unit;
    if (f.role == ResultRole::Actual || said.line == 0) said.line = line;
  }

  void finish() {
    if (!has_open_) return;
    has_open_ = false;
    add(open_);
  }

  void sayOfPart(const LineRule& rule, const std::vector<Cell>& cells) {
    std::map<ResultRole, std::string> said;
    for (const KindField& f : rule.fields)
      if (std::string text = textAt(f.place, cells); !text.empty() && isOfPart(f.role))
        said[f.role] = std::move(text);
    tellOf(said);
  }

  // Another serial number begins another part; the rest belongs to the part at hand.
  void tellOf(const std::map<ResultRole, std::string>& said) {
    const auto serial = said.find(ResultRole::Serial);
    if (read_.parts.empty() ||
        (serial != said.end() && serial->second != part().serial && !part().values.empty())) {
      // One and the same part may come again further down.
      const auto known = serial != said.end() ? by_serial_.find(serial->second) : by_serial_.end();
      if (known != by_serial_.end()) {
        current_ = known->second;
      } else {
        // Date, operator and machine hold on until others are named.
        ResultsOfPart next = read_.parts.empty() ? ResultsOfPart{} : part();
        next.values.clear(), next.serial.clear();
        read_.parts.push_back(std::move(next));
        current_ = read_.parts.size() - 1;
      }
    }
    for (const auto& [role, text] : said) {
      if (role == ResultRole::Serial) {
        part().serial = text;
        by_serial_.emplace(text, std::min(current_, read_.parts.size() - 1));
      }
      if (role == ResultRole::Date) part().date = text;
      if (role == ResultRole::Operator) part().operated_by = text;
      if (role == ResultRole::Machine) part().machine = text;
    }
  }

  ResultsOfPart& part() {
    if (read_.parts.empty()) read_.parts.emplace_back();
    return read_.parts[std::min(current_, read_.parts.size() - 1)];
  }

  void across(const LineRule& rule, const std::vector<Cell>& cells, int line) {
    const bool values = std::any_of(rule.fields.begin(), rule.fields.end(), [](const KindField& f) {
      return f.role == ResultRole::Actual;
    });
    if (values) sayOfPart(rule, cells);
    std::map<std::size_t, Said> row;
    for (const KindField& f : rule.fields) {
      if (isOfPart(f.role)) continue;
      for (const Cell& c : cellsAt(f.place, cells)) {
        const auto column =
            static_cast<std::size_t>(std::find_if(cells.begin(), cells.end(),
                                                  [&](const Cell& k) { return k.from == c.from; }) -
                                     cells.begin());
        takeText(f, c.text, line,
                 values ? row.try_emplace(column, columns_[column]).first->second
                        : columns_[column]);
      }
    }
    for (auto& [column, said] : row) {
      said.line = line;
      if (said.figures.contains(ResultRole::Actual)) add(said);
    }
  }

  std::optional<TakenFigure> figureOf(const Said& said, ResultRole role, bool angle) const {
    const auto found = said.figures.find(role);
    if (found == said.figures.end()) return {};
    const ResultFigure& f = found->second;
    FigureUnit unit = f.unit;
    if (unit == FigureUnit::None) unit = said.units.at(role);
    if (unit == FigureUnit::None)
      if (const auto word = said.words.find(ResultRole::Unit); word != said.words.end())
        unit = figureUnitNamed(word->second).value_or(FigureUnit::None);
    if (unit == FigureUnit::None) unit = kind_.unit;
    const double scale = angle                            ? 1
                         : unit == FigureUnit::Inch       ? kMmPerInch
                         : unit == FigureUnit::Micrometre ? 1e-3
                                                          : 1;
    return TakenFigure{f.value * scale, std::pow(10.0, -f.decimals) * scale, angle};
  }

  void add(const Said& said) {
    StatedResult r;
    r.line = said.line;
    const auto word = [&](ResultRole role) {
      const auto found = said.words.find(role);
      return found == said.words.end() ? std::string() : found->second;
    };
    r.name = word(ResultRole::Name), r.feature = word(ResultRole::Feature);
    r.axis = word(ResultRole::Axis), r.id = word(ResultRole::Id);
    r.datums = word(ResultRole::Datums), r.status = word(ResultRole::Status);
    r.degrees = saysAngle(said);
    const auto value = [&](ResultRole role) -> std::optional<double> {
      const auto f = figureOf(said, role, r.degrees);
      return f ? std::optional(f->value) : std::nullopt;
    };
    r.nominal = value(ResultRole::Nominal), r.actual = value(ResultRole::Actual);
    r.deviation = value(ResultRole::Deviation), r.tolerance = value(ResultRole::Tolerance);
    const auto digits =
        figureOf(said, r.actual ? ResultRole::Actual : ResultRole::Deviation, r.degrees);
    r.last_digit = digits ? digits->last_digit : 0;
    if (!r.actual && r.deviation) {
      r.actual = r.nominal.value_or(0) + *r.deviation;
      r.from_deviation = true;
    }
    if (!r.actual) return;
    limits(value, r);
    checkSums(r);
    std::map<ResultRole, std::string> of_part;
    for (const auto& [role, text] : said.words)
      if (isOfPart(role)) of_part[role] = text;
    if (!of_part.empty()) tellOf(of_part);
    part().values.push_back(std::move(r));
  }

  template <class Value> static void limits(const Value& value, StatedResult& r) {
    const double nominal = r.nominal.value_or(0);
    r.upper = value(ResultRole::Upper), r.lower = value(ResultRole::Lower);
    auto above = value(ResultRole::UpperDeviation), below = value(ResultRole::LowerDeviation);
    // Both without a sign and the same: to both sides.
    if (above && below && *above == *below && *above > 0 && nominal != 0) below = -*below;
    if (!r.upper && above) r.upper = nominal + *above;
    if (!r.lower && below) r.lower = nominal + *below;
  }

  // A file whose figures contradict each other is not to be trusted blindly.
  void checkSums(const StatedResult& r) {
    if (!r.nominal || !r.actual || !r.deviation || r.from_deviation) return;
    const double off = std::abs(*r.actual - *r.nominal - *r.deviation);
    if (off <= 2.5 * std::max(r.last_digit, 1e-9)) return;
    constexpr std::size_t kMost = 20;
    ++disagreeing_;
    if (read_.remarks.size() < kMost)
      read_.remarks.push_back(
          fmt::format("Line {}: actual less nominal is {:.6g}, the file says {:.6g}.", r.line,
                      *r.actual - *r.nominal, *r.deviation));
  }

  const ResultText& text_;
  const FileKind& kind_;
  ResultsRead read_;
  Said heading_, open_;
  bool has_open_ = false;
  std::map<std::size_t, Said> columns_; // of characteristics that stand side by side
  std::size_t current_ = 0;
  std::map<std::string, std::size_t> by_serial_;
  std::size_t disagreeing_ = 0;
};

} // namespace

std::string calledIn(const StatedResult& v) {
  std::string name;
  for (const std::string* word : {&v.id, &v.feature, &v.name, &v.axis})
    if (!word->empty()) name += (name.empty() ? "" : " ") + *word;
  return name;
}

std::size_t ResultsRead::notRead() const {
  return static_cast<std::size_t>(
      std::count_if(lines.begin(), lines.end(), [](const ReadLine& l) { return l.not_read; }));
}

std::size_t ResultsRead::values() const {
  std::size_t sum = 0;
  for (const ResultsOfPart& p : parts)
    sum += p.values.size();
  return sum;
}

ResultsRead readResults(const ResultText& text, const FileKind& kind) {
  return Reader(text, kind).read();
}

} // namespace alder
