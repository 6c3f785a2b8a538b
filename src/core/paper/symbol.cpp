#include "paper/symbol.h"

#include <cmath>
#include <numbers>

namespace alder {
namespace {

SymbolLine line(double x0, double y0, double x1, double y1) {
  return {{{x0, y0}, {x1, y1}}, false, false, false};
}

SymbolLine circle(double radius) {
  return {{{0, 0}, {radius, 0}}, true, false, false};
}

void arrow(std::vector<SymbolLine>& lines, double dx) {
  lines.push_back(line(-0.6 + dx, 0.7, 0.3 + dx, -0.65));
  lines.push_back({{{0.42 + dx, -0.82}, {0.0 + dx, -0.5}, {0.32 + dx, -0.28}}, false, true, true});
}

SymbolLine arch(bool closed) {
  SymbolLine arc;
  constexpr int kPieces = 32;
  for (int i = 0; i <= kPieces; ++i) {
    const double t = std::numbers::pi * (1 - static_cast<double>(i) / kPieces);
    arc.points.emplace_back(0.85 * std::cos(t), 0.45 - 0.85 * std::sin(t));
  }
  arc.closed = closed;
  return arc;
}

} // namespace

std::string_view spoken(Symbol symbol) {
  switch (symbol) {
  case Symbol::Straightness:
    return "straightness";
  case Symbol::Flatness:
    return "flatness";
  case Symbol::Roundness:
    return "roundness";
  case Symbol::Cylindricity:
    return "cylindricity";
  case Symbol::LineProfile:
    return "line profile";
  case Symbol::SurfaceProfile:
    return "surface profile";
  case Symbol::Parallelism:
    return "parallelism";
  case Symbol::Perpendicularity:
    return "perpendicularity";
  case Symbol::Angularity:
    return "angularity";
  case Symbol::Position:
    return "position";
  case Symbol::Coaxiality:
    return "coaxiality";
  case Symbol::Symmetry:
    return "symmetry";
  case Symbol::CircularRunout:
    return "circular runout";
  case Symbol::TotalRunout:
    return "total runout";
  }
  return "";
}

std::vector<SymbolLine> linesOf(Symbol symbol) {
  std::vector<SymbolLine> lines;
  switch (symbol) {
  case Symbol::Straightness:
    lines = {line(-0.85, 0, 0.85, 0)};
    break;
  case Symbol::Flatness:
    lines = {{{{-0.9, 0.5}, {0.35, 0.5}, {0.9, -0.5}, {-0.35, -0.5}}, false, true, false}};
    break;
  case Symbol::Roundness:
    lines = {circle(0.72)};
    break;
  case Symbol::Cylindricity:
    lines = {circle(0.46), line(-0.95, 0.75, -0.2, -0.8), line(0.2, 0.8, 0.95, -0.75)};
    break;
  case Symbol::LineProfile:
    lines = {arch(false)};
    break;
  case Symbol::SurfaceProfile:
    lines = {arch(true)};
    break;
  case Symbol::Parallelism:
    lines = {line(-0.75, 0.75, 0.05, -0.75), line(-0.05, 0.75, 0.75, -0.75)};
    break;
  case Symbol::Perpendicularity:
    lines = {line(-0.8, 0.7, 0.8, 0.7), line(0, 0.7, 0, -0.75)};
    break;
  case Symbol::Angularity:
    lines = {line(-0.85, 0.55, 0.85, 0.55), line(-0.85, 0.55, 0.7, -0.6)};
    break;
  case Symbol::Position:
    lines = {circle(0.55), line(-0.95, 0, 0.95, 0), line(0, -0.95, 0, 0.95)};
    break;
  case Symbol::Coaxiality:
    lines = {circle(0.8), circle(0.4)};
    break;
  case Symbol::Symmetry:
    lines = {line(-0.85, 0, 0.85, 0), line(-0.5, -0.42, 0.5, -0.42), line(-0.5, 0.42, 0.5, 0.42)};
    break;
  case Symbol::CircularRunout:
    arrow(lines, 0.05);
    break;
  case Symbol::TotalRunout:
    arrow(lines, -0.3);
    arrow(lines, 0.4);
    break;
  }
  return lines;
}

} // namespace alder
