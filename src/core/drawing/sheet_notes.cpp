#include "drawing/sheet_notes.h"

#include <algorithm>
#include <regex>

namespace alder {
namespace {

std::string lowered(std::string text) {
  std::transform(text.begin(), text.end(), text.begin(),
                 [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
  return text;
}

constexpr std::size_t kLongestNote = 400; // characters that are looked at

} // namespace

std::optional<LengthUnit> unitIn(const std::string& note) {
  const std::string text = lowered(note.substr(0, kLongestNote));
  static const std::regex speaks("dimension|unit|unless|measure|maße|cotes|quote");
  static const std::regex inch("\\binch(es)?\\b|\\bin\\.(?!\\w)|\\bzoll\\b");
  static const std::regex metric("\\bmm\\b|\\bmillimet(re|er)s?\\b");
  const bool alone = text.size() < 16;
  if (!alone && !std::regex_search(text, speaks)) return {};
  const bool in = std::regex_search(text, inch), mm = std::regex_search(text, metric);
  if (in == mm) return {}; // neither, or both: "inch [mm]"
  return in ? LengthUnit::Inch : LengthUnit::Millimetre;
}

std::optional<GeneralTolerances> generalIn(const std::string& note) {
  static const std::regex iso2768("2768\\s*(-\\s*1)?\\s*[-–—:]?\\s*([fmcv])[HKL]?\\b");
  std::smatch found;
  const std::string text = note.substr(0, kLongestNote);
  if (!std::regex_search(text, found, iso2768)) return {};
  GeneralTolerances general;
  general.rule = GeneralRule::Iso2768;
  general.linear = found[2].str()[0];
  return general;
}

} // namespace alder
