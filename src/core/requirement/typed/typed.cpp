#include "requirement/typed/typed.h"

#include "base/units.h"
#include "requirement/limits.h"
#include "requirement/modifiers.h"
#include "requirement/typed/parts.h"
#include <algorithm>

namespace alder {
namespace {

using typed::Scanner;

constexpr std::size_t kLongest = 400; // characters

// "datum A", "[A]"
std::optional<Typed> datumIn(Scanner& in) {
  const bool word = in.takeWord("datum");
  const bool frame = !word && in.take(U'[');
  auto letters = word || frame ? in.letters() : std::nullopt;
  const bool closed = !frame || in.take(U']');
  if (!letters || letters->size() > 2 || !closed || !in.atEnd()) {
    in.back(0);
    return {};
  }
  Typed t;
  t.what = TypedWhat::Datum;
  t.words = *letters;
  return t;
}

// "formula = 12.5 mm ±0.1"
Typing valueIn(const std::string& text, std::size_t equals) {
  const auto fault = [&](std::size_t at, std::string says) {
    return tl::unexpected(TextFault{at, 1, std::move(says)});
  };
  std::string formula = text.substr(0, equals);
  while (!formula.empty() && formula.back() == ' ')
    formula.pop_back();
  while (!formula.empty() && formula.front() == ' ')
    formula.erase(0, 1);
  if (formula.empty()) return fault(0, "before = a formula is missing");
  Scanner in(text);
  // behind the sign, counted in characters
  std::size_t characters = 0;
  for (std::size_t i = 0; i <= equals; ++i)
    characters += (static_cast<unsigned char>(text[i]) & 0xc0U) != 0x80U;
  in.back(characters);
  Typed t;
  Requirement& r = t.requirement;
  r.kind = Characteristic::Value;
  r.formula = std::move(formula);
  const std::size_t from = in.at();
  const auto nominal = in.figure(false);
  if (!nominal) return tl::unexpected(in.fault(from, "after = the nominal is missing"));
  if (in.takeWord("mm"))
    r.unit = "mm";
  else if (in.takeDegree())
    r.unit = "deg";
  const std::size_t limits = in.at();
  std::optional<Scanner::Figure> high, low;
  double single = 0;
  if (in.take(typed::kPlusMinus)) {
    high = in.figure(false);
    if (high) low = high, low->value = -high->value;
  } else {
    high = in.figure(false);
    single = in.takeWord("max") ? kNoUpper : in.takeWord("min") ? kNoLower : 0;
    (void)in.take(U'/');
    if (single == 0) low = in.figure(false);
  }
  if (single == 0 && (!high || !low))
    return tl::unexpected(in.fault(limits, "its limits are missing, as ±0.1"));
  if (!in.atEnd())
    return tl::unexpected(in.fault(in.at(), fmt::format("\"{}\" is not understood", in.word())));
  r.nominal = nominal->value;
  if (single != 0) {
    const double limit = r.nominal + (high ? high->value : 0);
    r.lower = single > 0 ? kNoLower : limit, r.upper = single > 0 ? limit : kNoUpper;
  } else {
    r.upper = r.nominal + std::max(high->value, low->value);
    r.lower = r.nominal + std::min(high->value, low->value);
  }
  r.tolerance = r.upper - r.lower;
  t.decimals = nominal->decimals;
  return std::vector{t};
}

// "ø0.05 M A B": a figure and then letters of datums is a tolerance without its characteristic.
bool hasDatums(Scanner in) {
  in.blanks();
  if (!(in.takeSpherical() || in.takeDiameter()) || !in.figure(false)) return false;
  while (in.takeCircled('M', true) || in.takeCircled('L', true) || in.takeCircled('R', true)) {
  }
  (void)in.take(U'|');
  const auto letters = in.letters();
  const char32_t behind = in.next();
  const bool ends = behind == 0 || behind == U' ' || behind == U'|' || behind == U'-' ||
                    behind == U'(' || behind >= 0x80;
  // E and the words of a size are none.
  return letters && ends && *letters != "E" &&
         (letters->size() == 1 ||
          (letters->size() == 3 && (*letters)[0] < (*letters)[1] && (*letters)[1] < (*letters)[2]));
}

} // namespace

Typing typedText(std::string_view text, const TypingSettings& settings) {
  Scanner in(text);
  if (in.atEnd()) return tl::unexpected(TextFault{0, 1, "nothing is written"});
  if (in.text(0, kLongest + 1).size() > kLongest)
    return tl::unexpected(TextFault{0, 1, "the text is too long for one requirement"});
  in.back(0);
  if (const auto datum = datumIn(in)) return std::vector{*datum};
  if (const auto equals = text.find('=');
      equals != std::string_view::npos && text.find("plane =") == std::string_view::npos)
    return valueIn(std::string(text), equals);

  // "6x position ..."
  int count = 1;
  const std::size_t from = in.at();
  if (const auto f = in.figure(false); f && f->decimals == 0 && !f->is_signed && f->value >= 1 &&
                                       f->value < 1000 && (in.take(U'x') || in.take(U'X')))
    count = static_cast<int>(f->value);
  else
    in.back(from);
  const std::size_t behind = in.at();
  auto kind = typed::characteristic(in);
  if (!kind && hasDatums(in)) kind = Characteristic::Position;
  if (kind) {
    auto read = typed::indicator(in, *kind, settings);
    if (read) read->front().count = count;
    return read;
  }
  in.back(count > 1 || behind != from ? from : behind);
  return typed::dimension(in, settings);
}

Requirement inUnit(Requirement r, LengthUnit unit) {
  if (r.kind == Characteristic::Angle || r.kind == Characteristic::Value) return r;
  const double by = typed::toMm(unit);
  for (double* length : {&r.nominal, &r.lower, &r.upper, &r.tolerance})
    *length /= by;
  divideModifiers(r, by);
  return r;
}

} // namespace alder
