#include "exchange/lists/requirement_list.h"

#include "base/units.h"
#include "exchange/lists/list_columns.h"
#include "exchange/results/result_words.h"
#include <algorithm>
#include <cmath>
#include <map>
#include <sstream>

namespace alder {
namespace {

using K = Characteristic;

// A callout that is put together, or why it cannot be.
struct Callout {
  std::string text;
  std::optional<K> kind; // known, where the text leaves it open
  std::string fault;
};

class ListReader {
 public:
  ListReader(const ResultText& text, ListHead head, const TypingSettings& settings)
      : text_(text)
      , head_(std::move(head))
      , settings_(settings)
      , decimal_(decimalOf(text, head_)) {
    if (head_.inch) settings_.unit = LengthUnit::Inch;
  }

  RequirementList read() {
    RequirementList list{head_.columns, head_.titles, {}, {}};
    for (std::size_t l = head_.line + 1; l < text_.lines.size(); ++l) {
      cells_.clear();
      const auto cells = cellsOf(text_.lines[l], head_.layout);
      for (std::size_t c = 0; c < cells.size() && c < head_.columns.size(); ++c) {
        std::string& cell = cells_[head_.columns[c]];
        // Two columns of words say one thing together.
        if (!cells[c].text.empty()) cell += (cell.empty() ? "" : " ") + cells[c].text;
      }
      cells_.erase(ListColumn::None);
      if (std::all_of(cells_.begin(), cells_.end(), [](const auto& c) { return c.second.empty(); }))
        continue;
      if (isTitles(cells)) continue; // again, on another page
      const Callout callout = put();
      if (callout.text.empty() && callout.fault.empty()) {
        list.passed.push_back(static_cast<int>(l) + 1);
        continue;
      }
      list.rows.push_back(row(static_cast<int>(l) + 1, callout));
    }
    return list;
  }

 private:
  const std::string& cell(ListColumn column) const {
    static const std::string none;
    const auto found = cells_.find(column);
    return found == cells_.end() ? none : found->second;
  }
  std::optional<ResultFigure> figure(ListColumn column) const {
    return resultFigure(cell(column), decimal_);
  }

  bool isTitles(const std::vector<Cell>& cells) const {
    std::size_t same = 0;
    for (std::size_t c = 0; c < cells.size() && c < head_.titles.size(); ++c)
      same += cells[c].text == head_.titles[c] && !cells[c].text.empty();
    return same > 1;
  }

  TypingSettings settings() const {
    TypingSettings s = settings_;
    if (const auto unit = figureUnitNamed(cell(ListColumn::Unit))) {
      if (*unit == FigureUnit::Inch) s.unit = LengthUnit::Inch;
      if (*unit == FigureUnit::Millimetre) s.unit = LengthUnit::Millimetre;
    }
    return s;
  }

  // With a decimal point, and all decimals that are written.
  std::string written(const ResultFigure& f) const {
    return fmt::format("{:.{}f}", f.value, f.decimals);
  }
  std::string signedFigure(double value, int decimals) const {
    const std::string text = fmt::format("{:+.{}f}", value, decimals);
    return std::abs(value) < 1e-12 ? "0" : text;
  }

  // The kind that a word of the row names.
  std::optional<CharacteristicWord> named() const {
    for (const ListColumn column : {ListColumn::Kind, ListColumn::Words}) {
      const std::string& text = cell(column);
      if (const auto whole = characteristicOfWord(text); whole && whole->kind) return whole;
      for (std::size_t at = 0; at < text.size();) {
        const std::size_t end = std::min(text.find_first_of(" ,;:/()", at), text.size());
        const std::string word = text.substr(at, end - at);
        // Single letters in a description are names, not kinds.
        if (word.size() > 1 || column == ListColumn::Kind)
          if (const auto found = characteristicOfWord(word); found && found->kind) return found;
        at = end + 1;
      }
    }
    return {};
  }
  // A sign says it, else the first word that tells a diameter from a width.
  bool isRound() const {
    for (const ListColumn column : {ListColumn::Kind, ListColumn::Words})
      for (const char* sign : {"ø", "⌀", "Ø"})
        if (cell(column).find(sign) != std::string::npos) return true;
    const std::string kind = plainWord(cell(ListColumn::Kind));
    if (kind == "d" || kind == "dm" || kind == "dia") return true;
    std::istringstream in(kind + " " + plainWord(cell(ListColumn::Words)));
    bool round = false;
    for (std::string word; in >> word;) {
      for (const char* flat : {"width", "breite", "wide", "slot", "nut", "largeur", "larghezza",
                               "ancho", "thick", "dicke"})
        if (word.starts_with(flat)) return false;
      for (const char* tells : {"diam", "durchm", "bore", "bohrung", "hole", "boss", "zapfen"})
        round = round || word.starts_with(tells);
    }
    return round;
  }

  // A text that says it all by itself.
  bool isWhole(const std::string& text) const {
    if (text.find_first_of("0123456789") == std::string::npos) return false;
    const auto typed = typedText(text, settings());
    if (!typed) return false;
    const Typed& t = typed->front();
    return t.what != TypedWhat::Datum &&
           (!isDimension(t.requirement.kind) || !t.limits_open ||
            t.what != TypedWhat::Requirement) &&
           !t.nominal_open;
  }

  // The callout that a text is or ends with: "Spherical cup Sø18 ±0.05".
  std::string wholeIn(const std::string& text) const {
    for (std::size_t at = 0; at < text.size();) {
      const std::string rest = text.substr(at);
      if (!resultFigure(rest, decimal_) && isWhole(rest)) return rest;
      at = text.find(' ', at);
      at = at == std::string::npos ? text.size() : text.find_first_not_of(' ', at);
    }
    return {};
  }

  // Nearer to the nominal than to nothing.
  static bool near(double nominal, double upper, double lower) {
    return std::abs(upper - nominal) < std::abs(upper) &&
           std::abs(lower - nominal) < std::abs(lower);
  }

  Callout put() const {
    for (const ListColumn column : {ListColumn::Words, ListColumn::Nominal})
      if (const std::string text = wholeIn(cell(column)); !text.empty()) return agrees(text);
    const auto kind = named();
    const bool geometrical = kind && kind->kind && !isDimension(*kind->kind);
    return geometrical ? indicator(*kind->kind) : dimension(kind);
  }

  // What other columns say beside a whole callout must not be another thing.
  Callout agrees(const std::string& text) const {
    const auto typed = typedText(text, settings());
    const Requirement& r = typed->front().requirement;
    const auto nominal = figure(ListColumn::Nominal);
    const double scale = settings().unit == LengthUnit::Inch ? 25.4 : 1;
    if (nominal && isDimension(r.kind) && r.kind != K::Angle &&
        std::abs(nominal->value * scale - r.nominal) > 1e-6)
      return {text,
              {},
              fmt::format("its text says {} and its nominal {}", shortFigure(r.nominal / scale),
                          shortFigure(nominal->value))};
    return {text, {}, {}};
  }

  Callout indicator(K kind) const {
    std::string tolerance = cell(ListColumn::Tolerance);
    if (tolerance.empty()) {
      for (const ListColumn column : {ListColumn::Upper, ListColumn::UpperDeviation})
        if (const auto f = figure(column); f && tolerance.empty() && f->value > 0)
          tolerance = written(*f);
      if (const auto f = figure(ListColumn::Nominal); f && tolerance.empty() && f->value > 0)
        tolerance = written(*f);
    } else if (const auto f = resultFigure(tolerance, decimal_)) {
      tolerance = written(*f);
    } else if (decimal_ == ',') {
      std::replace(tolerance.begin(), tolerance.end(), ',', '.');
    }
    std::string text(name(kind));
    std::replace(text.begin(), text.end(), '_', ' ');
    if (tolerance.empty()) return {text, {}, "it has no tolerance"};
    text += " " + tolerance;
    std::string datums = cell(ListColumn::Datums);
    for (char& c : datums)
      if (c == ',' || c == ';' || c == '/') c = '|';
    if (!datums.empty()) text += " | " + datums;
    return {text, {}, {}};
  }

  Callout dimension(const std::optional<CharacteristicWord>& kind) const {
    const auto nominal = figure(ListColumn::Nominal), upper = figure(ListColumn::Upper),
               lower = figure(ListColumn::Lower);
    const bool single = upper.has_value() != lower.has_value() &&
                        !figure(ListColumn::UpperDeviation) && !figure(ListColumn::LowerDeviation);
    if (!nominal && !(upper && lower) && !single) {
      const bool any = upper || lower || figure(ListColumn::Tolerance) ||
                       figure(ListColumn::UpperDeviation) || figure(ListColumn::LowerDeviation);
      if (!any && cell(ListColumn::Nominal).empty()) return words();
      return {cell(ListColumn::Nominal), {}, "it has no nominal that is a figure"};
    }
    const bool angle = (kind && kind->kind == K::Angle) ||
                       figureUnitNamed(cell(ListColumn::Unit)) == FigureUnit::Degree;
    const bool radius = kind && kind->radius;
    const std::optional<ResultFigure> one = single ? (upper ? upper : lower) : std::nullopt;
    const double value = nominal ? nominal->value
                         : one   ? one->value
                                 : (upper->value + lower->value) / 2;
    int decimals = 0;
    for (const auto& f : {nominal, upper, lower})
      if (f) decimals = std::max(decimals, f->decimals);
    if (!nominal && !one) ++decimals;
    std::string text = countBefore();
    text += radius ? "R" : !angle && isRound() && (!kind || kind->kind == K::Size) ? "ø" : "";
    text += nominal ? written(*nominal) : fmt::format("{:.{}f}", value, decimals);
    if (angle) text += "°";
    if (one) {
      // Is it a limit, or a deviation under the title of one?
      if (std::abs(one->value - value) >= std::abs(one->value))
        return {text,
                {},
                fmt::format("its {} limit {} is not near its nominal; write both limits",
                            upper ? "upper" : "lower", written(*one))};
      if (std::abs(one->value - value) > 1e-9)
        text += " " + signedFigure(one->value - value, decimals) + (angle ? "°" : "");
      text += upper ? " max" : " min";
    } else {
      text += limits(value, decimals, angle);
    }
    std::optional<K> known;
    if (kind && kind->kind && !angle) known = kind->kind;
    return {text, known, {}};
  }

  std::string countBefore() const {
    const auto count = figure(ListColumn::Count);
    return count && count->value > 1 && count->decimals == 0
               ? fmt::format("{}x ", static_cast<int>(count->value))
               : "";
  }

  std::string limits(double nominal, int decimals, bool angle) const {
    const char* sign = angle ? "°" : "";
    auto u = figure(ListColumn::Upper), l = figure(ListColumn::Lower);
    // Titles are mixed up: what is called a limit may be a deviation, and the other way round.
    const bool called_limits = u && l;
    if (!called_limits) {
      u = figure(ListColumn::UpperDeviation);
      l = figure(ListColumn::LowerDeviation);
    }
    bool are_limits = u && l && near(nominal, u->value, l->value);
    if (called_limits)
      are_limits = are_limits || (l->value <= nominal && nominal <= u->value);
    else
      are_limits = are_limits && u->value - l->value < 0.2 * std::abs(nominal);
    if (are_limits) {
      const int d = std::max({decimals, u->decimals, l->decimals});
      return fmt::format(" {}{}/{}{}", signedFigure(u->value - nominal, d), sign,
                         signedFigure(l->value - nominal, d), sign);
    }
    if (u || l) {
      const int d = std::max(u ? u->decimals : 0, l ? l->decimals : 0);
      // A lower one without its sign, as in "+0.1 / 0.1": both sides are meant where it is titled
      // so.
      const double low =
          l ? (l->value > 0 && u && std::abs(u->value - l->value) < 1e-12 ? -l->value : l->value)
            : 0;
      return fmt::format(" {}{}/{}{}", signedFigure(u ? u->value : 0, d), sign,
                         signedFigure(low, d), sign);
    }
    std::string tolerance = cell(ListColumn::Tolerance);
    if (tolerance.empty() || isNoFigure(tolerance)) return {};
    if (const auto f = resultFigure(tolerance, decimal_))
      return fmt::format(" ±{:.{}f}{}", std::abs(f->value), f->decimals, sign);
    if (decimal_ == ',') std::replace(tolerance.begin(), tolerance.end(), ',', '.');
    return " " + tolerance;
  }

  // Nothing but words: a heading, unless it begins as a callout does.
  Callout words() const {
    const std::string& text = cell(ListColumn::Words);
    const auto typed = typedText(text, settings());
    const bool figures = text.find_first_of("0123456789") != std::string::npos;
    if (!figures && !text.empty() && !cell(ListColumn::Number).empty())
      return {text, {}, "it holds no figure"};
    if (typed && figures && typed->front().what == TypedWhat::Requirement) return {text, {}, {}};
    const auto kind = characteristicOfWord(text.substr(0, text.find(' ')));
    if (figures && kind && kind->kind) return {text, {}, typed ? "" : typed.error().says};
    return {};
  }

  ListedRequirement row(int line, const Callout& callout) const {
    ListedRequirement r;
    r.line = line;
    r.number = cell(ListColumn::Number);
    r.text = callout.text;
    r.key = cell(ListColumn::Key);
    r.sheet_zone = cell(ListColumn::SheetZone);
    if (const std::string& page = cell(ListColumn::Page); !page.empty() && !r.sheet_zone.empty())
      r.sheet_zone = page + "/" + r.sheet_zone;
    r.fault = callout.fault;
    if (!r.fault.empty()) return r;
    auto typed = typedText(callout.text, settings());
    if (!typed) {
      r.fault = typed.error().says;
      return r;
    }
    r.typed = std::move(*typed);
    for (Typed& t : r.typed)
      if (t.kind_open && callout.kind) {
        t.requirement.kind = *callout.kind;
        t.kind_open = false;
      }
    switch (r.typed.front().what) {
    case TypedWhat::Requirement:
      break;
    case TypedWhat::Basic:
      r.fault = "a theoretically exact dimension has no limits of its own";
      break;
    case TypedWhat::Reference:
      r.fault = "an auxiliary dimension is not to be proved";
      break;
    default:
      r.fault = "it is nothing that is touched";
    }
    if (!r.fault.empty()) r.typed.clear();
    return r;
  }

  const ResultText& text_;
  ListHead head_;
  TypingSettings settings_;
  char decimal_;
  std::map<ListColumn, std::string> cells_; // of the row
};

} // namespace

std::string_view words(ListColumn column) {
  switch (column) {
  case ListColumn::None:
    return "not used";
  case ListColumn::Number:
    return "number";
  case ListColumn::Words:
    return "description";
  case ListColumn::Kind:
    return "kind";
  case ListColumn::Nominal:
    return "nominal";
  case ListColumn::Upper:
    return "upper limit";
  case ListColumn::Lower:
    return "lower limit";
  case ListColumn::UpperDeviation:
    return "upper deviation";
  case ListColumn::LowerDeviation:
    return "lower deviation";
  case ListColumn::Tolerance:
    return "tolerance";
  case ListColumn::Datums:
    return "datums";
  case ListColumn::Unit:
    return "unit";
  case ListColumn::Count:
    return "count";
  case ListColumn::Key:
    return "key characteristic";
  case ListColumn::SheetZone:
    return "zone of the drawing";
  case ListColumn::Page:
    return "page";
  }
  return "";
}

Result<RequirementList> requirementList(const ResultText& text, const std::string& label,
                                        const TypingSettings& settings) {
  auto head = listHead(text);
  if (!head)
    return fail(
        "{}: no line of it is a row of titles; a table of requirements begins with titles "
        "such as number, description, nominal, upper limit, lower limit, tolerance, datums.",
        label);
  const std::size_t titles = head->line + 1;
  RequirementList list = ListReader(text, std::move(*head), settings).read();
  if (list.rows.empty())
    return fail("{}: below its titles (line {}) no row holds a figure or a callout.", label,
                titles);
  return list;
}

} // namespace alder
