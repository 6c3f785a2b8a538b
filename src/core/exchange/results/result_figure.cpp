#include "exchange/results/result_figure.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

namespace alder {
namespace {

bool isDigit(char c) {
  return c >= '0' && c <= '9';
}

std::string_view trimmed(std::string_view t) {
  const auto blank = [](char c) { return c == ' ' || c == '\t'; };
  while (!t.empty() && blank(t.front()))
    t.remove_prefix(1);
  while (!t.empty() && (t.back() == ' ' || t.back() == '\t'))
    t.remove_suffix(1);
  return t;
}

std::string lowered(std::string_view text) {
  std::string out(text);
  std::transform(out.begin(), out.end(), out.begin(),
                 [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
  return out;
}

bool take(std::string_view& text, std::string_view what) {
  if (!text.starts_with(what)) return false;
  text.remove_prefix(what.size());
  return true;
}

// Digits, with groups of three where the other sign or an apostrophe parts them. `plain` gets them
// with a point.
bool takeDigits(std::string_view& text, char decimal, std::string& plain, int& decimals) {
  const char group = decimal == ',' ? '.' : ',';
  std::size_t i = 0, run = 0;
  bool grouped = false, any = false;
  for (; i < text.size(); ++i) {
    if (isDigit(text[i])) {
      plain += text[i];
      ++run, any = true;
    } else if ((text[i] == group || text[i] == '\'') && any && run <= 3 && (!grouped || run == 3) &&
               i + 3 < text.size() && isDigit(text[i + 1]) && isDigit(text[i + 2]) &&
               isDigit(text[i + 3]) && (i + 4 == text.size() || !isDigit(text[i + 4]))) {
      // One group alone may be a decimal sign that is not the file's: 32.012 is not 32012.
      if (text[i] == group && text.find(decimal, i) == std::string_view::npos &&
          text.find(group, i + 1) == std::string_view::npos)
        return false;
      grouped = true, run = 0;
    } else {
      break;
    }
  }
  if (i < text.size() && text[i] == decimal) {
    plain += '.';
    for (++i; i < text.size() && isDigit(text[i]); ++i, ++decimals, any = true)
      plain += text[i];
  }
  text.remove_prefix(i);
  return any;
}

void takeExponent(std::string_view& text, std::string& plain) {
  if (text.empty() || (text[0] != 'e' && text[0] != 'E')) return;
  std::size_t i = 1;
  if (i < text.size() && (text[i] == '+' || text[i] == '-')) ++i;
  const std::size_t digits = i;
  while (i < text.size() && isDigit(text[i]))
    ++i;
  if (i == digits || i - digits > 3) return;
  plain += text.substr(0, i);
  text.remove_prefix(i);
}

std::optional<double> plainNumber(const std::string& plain) {
  double v = 0;
  const auto [end, code] = std::from_chars(plain.data(), plain.data() + plain.size(), v);
  if (code != std::errc{} || end != plain.data() + plain.size() || !std::isfinite(v)) return {};
  return v;
}

// Minutes and seconds behind the degrees.
std::optional<double> sixtieths(std::string_view text, char decimal) {
  double sum = 0, part = 60;
  while (!text.empty()) {
    std::string plain;
    int decimals = 0;
    if (part > 3600 || !takeDigits(text, decimal, plain, decimals)) return {};
    const auto v = plainNumber(plain);
    const bool sign = part == 60 ? take(text, "'") || take(text, "\u2032")
                                 : take(text, "''") || take(text, "\"") || take(text, "\u2033");
    if (!v || !sign || *v >= 60) return {};
    sum += *v / part;
    part *= 60;
    text = trimmed(text);
  }
  return sum;
}

} // namespace

std::string_view name(FigureUnit unit) {
  constexpr std::array<std::string_view, 5> kNames{"", "mm", "um", "in", "deg"};
  return kNames[static_cast<std::size_t>(unit)];
}

std::optional<FigureUnit> figureUnitNamed(std::string_view written) {
  const std::string text = lowered(trimmed(written));
  struct Word {
    std::string_view word;
    FigureUnit unit;
  };
  static constexpr std::array<Word, 23> kWords{{{"mm", FigureUnit::Millimetre},
                                                {"millimeter", FigureUnit::Millimetre},
                                                {"millimetre", FigureUnit::Millimetre},
                                                {"millimeters", FigureUnit::Millimetre},
                                                {"millimetres", FigureUnit::Millimetre},
                                                {"um", FigureUnit::Micrometre},
                                                {"µm", FigureUnit::Micrometre},
                                                {"μm", FigureUnit::Micrometre},
                                                {"micron", FigureUnit::Micrometre},
                                                {"microns", FigureUnit::Micrometre},
                                                {"in", FigureUnit::Inch},
                                                {"in.", FigureUnit::Inch},
                                                {"inch", FigureUnit::Inch},
                                                {"inches", FigureUnit::Inch},
                                                {"zoll", FigureUnit::Inch},
                                                {"deg", FigureUnit::Degree},
                                                {"degree", FigureUnit::Degree},
                                                {"degrees", FigureUnit::Degree},
                                                {"grad", FigureUnit::Degree},
                                                {"°", FigureUnit::Degree},
                                                {"degr", FigureUnit::Degree},
                                                {"''", FigureUnit::Inch},
                                                {"\"", FigureUnit::Inch}}};
  for (const Word& w : kWords)
    if (w.word == text) return w.unit;
  return {};
}

std::optional<ResultFigure> resultFigure(std::string_view written, char decimal) {
  std::string_view text = trimmed(written);
  ResultFigure figure;
  bool negative = false;
  for (const std::string_view sign : {"\u00f8", "\u00d8", "\u2300", "\u2205"}) // of a diameter
    if (take(text, sign)) text = trimmed(text);
  if (take(text, "±") || take(text, "+/-"))
    figure.plus_minus = true;
  else if (!take(text, "+"))
    negative = take(text, "-") || take(text, "\u2212") || take(text, "\u2013");
  text = trimmed(text);
  std::string plain;
  if (!takeDigits(text, decimal, plain, figure.decimals)) return {};
  for (auto c = plain.rbegin();
       c != plain.rend() && *c == '0' && figure.trailing_zeros < figure.decimals; ++c)
    ++figure.trailing_zeros;
  takeExponent(text, plain);
  const auto value = plainNumber(plain);
  if (!value) return {};
  figure.value = negative ? -*value : *value;
  text = trimmed(text);
  if (text.empty()) return figure;
  if (take(text, "°")) {
    figure.unit = FigureUnit::Degree;
    const auto more = sixtieths(trimmed(text), decimal);
    if (!more) return {};
    figure.value += negative ? -*more : *more;
    return figure;
  }
  const auto unit = figureUnitNamed(text);
  if (!unit) return {};
  figure.unit = *unit;
  return figure;
}

bool isNoFigure(std::string_view written) {
  const std::string text = lowered(trimmed(written));
  if (text.find_first_not_of("-._/ ") == std::string::npos) return true;
  return text == "n/a" || text == "na" || text == "nan" || text == "\u2013" || text == "\u2014";
}

} // namespace alder
