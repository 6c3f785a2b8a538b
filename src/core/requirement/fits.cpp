#include "requirement/fits.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <charconv>
#include <string>

namespace alder {
namespace {

constexpr int kRanges = 13;
constexpr std::array<double, kRanges> kUpTo{3, 6, 10, 18, 30, 50, 80, 120, 180, 250, 315, 400, 500};
// Standard tolerances IT5 to IT13 in micrometres, a row a range of sizes.
constexpr int kGrades[kRanges][9] = {
    {4, 6, 10, 14, 25, 40, 60, 100, 140},      {5, 8, 12, 18, 30, 48, 75, 120, 180},
    {6, 9, 15, 22, 36, 58, 90, 150, 220},      {8, 11, 18, 27, 43, 70, 110, 180, 270},
    {9, 13, 21, 33, 52, 84, 130, 210, 330},    {11, 16, 25, 39, 62, 100, 160, 250, 390},
    {13, 19, 30, 46, 74, 120, 190, 300, 460},  {15, 22, 35, 54, 87, 140, 220, 350, 540},
    {18, 25, 40, 63, 100, 160, 250, 400, 630}, {20, 29, 46, 72, 115, 185, 290, 460, 720},
    {23, 32, 52, 81, 130, 210, 320, 520, 810}, {25, 36, 57, 89, 140, 230, 360, 570, 890},
    {27, 40, 63, 97, 155, 250, 400, 630, 970}};
// Distance from the zero line of shafts d to g (below it) and holes D to G (above it).
struct Deviation {
  char letter;
  std::array<int, kRanges> micrometres;
};
constexpr std::array<Deviation, 5> kDeviations{{
    {'d', {20, 30, 40, 50, 65, 80, 100, 120, 145, 170, 190, 210, 230}},
    {'e', {14, 20, 25, 32, 40, 50, 60, 72, 85, 100, 110, 125, 135}},
    {'f', {6, 10, 13, 16, 20, 25, 30, 36, 43, 50, 56, 62, 68}},
    {'g', {2, 4, 5, 6, 7, 9, 10, 12, 14, 15, 17, 18, 20}},
    {'h', {}},
}};

} // namespace

Result<LimitDeviations> limitDeviations(std::string_view code, double nominal) {
  const auto digits = code.find_first_of("0123456789");
  if (digits == std::string_view::npos || digits == 0)
    return fail("fit \"{}\" is not understood; give the limits as numbers.", code);
  std::string letters(code.substr(0, digits));
  int grade = 0;
  std::from_chars(code.data() + digits, code.data() + code.size(), grade);
  if (nominal <= 0 || nominal > kUpTo.back())
    return fail("fit {}: size {} mm is outside 0 to 500 mm; give the limits as numbers.", code,
                nominal);
  if (grade < 5 || grade > 13)
    return fail("fit {}: only grades 5 to 13 are tabled; give the limits as numbers.", code);
  const auto range = std::lower_bound(kUpTo.begin(), kUpTo.end(), nominal) - kUpTo.begin();
  const double width = kGrades[range][grade - 5] / 1000.0;
  const bool hole = std::isupper(static_cast<unsigned char>(letters.front())) != 0;
  std::transform(letters.begin(), letters.end(), letters.begin(),
                 [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
  if (letters == "js") return LimitDeviations{-width / 2, width / 2};
  for (const auto& d : kDeviations) {
    if (letters.size() != 1 || letters.front() != d.letter) continue;
    const double distance = d.micrometres[range] / 1000.0;
    return hole ? LimitDeviations{distance, distance + width}
                : LimitDeviations{-distance - width, -distance};
  }
  return fail("fit {}: deviation {} is not tabled; give the limits as numbers.", code, letters);
}

} // namespace alder
