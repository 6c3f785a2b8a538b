// One sheet of a drawing as it is printed: characters, lines and pictures with their places.
// Millimetres from the lower left corner of the sheet, angles in radians anticlockwise.
#pragma once

#include "geometry/vec.h"
#include <string>
#include <vector>

namespace alder {

struct SheetSize {
  double width = 0, height = 0; // mm
};

struct Character {
  std::string text;       // UTF-8, blank or several letters too; empty: a sign of unknown meaning
  Vec2 at = Vec2::Zero(); // begin of its base line
  double advance = 0;     // to the next one, along the base line
  double angle = 0;       // of the base line
  double size = 0;        // of the font; capitals are about 0.7 of it high
  bool scanned = false;   // told from a picture of it, here or by who laid it under the scan
  friend bool operator==(const Character&, const Character&) = default;
};

// A line through points; of curves points near to each other.
struct SheetPath {
  std::vector<Vec2> points;
  bool closed = false, filled = false, curved = false, dashed = false;
  double width = 0; // of the pen
  friend bool operator==(const SheetPath&, const SheetPath&) = default;
};

struct PictureBox {
  Vec2 low = Vec2::Zero(), high = Vec2::Zero();
  int width = 0, height = 0; // pixels
  friend bool operator==(const PictureBox&, const PictureBox&) = default;
};

struct DrawingSheet {
  SheetSize size;
  std::vector<Character> characters;
  std::vector<SheetPath> paths;
  std::vector<PictureBox> pictures;
  bool cut = false; // there is more on it than is read
};

} // namespace alder
