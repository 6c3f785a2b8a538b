// Characters of a sheet joined to lines, whichever way they are turned and however many runs the
// writer of the file has split them into.
#pragma once

#include "sheet/sheet.h"

namespace alder {

// A turned rectangle: along its base line from `at`, and across it.
struct TextBox {
  Vec2 at = Vec2::Zero(); // begin of the base line
  double angle = 0;
  double length = 0;
  double size = 0;  // of the font
  double below = 0; // how far it reaches below the base line, and above
  double above = 0;

  Vec2 along() const { return {std::cos(angle), std::sin(angle)}; }
  Vec2 across() const { return {-std::sin(angle), std::cos(angle)}; }
  Vec2 middle() const { return at + length / 2 * along() + (above - below) / 2 * across(); }
  // Coordinates in it: along from the begin of the base line, across from the base line.
  Vec2 local(const Vec2& p) const { return {(p - at).dot(along()), (p - at).dot(across())}; }
  Vec2 point(double u, double v) const { return at + u * along() + v * across(); }
  Box2 bounds() const; // on the sheet, upright
};

struct TextLine {
  std::string text; // UTF-8; words parted by one blank, letters in a circle as (M)
  TextBox box;
  bool scanned = false; // told from a picture
  bool unknown = false; // has signs whose meaning the file does not tell
};

// Lines end where a ruled line stands between two characters, or a gap as wide as a letter.
std::vector<TextLine> textLines(const DrawingSheet& sheet);

} // namespace alder
