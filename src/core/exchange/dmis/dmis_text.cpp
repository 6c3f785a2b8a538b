#include "exchange/dmis/dmis_text.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <string_view>

namespace alder::dmis {

namespace {

std::string shortest(double value, int decimals) {
  std::string text = fmt::format("{:.{}f}", value, decimals);
  text.erase(text.find_last_not_of('0') + 1);
  if (text.back() == '.') text.pop_back();
  return text == "-0" ? "0" : text;
}

} // namespace

std::string figure(double value) {
  return shortest(value, 6);
}

std::string fineFigure(double value) {
  return shortest(value, 9);
}

std::string figures(const Vec3& v) {
  return figure(v.x()) + "," + figure(v.y()) + "," + figure(v.z());
}

std::string cosines(const Vec3& v) {
  return fineFigure(v.x()) + "," + fineFigure(v.y()) + "," + fineFigure(v.z());
}

std::string ascii(const std::string& text) {
  static constexpr std::array<std::pair<std::string_view, std::string_view>, 12> kWords{
      {{"ø", "dia "},
       {"Ø", "dia "},
       {"⌀", "dia "},
       {"·", "-"},
       {"°", " deg"},
       {"±", "+/-"},
       {"µ", "u"},
       {"×", "x"},
       {"–", "-"},
       {"ä", "ae"},
       {"ö", "oe"},
       {"ü", "ue"}}};
  std::string out;
  for (std::size_t i = 0; i < text.size();) {
    if (static_cast<unsigned char>(text[i]) < 0x80) {
      out += text[i++];
      continue;
    }
    const auto word = std::find_if(kWords.begin(), kWords.end(), [&](const auto& w) {
      return text.compare(i, w.first.size(), w.first) == 0;
    });
    out += word == kWords.end() ? "?" : word->second;
    do
      ++i; // to the end of the character
    while (i < text.size() && (static_cast<unsigned char>(text[i]) & 0xC0) == 0x80);
  }
  return out;
}

std::string quoted(const std::string& text) {
  std::string out = "'";
  for (const char c : ascii(text))
    if (c == '\'')
      out += "''";
    else if (c == '\n' || c == '\r')
      out += ' ';
    else
      out += c;
  return out + "'";
}

void Program::add(const std::string& statement) {
  std::string rest = std::string(static_cast<std::size_t>(2 * indent_), ' ') + statement;
  while (rest.size() > kLine) {
    // Behind a comma that stands in no quotes.
    std::size_t at = 0;
    bool inside = false;
    for (std::size_t i = 0; i + 1 < kLine && i < rest.size(); ++i) {
      if (rest[i] == '\'') inside = !inside;
      if (rest[i] == ',' && !inside) at = i + 1;
    }
    if (at == 0) break; // one long word stays whole
    text_ += rest.substr(0, at) + "$\n";
    rest = std::string(static_cast<std::size_t>(2 * indent_ + 4), ' ') + rest.substr(at);
  }
  text_ += rest + "\n";
}

void Program::note(const std::string& said) {
  const std::string text = ascii(said);
  std::size_t from = 0;
  while (from <= text.size()) {
    const std::size_t end = std::min(text.find('\n', from), text.size());
    const char* begins = "$$ ";
    do {
      const std::size_t room = kLine - static_cast<std::size_t>(2 * indent_) - 4;
      std::size_t cut = std::min(from + room, end);
      // Spaces at the ends of lines would be lost.
      while (cut < end && cut > from + 1 && (text[cut] == ' ' || text[cut - 1] == ' '))
        --cut;
      text_ += std::string(static_cast<std::size_t>(2 * indent_), ' ') + begins +
               text.substr(from, cut - from) + "\n";
      begins = kGoesOn;
      from = cut;
    } while (from < end);
    from = end + 1;
  }
}

} // namespace alder::dmis
