// Ruled frames round texts of a sheet: compartments of tolerance indicators, framed dimensions and
// datum letters, and the cells of title blocks and tables.
#pragma once

#include "sheet/strokes.h"
#include "sheet/text_line.h"
#include <array>
#include <optional>

namespace alder {

// Millimetres in the frame of the text's angle, turned about the corner of the sheet.
struct RuledCell {
  double left = 0, right = 0, bottom = 0, top = 0;
  double height() const { return top - bottom; }
  double width() const { return right - left; }
};

// Straight lines of a sheet along and across one angle, those on one line joined.
class Ruling {
 public:
  Ruling(const Strokes& strokes, double angle);

  Vec2 local(const Vec2& p) const { return {p.dot(u_), p.dot(v_)}; }
  Vec2 sheet(const Vec2& p) const { return p.x() * u_ + p.y() * v_; }

  // Nearest line along (across) on that side of `at` that covers low..high, no farther than
  // `reach`; `side` is +1 or -1.
  std::optional<double> along(double at, int side, double reach, double low, double high) const;
  std::optional<double> across(double at, int side, double reach, double low, double high) const;

  // The ruled rectangle round a text, if there is one.
  std::optional<RuledCell> cellOf(const TextBox& text) const;

 private:
  struct Line {
    double at, low, high;
  };
  using Lines = std::vector<Line>;
  static Lines joined(Lines lines);
  static std::optional<double> nearest(const Lines& lines, double at, int side, double reach,
                                       double low, double high);
  Vec2 u_, v_;
  Lines along_, across_;
};

} // namespace alder
