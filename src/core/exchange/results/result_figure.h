// Figures as files of results write them.
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace alder {

enum class FigureUnit { None, Millimetre, Micrometre, Inch, Degree };
std::string_view name(FigureUnit unit);                           // "", "mm", "um", "in", "deg"
std::optional<FigureUnit> figureUnitNamed(std::string_view name); // as people write it too

struct ResultFigure {
  double value = 0; // in the unit that stands behind it, if one does; else as it is
  int decimals = 0; // as written
  FigureUnit unit = FigureUnit::None;
  bool plus_minus = false; // ±: to both sides
  int significant() const { return decimals - trailing_zeros; }
  int trailing_zeros = 0; // of the decimals
};

// "32,012", "+0.013", "±0.1", "1.234,5", "12.5 mm", "35°30'15\"", "1.2e-3"; nothing when it is no
// figure. `decimal` is '.' or ','.
std::optional<ResultFigure> resultFigure(std::string_view text, char decimal);

// "", "-", "---", "n/a": a place for a figure without one.
bool isNoFigure(std::string_view text);

} // namespace alder
