#include "base/units.h"

#include <cctype>
#include <charconv>
#include <cmath>

namespace alder {
namespace {

// Recursive descent over the typed text. A value with a unit is converted at once, so "1in+1"
// is 26.4 mm.
class QuantityParser {
 public:
  QuantityParser(std::string_view text, Quantity quantity)
      : text_(text)
      , quantity_(quantity) {}

  Result<double> parse() {
    auto value = sum();
    if (!value) return value;
    skipSpace();
    if (at_ != text_.size()) return fail("\"{}\" is not understood here; type a number", rest());
    if (!std::isfinite(*value)) return fail("\"{}\" has no finite value", text_);
    return value;
  }

 private:
  Result<double> sum() {
    auto left = product();
    while (left) {
      const char op = peek();
      if (op != '+' && op != '-') break;
      ++at_;
      auto right = product();
      if (!right) return right;
      left = op == '+' ? *left + *right : *left - *right;
    }
    return left;
  }

  Result<double> product() {
    auto left = factor();
    while (left) {
      const char op = peek();
      if (op != '*' && op != '/') break;
      ++at_;
      auto right = factor();
      if (!right) return right;
      left = op == '*' ? *left * *right : *left / *right;
    }
    return left;
  }

  Result<double> factor() {
    const char next = peek();
    if (next == '-' || next == '+') {
      ++at_;
      auto value = factor();
      if (value && next == '-') value = -*value;
      return value;
    }
    if (next == '(') {
      ++at_;
      auto value = sum();
      if (!value) return value;
      if (peek() != ')') return fail("a closing ) is missing in \"{}\"", text_);
      ++at_;
      return unit(*value);
    }
    return number();
  }

  Result<double> number() {
    skipSpace();
    double value = 0;
    const auto* begin = text_.data() + at_;
    const auto [end, code] = std::from_chars(begin, text_.data() + text_.size(), value);
    if (code != std::errc{})
      return at_ == text_.size() ? fail("a number is missing at the end of \"{}\"", text_)
                                 : fail("\"{}\" is not a number", rest());
    at_ += static_cast<std::size_t>(end - begin);
    return unit(value);
  }

  Result<double> unit(double value) {
    skipSpace();
    std::size_t end = at_;
    while (end < text_.size() && (std::isalpha(static_cast<unsigned char>(text_[end])) ||
                                  static_cast<unsigned char>(text_[end]) >= 0x80))
      ++end;
    const auto name = text_.substr(at_, end - at_);
    at_ = end;
    if (name.empty()) return value;
    if (quantity_ == Quantity::Length) {
      if (name == "mm") return value;
      if (name == "cm") return value * 10;
      if (name == "m") return value * 1000;
      if (name == "in") return value * kMmPerInch;
    }
    if (quantity_ == Quantity::Angle) {
      if (name == "deg" || name == "°") return value;
      if (name == "rad") return degrees(value);
    }
    return fail("unit \"{}\" does not fit here", name);
  }

  char peek() {
    skipSpace();
    return at_ < text_.size() ? text_[at_] : '\0';
  }
  void skipSpace() {
    while (at_ < text_.size() && text_[at_] == ' ')
      ++at_;
  }
  std::string_view rest() const { return text_.substr(at_); }

  std::string_view text_;
  Quantity quantity_;
  std::size_t at_ = 0;
};

} // namespace

Result<double> parseQuantity(std::string_view text, Quantity quantity) {
  auto value = QuantityParser(text, quantity).parse();
  if (value && quantity == Quantity::Angle) return radians(*value);
  return value;
}

double shownDegrees(double radians) {
  return std::round(degrees(radians) * 1e9) / 1e9 + 0.0;
}

std::string figure(double value, int decimals) {
  auto text = fmt::format("{:.{}f}", value, decimals);
  if (text.front() == '-' && text.find_first_of("123456789") == std::string::npos) text.erase(0, 1);
  return text;
}

std::string shortFigure(double value, int most) {
  auto text = figure(value, most);
  if (text.find('.') == std::string::npos) return text;
  while (text.back() == '0')
    text.pop_back();
  if (text.back() == '.') text.pop_back();
  return text;
}

} // namespace alder
