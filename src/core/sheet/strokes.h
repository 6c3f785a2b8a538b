// The lines of a sheet in forms that are looked for: straight pieces, circles, filled tips.
#pragma once

#include "sheet/sheet.h"

namespace alder {

struct StraightStroke {
  Vec2 a = Vec2::Zero(), b = Vec2::Zero();
  double width = 0;
  bool dashed = false;
  double length() const { return (b - a).norm(); }
  Vec2 direction() const { return (b - a).normalized(); }
};

struct RoundLine { // a circle, or an arc of one
  Vec2 centre = Vec2::Zero();
  double radius = 0;
  bool whole = false;
  bool dashed = false;
  Vec2 from = Vec2::Zero(), middle = Vec2::Zero(), to = Vec2::Zero();
};

struct FilledTip {          // of an arrow, or of a datum
  Vec2 tip = Vec2::Zero();  // the corner between the longest two sides
  Vec2 back = Vec2::Zero(); // middle of the side that faces it
  double width = 0;         // of that side
};

struct Strokes {
  std::vector<StraightStroke> segments; // those of rectangles and polylines too; of curves none
  std::vector<RoundLine> rounds;        // drawn as curves, or as at least eight straight pieces
  std::vector<FilledTip> tips;          // filled triangles
};

// Pieces that follow each other in a line are one, dashes of a broken line are not.
Strokes strokesOf(const DrawingSheet& sheet);

// Places of a sheet looked up by cells.
class SegmentIndex {
 public:
  explicit SegmentIndex(const std::vector<StraightStroke>& segments);
  // Positions in the list, of those that come near the box; ascending.
  std::vector<std::size_t> near(const Box2& box) const;

 private:
  const std::vector<StraightStroke>& segments_;
  double cell_ = 5;
  Vec2 low_ = Vec2::Zero();
  int columns_ = 1, rows_ = 1;
  std::vector<std::vector<std::uint32_t>> cells_;
  void range(const Box2& box, int& x0, int& x1, int& y0, int& y1) const;
};

} // namespace alder
