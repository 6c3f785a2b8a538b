#include "drawing/sheet_notes.h"

#include "requirement/general_tolerances.h"
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
  static const std::regex iso2768("2768\\s*(-\\s*1)?\\s*[-–—:]?\\s*([fmcv])([HKL]?)\\b");
  std::smatch found;
  const std::string text = note.substr(0, kLongestNote);
  if (!std::regex_search(text, found, iso2768)) return {};
  return iso2768Named(found[2].str() + found[3].str());
}

std::vector<double> scalesIn(const std::string& text) {
  static const std::regex ratio("(^|[^\\d:.,/-])(\\d{1,4}) ?: ?(\\d{1,4})($|[^\\d:.,])");
  static const std::regex worded(
      "(scale|maßstab|échelle|scala)\\s*:?\\s*(\\d{1,4}) ?[:/] ?(\\d{1,4})", std::regex::icase);
  std::vector<double> scales;
  std::smatch found;
  const std::string front = text.substr(0, kLongestNote);
  for (const std::regex& pattern : {ratio, worded})
    if (std::regex_search(front, found, pattern)) {
      const double of = std::stod(found[2].str()), to = std::stod(found[3].str());
      if (of > 0 && to > 0 && (of == 1 || to == 1)) scales.push_back(of / to);
    }
  return scales;
}

} // namespace alder
