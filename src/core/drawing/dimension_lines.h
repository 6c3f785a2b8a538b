// Dimension lines and leaders of a drawing: lines that end in arrows (ISO 129-1, clauses 5 and 7).
#pragma once

#include "sheet/strokes.h"
#include "sheet/text_line.h"
#include <optional>

namespace alder {

class DimensionLines {
 public:
  DimensionLines(const Strokes& strokes, const SegmentIndex& index);

  // Whether a line with an arrow at one of its ends at least runs below the text, or through its
  // height beside it.
  bool runsAlong(const TextBox& text) const;

 private:
  static bool crosses(const TextBox& text, const Vec2& a, const Vec2& b);
  bool hasArrow(const Vec2& end, const Vec2& from) const;
  const Strokes& strokes_;
  const SegmentIndex& index_;
};

} // namespace alder
