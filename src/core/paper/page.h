// Pages as values: what stands on each and where, in millimetres. What is composed is drawn as a
// PDF, as a picture on the screen, and checked in tests, all from the same marks.
#pragma once

#include "paper/area.h"
#include "paper/symbol.h"
#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <variant>
#include <vector>

namespace alder {

struct Ink {
  double r = 0, g = 0, b = 0, a = 1;
  friend bool operator==(const Ink&, const Ink&) = default;
};
constexpr Ink ink(unsigned rgb) {
  return {((rgb >> 16) & 255) / 255.0, ((rgb >> 8) & 255) / 255.0, (rgb & 255) / 255.0, 1};
}
constexpr Ink withAlpha(Ink ink, double alpha) {
  ink.a = alpha;
  return ink;
}

enum class Typeface { Text, Strong, Figures };
enum class Align { Left, Middle, Right };

struct TextStyle {
  Typeface face = Typeface::Text;
  double size = 3; // mm, of the em
  Ink ink;
  Align align = Align::Left;
  friend bool operator==(const TextStyle&, const TextStyle&) = default;
};

// UTF-8 of any script, wrapped to the width of its area; lines end at "\n" too. See
// TextSetter::measure() for the height that it needs.
struct TextMark {
  Area area;
  std::string text;
  TextStyle style;
};

struct LineMark {
  std::vector<Vec2> points;
  double width = 0.2; // mm; 0: not drawn, only filled
  Ink ink;
  std::optional<Ink> fill;
  bool closed = false, dashed = false;
};

struct RoundMark {
  Vec2 centre = Vec2::Zero();
  double radius = 1;
  double width = 0.2; // 0: only filled
  Ink ink;
  std::optional<Ink> fill;
  bool dashed = false;
};

struct SymbolMark {
  Vec2 centre = Vec2::Zero();
  double size = 4; // of the square it stands in
  Symbol symbol = Symbol::Position;
  Ink ink;
};

struct Raster {
  int width = 0, height = 0;
  std::vector<std::uint32_t> pixels; // ARGB, premultiplied, row by row from the top
};

struct PictureMark {
  Area area; // filled by the picture
  std::shared_ptr<const Raster> raster;
};

// Structure of the page (ISO 32000-1, 14.8.4): what follows until the matching end.
enum class Role { Heading, Subheading, Paragraph, Table, Row, HeadCell, Cell, Figure };
struct OpenTag {
  Role role = Role::Paragraph;
  std::string says = {}; // of a figure, for who cannot see it
};
struct CloseTag {};

using Mark =
    std::variant<TextMark, LineMark, RoundMark, SymbolMark, PictureMark, OpenTag, CloseTag>;

struct PaperSize {
  double width = 210, height = 297; // mm
  friend bool operator==(const PaperSize&, const PaperSize&) = default;
};

struct PaperPage {
  PaperSize size;
  std::vector<Mark> marks;
  std::string outline; // entry of the document's outline that leads here; empty: none
};

} // namespace alder
