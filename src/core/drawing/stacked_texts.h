// Texts that stand one above the other and are one: deviations behind a dimension, limits,
// fractions (ISO 129-1 clause 8, ASME Y14.5).
#pragma once

#include "drawing/frames.h"

namespace alder {

struct TextPiece {
  TextLine line;
  std::optional<RuledCell> cell; // round it
  bool tight = false;            // the cell is a frame of its own
  bool used = false;             // is part of something else by now
  bool limits = false;           // one above the other
};

// Of the pieces of one angle; what is joined to another is used.
void joinStacked(std::vector<TextPiece>& pieces, const std::vector<std::size_t>& of_one_angle,
                 const Strokes& strokes, const SegmentIndex& index);

} // namespace alder
