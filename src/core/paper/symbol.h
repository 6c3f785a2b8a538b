// Symbols of geometrical characteristics (ISO 1101 table 1, proportions by ISO 7083) as lines in a
// square from -1 to 1, y downward. One drawing of them for paper and screen.
#pragma once

#include "geometry/vec.h"
#include <string_view>
#include <vector>

namespace alder {

enum class Symbol {
  Straightness,
  Flatness,
  Roundness,
  Cylindricity,
  LineProfile,
  SurfaceProfile,
  Parallelism,
  Perpendicularity,
  Angularity,
  Position,
  Coaxiality,
  Symmetry,
  CircularRunout,
  TotalRunout
};
inline constexpr int kSymbolCount = 14;
std::string_view spoken(Symbol symbol); // "position", what is read where it is drawn

struct SymbolLine {
  std::vector<Vec2> points; // of a circle: centre, and one on it
  bool circle = false, closed = false, filled = false;
};
std::vector<SymbolLine> linesOf(Symbol symbol);

} // namespace alder
