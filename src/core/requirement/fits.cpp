#include "requirement/fits.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <optional>
#include <string>

namespace alder {
namespace {

// Main ranges of size, and the finer ones of the larger deviations: up to these sizes, mm.
constexpr int kRanges = 13, kFineRanges = 25;
constexpr std::array<double, kRanges> kUpTo{3, 6, 10, 18, 30, 50, 80, 120, 180, 250, 315, 400, 500};
constexpr std::array<double, kFineRanges> kFineUpTo{3,   6,   10,  14,  18,  24,  30,  40,  50,
                                                    65,  80,  100, 120, 140, 160, 180, 200, 225,
                                                    250, 280, 315, 355, 400, 450, 500};

// Standard tolerances IT01, IT0, IT1 to IT18 in micrometres, a row a range of sizes.
constexpr int kGrades = 20;
constexpr double kTolerance[kRanges][kGrades] = {
    {.3, .5, .8, 1.2, 2, 3, 4, 6, 10, 14, 25, 40, 60, 100, 140, 250, 400, 600, 1000, 1400},
    {.4, .6, 1, 1.5, 2.5, 4, 5, 8, 12, 18, 30, 48, 75, 120, 180, 300, 480, 750, 1200, 1800},
    {.4, .6, 1, 1.5, 2.5, 4, 6, 9, 15, 22, 36, 58, 90, 150, 220, 360, 580, 900, 1500, 2200},
    {.5, .8, 1.2, 2, 3, 5, 8, 11, 18, 27, 43, 70, 110, 180, 270, 430, 700, 1100, 1800, 2700},
    {.6, 1, 1.5, 2.5, 4, 6, 9, 13, 21, 33, 52, 84, 130, 210, 330, 520, 840, 1300, 2100, 3300},
    {.6, 1, 1.5, 2.5, 4, 7, 11, 16, 25, 39, 62, 100, 160, 250, 390, 620, 1000, 1600, 2500, 3900},
    {.8, 1.2, 2, 3, 5, 8, 13, 19, 30, 46, 74, 120, 190, 300, 460, 740, 1200, 1900, 3000, 4600},
    {1, 1.5, 2.5, 4, 6, 10, 15, 22, 35, 54, 87, 140, 220, 350, 540, 870, 1400, 2200, 3500, 5400},
    {1.2, 2, 3.5, 5, 8, 12, 18, 25, 40, 63, 100, 160, 250, 400, 630, 1000, 1600, 2500, 4000, 6300},
    {2, 3, 4.5, 7, 10, 14, 20, 29, 46, 72, 115, 185, 290, 460, 720, 1150, 1850, 2900, 4600, 7200},
    {2.5, 4, 6, 8, 12, 16, 23, 32, 52, 81, 130, 210, 320, 520, 810, 1300, 2100, 3200, 5200, 8100},
    {3, 5, 7, 9, 13, 18, 25, 36, 57, 89, 140, 230, 360, 570, 890, 1400, 2300, 3600, 5700, 8900},
    {4, 6, 8, 10, 15, 20, 27, 40, 63, 97, 155, 250, 400, 630, 970, 1550, 2500, 4000, 6300, 9700}};

constexpr int kNone = -1; // the standard leaves this pair out

// Distance of the fundamental deviation from the zero line, micrometres: below it for shafts a to
// h, above it for k to zc.
struct Fine {
  std::string_view letters;
  std::array<int, kFineRanges> micrometres;
};
struct Coarse {
  std::string_view letters;
  std::array<int, kRanges> micrometres;
};
constexpr std::array<Coarse, 12> kCoarse{{
    {"cd", {34, 46, 56, kNone, kNone, kNone, kNone, kNone, kNone, kNone, kNone, kNone, kNone}},
    {"d", {20, 30, 40, 50, 65, 80, 100, 120, 145, 170, 190, 210, 230}},
    {"e", {14, 20, 25, 32, 40, 50, 60, 72, 85, 100, 110, 125, 135}},
    {"ef", {10, 14, 18, kNone, kNone, kNone, kNone, kNone, kNone, kNone, kNone, kNone, kNone}},
    {"f", {6, 10, 13, 16, 20, 25, 30, 36, 43, 50, 56, 62, 68}},
    {"fg", {4, 6, 8, kNone, kNone, kNone, kNone, kNone, kNone, kNone, kNone, kNone, kNone}},
    {"g", {2, 4, 5, 6, 7, 9, 10, 12, 14, 15, 17, 18, 20}},
    {"h", {}},
    {"k", {0, 1, 1, 1, 2, 2, 2, 3, 3, 4, 4, 4, 5}},
    {"m", {2, 4, 6, 7, 8, 9, 11, 13, 15, 17, 20, 21, 23}},
    {"n", {4, 8, 10, 12, 15, 17, 20, 23, 27, 31, 34, 37, 40}},
    {"p", {6, 12, 15, 18, 22, 26, 32, 37, 43, 50, 56, 62, 68}},
}};
constexpr std::array<Fine, 13> kFine{{
    {"a", {270, 270, 280, 290, 290, 300, 300, 310,  320,  340,  360,  380, 410,
           460, 520, 580, 660, 740, 820, 920, 1050, 1200, 1350, 1500, 1650}},
    {"b", {140, 140, 150, 150, 150, 160, 160, 170, 180, 190, 200, 220, 240,
           260, 280, 310, 340, 380, 420, 480, 540, 600, 680, 760, 840}},
    {"c", {60,  70,  80,  95,  95,  110, 110, 120, 130, 140, 150, 170, 180,
           200, 210, 230, 240, 260, 280, 300, 330, 360, 400, 440, 480}},
    {"r", {10, 15, 19, 23, 23, 28, 28, 34, 34,  41,  43,  51, 54,
           63, 65, 68, 77, 80, 84, 94, 98, 108, 114, 126, 132}},
    {"s", {14, 19,  23,  28,  28,  35,  35,  43,  43,  53,  59,  71, 79,
           92, 100, 108, 122, 130, 140, 158, 170, 190, 208, 232, 252}},
    {"t", {kNone, kNone, kNone, kNone, kNone, kNone, 41,  48,  54,  66,  75,  91, 104,
           122,   134,   146,   166,   180,   196,   218, 240, 268, 294, 330, 360}},
    {"u", {18,  23,  28,  33,  33,  41,  48,  60,  70,  87,  102, 124, 144,
           170, 190, 210, 236, 258, 284, 315, 350, 390, 435, 490, 540}},
    {"v", {kNone, kNone, kNone, kNone, 39,  47,  55,  68,  81,  102, 120, 146, 172,
           202,   228,   252,   284,   310, 340, 385, 425, 475, 530, 595, 660}},
    {"x", {20,  28,  34,  40,  45,  54,  64,  80,  97,  122, 146, 178, 210,
           248, 280, 310, 350, 385, 425, 475, 525, 590, 660, 740, 820}},
    {"y", {kNone, kNone, kNone, kNone, kNone, 63,  75,  94,  114, 144, 174, 214, 254,
           300,   340,   380,   425,   470,   520, 580, 650, 730, 820, 920, 1000}},
    {"z", {26,  35,  42,  50,  60,  73,  88,  112, 136, 172,  210,  258, 310,
           365, 415, 465, 520, 575, 640, 710, 790, 900, 1000, 1100, 1250}},
    {"za", {32,  42,  52,  64,  77,  98,  118, 148,  180,  226,  274,  335, 400,
            470, 535, 600, 670, 740, 820, 920, 1000, 1150, 1300, 1450, 1600}},
    {"zb", {40,  50,  67,  90,  108, 136,  160,  200,  242,  300,  360,  445, 525,
            620, 700, 780, 880, 960, 1050, 1200, 1300, 1500, 1650, 1850, 2100}},
}};
constexpr std::array<int, kFineRanges> kZc{60,   80,   97,   130,  150,  188,  218,  274,  325,
                                           405,  480,  585,  690,  800,  900,  1000, 1150, 1250,
                                           1350, 1550, 1700, 1900, 2100, 2400, 2600};
// Shafts j: below the zero line, for grades 5 and 6, 7, 8. Holes J: above it, for 6, 7, 8.
constexpr std::array<int, kRanges> kShaftJ56{2, 2, 2, 3, 4, 5, 7, 9, 11, 13, 16, 18, 20};
constexpr std::array<int, kRanges> kShaftJ7{4, 4, 5, 6, 8, 10, 12, 15, 18, 21, 26, 28, 32};
constexpr std::array<int, kRanges> kHoleJ6{2, 5, 5, 6, 8, 10, 13, 16, 18, 22, 25, 29, 33};
constexpr std::array<int, kRanges> kHoleJ7{4, 6, 8, 10, 12, 14, 18, 22, 26, 30, 36, 39, 43};
constexpr std::array<int, kRanges> kHoleJ8{6, 10, 12, 15, 20, 24, 28, 34, 41, 47, 55, 60, 66};

template <std::size_t N> std::size_t rangeOf(const std::array<double, N>& up_to, double size) {
  return static_cast<std::size_t>(std::lower_bound(up_to.begin(), up_to.end(), size) -
                                  up_to.begin());
}

// Fundamental deviation of a shaft, without its sign.
std::optional<int> tabled(std::string_view letters, double nominal) {
  const auto known = [](int v) { return v == kNone ? std::optional<int>() : v; };
  for (const auto& c : kCoarse)
    if (c.letters == letters) return known(c.micrometres[rangeOf(kUpTo, nominal)]);
  for (const auto& f : kFine)
    if (f.letters == letters) return known(f.micrometres[rangeOf(kFineUpTo, nominal)]);
  if (letters == "zc") return kZc[rangeOf(kFineUpTo, nominal)];
  return {};
}

struct Code {
  std::string letters; // lower case
  bool hole = false;
  int grade = 0; // index into kTolerance: 0 is IT01, 1 is IT0, n + 1 is ITn
};

std::optional<Code> parse(std::string_view text) {
  const auto digits = text.find_first_of("0123456789");
  if (digits == std::string_view::npos || digits == 0 || digits > 2) return {};
  Code code;
  code.hole = std::isupper(static_cast<unsigned char>(text[0])) != 0;
  for (const char c : text.substr(0, digits)) {
    if (std::isalpha(static_cast<unsigned char>(c)) == 0 ||
        (std::isupper(static_cast<unsigned char>(c)) != 0) != code.hole)
      return {};
    code.letters += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  }
  const std::string_view number = text.substr(digits);
  if (number == "01") return code;
  if (number.size() > 2 || number.find_first_not_of("0123456789") != std::string_view::npos ||
      (number.size() == 2 && number[0] == '0'))
    return {};
  code.grade = std::stoi(std::string(number)) + 1;
  return code;
}

// j is given from below for shafts, J from above for holes; only some grades have one.
std::optional<LimitDeviations> ofJ(const Code& code, std::size_t range, double width) {
  const int grade = code.grade - 1;
  if (!code.hole) {
    if (grade == 5 || grade == 6)
      return LimitDeviations{-1.0 * kShaftJ56[range], width - kShaftJ56[range]};
    if (grade == 7) return LimitDeviations{-1.0 * kShaftJ7[range], width - kShaftJ7[range]};
    if (grade == 8 && range == 0) return LimitDeviations{-6, width - 6};
    return {};
  }
  const auto* from = grade == 6   ? &kHoleJ6
                     : grade == 7 ? &kHoleJ7
                     : grade == 8 ? &kHoleJ8
                                  : nullptr;
  if (!from) return {};
  const double upper = (*from)[range];
  return LimitDeviations{upper - width, upper};
}

// Upper deviation of the holes K to ZC: that of the shaft, mirrored, with the correction Delta for
// fine grades above 3 mm (ISO 286-1, 4.3.2.5).
std::optional<double> upperOfHole(const Code& code, std::size_t range, double shaft) {
  const int grade = code.grade - 1;
  const bool fine = grade >= 3 && grade <= (code.letters < "p" ? 8 : 7) && range > 0;
  const double delta = fine ? kTolerance[range][code.grade] - kTolerance[range][code.grade - 1] : 0;
  if (code.letters == "k") {
    if (range == 0) return 0.0;
    return grade <= 8 ? std::optional<double>(-shaft + delta) : std::nullopt;
  }
  if (code.letters == "n" && grade > 8 && range > 0) return 0.0;
  if (code.letters == "m" && grade == 6 && range == 10) return -9.0; // the table's one exception
  return -shaft + delta;
}

} // namespace

Result<LimitDeviations> limitDeviations(std::string_view text, double nominal) {
  // A size in inches is 18.0000000000042 mm: it still belongs to the range up to 18.
  nominal = std::round(nominal * 1e6) / 1e6;
  const auto code = parse(text);
  if (!code) return fail("fit \"{}\" is not understood; give the limits as numbers.", text);
  if (!(nominal > 0) || nominal > kUpTo.back())
    return fail("fit {}: size {} mm is outside 0 to 500 mm; give the limits as numbers.", text,
                nominal);
  if (code->grade >= kGrades)
    return fail("fit {}: grades end at 18; give the limits as numbers.", text);
  const std::size_t range = rangeOf(kUpTo, nominal);
  if (nominal <= 1 && code->grade - 1 >= 14)
    return fail(
        "fit {}: grades from 14 on are not for sizes up to 1 mm; give the limits as numbers.",
        text);
  const double width = kTolerance[range][code->grade];
  const auto inMillimetres = [](double lower, double upper) {
    return LimitDeviations{lower / 1000, upper / 1000};
  };
  const auto missing = [&] {
    return fail("fit {}: ISO 286-1 gives no such deviation for {} mm; give the limits as numbers.",
                text, nominal);
  };
  const std::string& l = code->letters;
  if (l == "js") return inMillimetres(-width / 2, width / 2);
  if (l == "j") {
    const auto limits = ofJ(*code, range, width);
    if (!limits) return missing();
    return inMillimetres(limits->lower, limits->upper);
  }
  const auto distance = tabled(l, nominal);
  if (!distance) return missing();
  if (l <= "h") // away from the zero line into the material
    return code->hole ? inMillimetres(*distance, *distance + width)
                      : inMillimetres(-*distance - width, -*distance);
  if (code->hole) {
    const auto upper = upperOfHole(*code, range, *distance);
    if (!upper) return missing();
    return inMillimetres(*upper - width, *upper);
  }
  const int grade = code->grade - 1;
  const double lower = l == "k" && (grade < 4 || grade > 7) ? 0 : *distance;
  return inMillimetres(lower, lower + width);
}

} // namespace alder
