// Lengths are millimetres and angles radians inside; other units exist only at the edge.
#pragma once

#include "base/error.h"
#include <numbers>
#include <string>
#include <string_view>

namespace alder {

inline constexpr double kPi = std::numbers::pi;
inline constexpr double kMmPerInch = 25.4;

constexpr double radians(double degrees) {
  return degrees * kPi / 180.0;
}
constexpr double degrees(double radians) {
  return radians * 180.0 / kPi;
}

// Degrees without the last digits' noise of the conversion: what people and files are shown.
double shownDegrees(double radians);

enum class Quantity { Length, Angle, Plain };

// What a person types into a field: arithmetic with + - * / and parentheses, units mm, cm, m, in,
// deg or ° and rad; a bare number is mm or degrees. "12+0.5", "0.25in", "2*(3+1)".
// Returns mm for lengths, radians for angles. The error names the place in the text.
Result<double> parseQuantity(std::string_view text, Quantity quantity);

// Fixed decimals, dot as separator, never "-0.000".
std::string figure(double value, int decimals);
// Fewest decimals (at most `most`) that still show the value to within half a unit of the last.
std::string shortFigure(double value, int most = 4);

} // namespace alder
