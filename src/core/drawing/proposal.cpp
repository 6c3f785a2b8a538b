#include "drawing/proposal.h"

#include "drawing/sheet_notes.h"
#include <algorithm>
#include <array>
#include <regex>

namespace alder {
namespace {

constexpr std::size_t kLongest = 120; // characters of a dimension

std::string stripped(std::string text) {
  while (!text.empty() && text.front() == ' ')
    text.erase(0, 1);
  while (!text.empty() && text.back() == ' ')
    text.pop_back();
  return text;
}

bool hasAny(const std::string& text, std::initializer_list<const char*> signs) {
  return std::any_of(signs.begin(), signs.end(),
                     [&](const char* s) { return text.find(s) != std::string::npos; });
}

// More than a figure alone: a sign, a tolerance, a count. What has none of it is a dimension only
// where a dimension line says so.
bool isStrong(const std::string& text) {
  static const std::regex prefix("^(\\d+ ?[xX] ?)?(S?(ø|Ø|⌀|∅)|S?R ?[\\d.,]|□)");
  static const std::regex count("^\\d+ ?[xX] ?[\\d.,(]");
  static const std::regex fit("^[\\d.,]+ ?[A-Za-z]{1,2}\\d{1,2}$");
  static const std::regex deviations("[\\d\"°] ?[+−–-] ?[\\d.,]+/ ?[+−–-]?[\\d.,]|\\d 0/ ?[−–-]");
  static const std::regex degrees("^([\\d.,]+ ?[xX] ?)?[\\d.,]+ ?°");
  return hasAny(text, {"±", "+/-", "+-"}) || std::regex_search(text, prefix) ||
         std::regex_search(text, count) || std::regex_search(text, fit) ||
         std::regex_search(text, deviations) || std::regex_search(text, degrees);
}

bool isFigure(const std::string& text) {
  static const std::regex figure("^[(\\[]? ?([\\d]+|[\\d]*[.,][\\d]+|\\d* ?\\d+/\\d+\"?)\"?"
                                 "(/[\\d.,]+)? ?[)\\]]?( (MAX|MIN|max|min)\\.?)?$");
  return std::regex_match(text, figure);
}

bool hasWords(const std::string& text) {
  static const std::regex words("[A-Za-zÀ-ž]{3,}[^A-Za-z]+[A-Za-zÀ-ž]{2,}|[A-Za-zÀ-ž]{4,}");
  return std::regex_search(text.substr(0, kLongest), words);
}

bool isViewTitle(const std::string& text) {
  static const std::regex title(
      "^(section|detail|view|cut|schnitt|ansicht|einzelheit|coupe|vue|sezione|vista)?\\s*"
      "[A-Z]( ?[-–—] ?[A-Z])?\\s*(\\(?\\d+ ?: ?\\d+\\)?)?$",
      std::regex::icase);
  return std::regex_match(text, title);
}

// What is told from a picture mistakes signs that are no letters: a diameter for a figure before a
// figure, ± for +.
std::string mended(std::string text) {
  static const std::regex sphere("^(\\d+ ?[xX] ?)?[$S][@ø0]?(?=\\d)");
  static const std::regex diameter("^(\\d+ ?[xX] ?)?(@|€|©|O|0(?=\\d+( |$|[.,]\\d)))(?=\\d)");
  static const std::regex plus("^([^+]*[\\d°]) ?\\+ ?([\\d.,]+(?:°)?)$");
  if (text.size() > kLongest) return text;
  text = std::regex_replace(text, sphere, "$1Sø");
  text = std::regex_replace(text, diameter, "$1ø");
  return std::regex_replace(text, plus, "$1 ±$2");
}

class Reading {
 public:
  explicit Reading(const ReadingSettings& settings)
      : settings_(settings) {}

  DrawingReading read(const std::vector<DrawingSheet>& sheets) {
    std::vector<std::vector<Written>> all;
    std::vector<std::vector<std::vector<Pointer>>> pointers;
    for (const DrawingSheet& sheet : sheets) {
      all.push_back(writtenOn(sheet));
      for (Written& w : all.back())
        if (w.scanned) w.text = mended(w.text);
      pointers.push_back(pointersOf(all.back(), strokesOf(sheet)));
    }
    for (const auto& page : all)
      for (const Written& w : page)
        notes(w, page);
    if (settings_.unit)
      result_.unit = *settings_.unit, result_.unit_from.clear();
    else if (result_.unit_from.empty() && writesInInch(all))
      result_.unit = LengthUnit::Inch;
    typing_ = {result_.unit, settings_.standard};
    int callouts = 0;
    for (std::size_t i = 0; i < all.size(); ++i) {
      page_ = settings_.first_page + static_cast<int>(i);
      int most = 0;
      for (std::size_t n = 0; n < all[i].size(); ++n) {
        const Written& w = all[i][n];
        const std::size_t before = result_.proposals.size();
        take(w);
        for (std::size_t k = before; k < result_.proposals.size(); ++k) {
          if (w.callout > 0) result_.proposals[k].callout = callouts + w.callout;
          result_.proposals[k].pointers = pointers[i][n];
        }
        most = std::max(most, w.callout);
      }
      callouts += most;
    }
    return std::move(result_);
  }

 private:
  void notes(const Written& w, const std::vector<Written>& page) {
    if (w.as != WrittenAs::Plain && w.as != WrittenAs::Cell) return;
    const std::string text = w.caption.empty() ? w.text : w.caption + " " + w.text;
    if (const auto unit = unitIn(text); unit && result_.unit_from.empty())
      result_.unit = *unit, result_.unit_from = w.text;
    for (const double scale : scalesIn(text))
      if (std::find(result_.scales.begin(), result_.scales.end(), scale) == result_.scales.end())
        result_.scales.push_back(scale);
    if (result_.general) return;
    const std::string more = withNextLine(w, page);
    result_.general = generalIn(text);
    if (result_.general) result_.general_from = w.text;
    if (!result_.general && more != w.text) result_.general = generalIn(more);
    if (result_.general && result_.general_from.empty()) result_.general_from = more;
  }

  // A note that goes on in the line below.
  static std::string withNextLine(const Written& w, const std::vector<Written>& page) {
    for (const Written& next : page) {
      if (next.as != w.as || std::abs(next.box.size - w.box.size) > 0.05 * w.box.size) continue;
      const Vec2 at = w.box.local(next.box.at);
      if (std::abs(at.x()) > 0.6 * w.box.size || at.y() > -0.8 * w.box.size ||
          at.y() < -2 * w.box.size)
        continue;
      return w.text + (w.text.ends_with("-") ? "" : " ") + next.text;
    }
    return w.text;
  }

  // Figures without a zero before the point, as ASME Y14.5 writes inches.
  static bool writesInInch(const std::vector<std::vector<Written>>& all) {
    static const std::regex bare("(^|[^\\d.,])\\.\\d");
    int inch = 0, zero = 0;
    for (const auto& page : all)
      for (const Written& w : page) {
        if (w.text.size() > kLongest) continue;
        if (std::regex_search(w.text, bare)) ++inch;
        if (w.text.find("0.") == 0 || w.text.find(" 0.") != std::string::npos) ++zero;
      }
    return inch > zero;
  }

  DrawingProposal begun(const Written& w, ProposedAs as) const {
    DrawingProposal p;
    p.as = as;
    p.page = page_;
    p.box = w.box;
    p.text = stripped(w.text);
    p.lower_segment = w.lower_segment;
    p.scanned = w.scanned;
    return p;
  }

  void add(const Written& w, ProposedAs as, std::string says = {}, std::vector<Typed> typed = {}) {
    DrawingProposal p = begun(w, as);
    p.says = std::move(says);
    p.typed = std::move(typed);
    p.caption = w.caption;
    result_.proposals.push_back(std::move(p));
  }

  static ProposedAs asOf(const Typed& t) {
    switch (t.what) {
    case TypedWhat::Requirement:
      return ProposedAs::Requirement;
    case TypedWhat::Basic:
      return ProposedAs::Basic;
    case TypedWhat::Reference:
      return ProposedAs::Reference;
    case TypedWhat::Datum:
      return ProposedAs::Datum;
    case TypedWhat::Thread:
      return ProposedAs::Thread;
    case TypedWhat::Texture:
      break;
    }
    return ProposedAs::Texture;
  }

  void take(const Written& w) {
    switch (w.as) {
    case WrittenAs::Indicator:
      return indicator(w);
    case WrittenAs::Framed:
      return framed(w);
    case WrittenAs::Cell:
      if (hasWords(w.text) || !w.caption.empty()) add(w, ProposedAs::Title);
      return;
    case WrittenAs::Plain:
      return plain(w);
    }
  }

  void indicator(const Written& w) {
    if (w.no_symbol || w.unknown)
      return add(w, ProposedAs::NotUnderstood,
                 w.no_symbol ? "the symbol in its first compartment is not known"
                             : "the file does not tell the meaning of its signs");
    auto typed = typedText(w.text, typing_);
    if (!typed) return add(w, ProposedAs::NotUnderstood, typed.error().says);
    add(w, ProposedAs::Requirement, {}, std::move(*typed));
  }

  void framed(const Written& w) {
    static const std::regex letters("^[A-Z]{1,2}$");
    const std::string text = stripped(w.text);
    if (text.size() > kLongest) return; // expressions recurse letter by letter
    if (std::regex_match(text, letters)) {
      Typed t;
      t.what = TypedWhat::Datum;
      t.words = text;
      return add(w, ProposedAs::Datum, {}, {t});
    }
    if (w.unknown || !(isFigure(text) || isStrong(text))) return;
    auto typed = typedText(text, typing_);
    if (!typed) return add(w, ProposedAs::NotUnderstood, typed.error().says);
    if (typed->front().what == TypedWhat::Requirement && typed->front().limits_open) {
      typed = typedText("[" + text + "]", typing_);
      if (!typed) return add(w, ProposedAs::NotUnderstood, typed.error().says);
    }
    add(w, asOf(typed->front()), {}, std::move(*typed));
  }

  void plain(const Written& w) {
    const std::string text = stripped(w.text);
    if (text.size() <= kLongest && (dimension(w, text) || isViewTitle(text))) return;
    if (hasWords(text)) add(w, ProposedAs::Note);
  }

  bool dimension(const Written& w, const std::string& text) {
    static const std::regex thread(
        "^(\\d+ ?[xX] ?)?(M\\d|G ?\\d|Tr ?\\d|\\d*[-/ ]?[\\d/]+ ?- ?\\d+ ?(UN|NP))");
    static const std::regex texture("^(√ ?)?(Ra|Rz|Rmax|Rt|Rq) ?\\d");
    const bool strong = isStrong(text);
    const bool other = std::regex_search(text, thread) || std::regex_search(text, texture);
    if (!strong && !other && !(w.has_dimension_line && isFigure(text))) return false;
    static const std::regex reference("^(.*[\\d.,\"]) ?(REF|ref)\\.?$");
    std::smatch found;
    const bool is_reference = std::regex_match(text, found, reference);
    auto typed = typedText(is_reference ? "(" + found[1].str() + ")" : text, typing_);
    if (typed) {
      // Of words that do not belong to a dimension none is a name of a characteristic.
      add(w, asOf(typed->front()), {}, std::move(*typed));
      return true;
    }
    if (!strong && !w.has_dimension_line) return false;
    return withWords(w, text, typed.error().says);
  }

  // "4 HOLES ø6.5 THRU": words before and behind are told, the dimension is taken.
  bool withWords(const Written& w, const std::string& text, const std::string& fault) {
    std::string from = text;
    std::string before;
    const auto sign = std::min({text.find("ø"), text.find("Ø"), text.find("⌀")});
    if (sign != std::string::npos && sign > 0 && hasWords(text.substr(0, sign) + " xx")) {
      static const std::regex holes("^(\\d{1,3}) ?[A-Za-z]");
      std::smatch found;
      before = stripped(text.substr(0, sign));
      from = text.substr(sign);
      if (std::regex_search(before, found, holes)) from = found[1].str() + "x " + from;
    }
    std::string behind;
    for (std::string rest = from; !rest.empty();) {
      auto typed = typedText(rest, typing_);
      if (typed && typed->front().what == TypedWhat::Requirement && isStrong(rest)) {
        std::string says =
            stripped(before + (before.empty() || behind.empty() ? "" : " … ") + behind);
        if (!says.empty()) says = fmt::format("\"{}\" is not read", says);
        add(w, ProposedAs::Requirement, std::move(says), std::move(*typed));
        return true;
      }
      const auto space = rest.rfind(' ');
      if (space == std::string::npos) break;
      const std::string word = rest.substr(space + 1);
      // Figures that are left out would be another dimension.
      if (!std::isalpha(static_cast<unsigned char>(word.front())) || limits(word)) break;
      behind = word + (behind.empty() ? "" : " ") + behind;
      rest = stripped(rest.substr(0, space));
    }
    if (hasWords(text)) return false; // a note that speaks of figures
    if (w.scanned && !std::regex_search(text, std::regex("\\d.*\\d"))) return false; // specks
    add(w, ProposedAs::NotUnderstood, fault);
    return true;
  }

  // Words that a dimension means something else without.
  static bool limits(const std::string& word) {
    static const std::regex single("max\\.?|min\\.?|ref\\.?", std::regex::icase);
    return std::regex_match(word, single);
  }

  const ReadingSettings& settings_;
  TypingSettings typing_;
  DrawingReading result_;
  int page_ = 1;
};

} // namespace

std::string_view name(ProposedAs as) {
  constexpr std::array<std::string_view, 9> names{"requirement", "basic",  "reference",
                                                  "datum",       "thread", "surface_texture",
                                                  "note",        "title",  "not_understood"};
  return names[static_cast<std::size_t>(as)];
}

DrawingReading readingOf(const std::vector<DrawingSheet>& sheets, const ReadingSettings& settings) {
  return Reading(settings).read(sheets);
}

std::string textWithin(const DrawingSheet& sheet, const Box2& frame) {
  DrawingSheet part;
  part.size = sheet.size;
  for (const Character& c : sheet.characters) {
    const TextBox box{c.at, c.angle, c.advance, c.size, 0, 0.72 * c.size};
    if (frame.contains(box.middle())) part.characters.push_back(c);
  }
  part.paths = sheet.paths;
  std::string text;
  for (const Written& w : writtenOn(part))
    text += (text.empty() ? "" : " ") + w.text;
  return text;
}

} // namespace alder
