#include "requirement/typed/scanner.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace alder::typed {
namespace {

std::u32string decoded(std::string_view utf8) {
  std::u32string out;
  for (std::size_t i = 0; i < utf8.size();) {
    const auto lead = static_cast<unsigned char>(utf8[i]);
    const int more = lead >= 0xf0 ? 3 : lead >= 0xe0 ? 2 : lead >= 0xc0 ? 1 : 0;
    char32_t c = more == 3   ? lead & 0x07U
                 : more == 2 ? lead & 0x0fU
                 : more == 1 ? lead & 0x1fU
                             : lead;
    for (int k = 1; k <= more && i + static_cast<std::size_t>(k) < utf8.size(); ++k)
      c = (c << 6U) | (static_cast<unsigned char>(utf8[i + static_cast<std::size_t>(k)]) & 0x3fU);
    out.push_back(c);
    i += static_cast<std::size_t>(more) + 1;
  }
  return out;
}

void encode(char32_t c, std::string& out) {
  if (c < 0x80) {
    out += static_cast<char>(c);
  } else if (c < 0x800) {
    out += static_cast<char>(0xc0U | (c >> 6U));
    out += static_cast<char>(0x80U | (c & 0x3fU));
  } else if (c < 0x10000) {
    out += static_cast<char>(0xe0U | (c >> 12U));
    out += static_cast<char>(0x80U | ((c >> 6U) & 0x3fU));
    out += static_cast<char>(0x80U | (c & 0x3fU));
  } else {
    out += static_cast<char>(0xf0U | (c >> 18U));
    out += static_cast<char>(0x80U | ((c >> 12U) & 0x3fU));
    out += static_cast<char>(0x80U | ((c >> 6U) & 0x3fU));
    out += static_cast<char>(0x80U | (c & 0x3fU));
  }
}

char32_t plain(char32_t c) {
  switch (c) {
  case U'⌀':
  case U'Ø':
  case U'∅':
  case U'Φ':
  case U'φ':
  case U'ϕ':
    return kDiameter;
  case U'×':
  case U'✕':
  case U'╳':
    return U'x';
  case U'−':
  case U'–':
  case U'—':
  case U'‐':
    return U'-';
  case U'º':
  case U'˚':
    return kDegree;
  case U'∶':
    return U':';
  case U'\t':
  case U'\n':
  case U'\r':
  case U'\u00a0':
  case U'\u2009':
  case U'\u202f':
    return U' ';
  case U'″':
  case U'”':
    return U'"';
  case U'′':
  case U'’':
    return U'\'';
  case U'│':
  case U'¦':
    return U'|';
  default:
    return c;
  }
}

bool isDigit(char32_t c) {
  return c >= U'0' && c <= U'9';
}
bool isLetter(char32_t c) {
  return (c >= U'a' && c <= U'z') || (c >= U'A' && c <= U'Z');
}
char32_t lower(char32_t c) {
  return c >= U'A' && c <= U'Z' ? c + 32 : c;
}

} // namespace

Scanner::Scanner(std::string_view utf8)
    : written_(decoded(utf8)) {
  for (std::size_t i = 0; i < written_.size(); ++i)
    text_.push_back(plain(written_[i]));
}

void Scanner::blanks() {
  while (next() == U' ')
    ++at_;
}

bool Scanner::atEnd() {
  blanks();
  return at_ >= text_.size();
}

bool Scanner::take(char32_t sign) {
  const std::size_t from = at_;
  blanks();
  if (next() == sign) {
    ++at_;
    return true;
  }
  at_ = from;
  return false;
}

bool Scanner::takeWord(std::string_view wanted) {
  const std::size_t from = at_;
  blanks();
  for (const char c : wanted) {
    if (lower(next()) != lower(static_cast<unsigned char>(c))) {
      at_ = from;
      return false;
    }
    ++at_;
  }
  if (isLetter(next()) && isLetter(text_[at_ - 1])) {
    at_ = from;
    return false;
  }
  return true;
}

bool Scanner::takeWords(std::string_view all) {
  const std::size_t from = at_;
  while (!all.empty()) {
    const auto space = std::min(all.find(' '), all.size());
    if (!takeWord(all.substr(0, space))) {
      at_ = from;
      return false;
    }
    all.remove_prefix(std::min(space + 1, all.size()));
  }
  return true;
}

bool Scanner::takeDiameter() {
  if (take(kDiameter) || takeWord("dia")) return true;
  const std::size_t from = at_;
  blanks();
  const bool figure = isDigit(following(1)) || following(1) == U'.' || following(1) == U',';
  if (lower(next()) == U'd' && figure) {
    ++at_;
    return true;
  }
  at_ = from;
  return false;
}

bool Scanner::takeSpherical() {
  const std::size_t from = at_;
  blanks();
  if (lower(next()) == U's' && following(1) != U' ') {
    ++at_;
    if (takeDiameter()) return true;
  }
  at_ = from;
  return false;
}

bool Scanner::takeDegree() {
  return take(kDegree) || takeWord("deg");
}

bool Scanner::takeCircled(char letter, bool bare) {
  const std::size_t from = at_;
  blanks();
  const auto capital = static_cast<char32_t>(letter);
  if (next() == U'Ⓐ' + (capital - U'A')) {
    ++at_;
    return true;
  }
  if (next() == U'(' && following(1) == capital && following(2) == U')') {
    at_ += 3;
    return true;
  }
  if (bare && next() == capital && !isLetter(following(1))) {
    ++at_;
    return true;
  }
  at_ = from;
  return false;
}

// "1 1/2", "3/4": halves down to sixty-fourths, as a rule for inches.
std::optional<double> Scanner::fraction() {
  const auto whole = [this]() -> std::optional<int> {
    int value = 0, digits = 0;
    for (; isDigit(next()) && digits < 5; ++digits, ++at_)
      value = 10 * value + static_cast<int>(next() - U'0');
    return digits > 0 ? std::optional(value) : std::nullopt;
  };
  const std::size_t from = at_;
  int before = 0;
  auto above = whole();
  if (above && (next() == U' ' || next() == U'-') && isDigit(following(1))) {
    before = *above;
    ++at_;
    above = whole();
  }
  if (above && next() == U'/' && isDigit(following(1))) {
    ++at_;
    const auto below = whole();
    constexpr std::array kBelow{2, 4, 8, 16, 32, 64};
    const bool right = below && std::find(kBelow.begin(), kBelow.end(), *below) != kBelow.end();
    if (right && *above < *below) return before + static_cast<double>(*above) / *below;
  }
  at_ = from;
  return {};
}

std::optional<Scanner::Figure> Scanner::figure(bool fractions) {
  const std::size_t from = at_;
  blanks();
  Figure f;
  double sign = 1;
  if (next() == U'+' || next() == U'-') {
    f.is_signed = true;
    if (next() == U'-') sign = -1;
    ++at_;
    blanks();
  }
  if (fractions)
    if (const auto value = fraction()) {
      f.value = sign * *value;
      f.decimals = 3;
      return f;
    }
  double value = 0;
  int digits = 0;
  for (; isDigit(next()); ++at_, ++digits)
    value = 10 * value + (next() - U'0');
  if ((next() == U'.' || next() == U',') && isDigit(following(1))) {
    ++at_;
    double share = 0, scale = 1;
    for (; isDigit(next()); ++at_, ++digits, ++f.decimals)
      share = 10 * share + (next() - U'0'), scale *= 10;
    value = (value * scale + share) / scale;
  }
  if (digits == 0 || digits > 12) {
    at_ = from;
    return {};
  }
  f.value = sign * value;
  return f;
}

std::optional<std::string> Scanner::letters() {
  const std::size_t from = at_;
  blanks();
  std::string run;
  for (; next() >= U'A' && next() <= U'Z'; ++at_)
    run += static_cast<char>(next());
  if (run.empty() || isLetter(next())) {
    at_ = from;
    return {};
  }
  return run;
}

std::string Scanner::word() const {
  std::size_t end = at_;
  while (end < text_.size() && text_[end] != U' ' && text_[end] != U'|')
    ++end;
  return text(at_, std::max(end, std::min(at_ + 1, text_.size())));
}

std::string Scanner::text(std::size_t from, std::size_t to) const {
  std::string out;
  for (std::size_t i = from; i < std::min(to, written_.size()); ++i)
    encode(written_[i] < 32 ? U' ' : written_[i], out);
  return out;
}

TextFault Scanner::fault(std::size_t from, std::string says) const {
  const std::size_t begin = std::min(from, written_.size());
  return {begin, at_ > begin ? at_ - begin : 1, std::move(says)};
}

} // namespace alder::typed
