// Where copies of something lie from their original. CAD frame, mm, radians.
#pragma once

#include "base/error.h"
#include "geometry/vec.h"
#include <string>
#include <string_view>
#include <vector>

namespace alder {

// In a row; in rows beside each other; round an axis; on the other side of a plane; as listed.
enum class PatternKind { Linear, Grid, Rotary, Mirrored, Listed };
std::string_view name(PatternKind kind); // "linear", "grid", "rotary", "mirrored", "listed"

// Turned about the axis of the pattern, then shifted.
struct ListedPlace {
  Vec3 shift = Vec3::Zero();
  double turn = 0;
  friend bool operator==(const ListedPlace&, const ListedPlace&) = default;
};

struct Pattern {
  PatternKind kind = PatternKind::Linear;
  int count = 2;                   // in a row, or round the axis, the original among them
  Vec3 step = Vec3(10, 0, 0);      // from one to the next in a row
  int rows = 2;                    // of a grid
  Vec3 to_row = Vec3(0, 10, 0);    // from one row to the next
  Vec3 point = Vec3::Zero();       // of the axis, or of the mirror
  Vec3 axis = Vec3::UnitZ();       // or the normal of the mirror
  double angle = 0;                // from one to the next about the axis; 0: evenly all round
  std::vector<ListedPlace> places; // as listed, without the original
  friend bool operator==(const Pattern&, const Pattern&) = default;
};

Done validate(const Pattern& pattern);

// A rigid motion, or one with a reflection.
struct Motion {
  Mat3 linear = Mat3::Identity();
  Vec3 shift = Vec3::Zero();
  Vec3 place(const Vec3& p) const { return linear * p + shift; }
  Vec3 direction(const Vec3& d) const { return linear * d; }
  bool turns() const { return !linear.isIdentity(1e-12); }
};

// From the original to each copy, in order; without the original.
std::vector<Motion> motionsOf(const Pattern& pattern);

// Rows as a spreadsheet gives them, parted by tabs, semicolons or blanks: x, y, z and perhaps a
// turn in degrees. The first row is the original, from which the others are counted; a row of
// headings before it is passed over. Error names the row that cannot be read.
Result<std::vector<ListedPlace>> listedFromText(const std::string& text);
// The same rows, the original first at 0, 0, 0.
std::string listedText(const std::vector<ListedPlace>& places);

// The rule by which the places lie that something at `original`, which points along `direction`, is
// repeated at: evenly round an axis along the direction, in a row, in a grid, or else listed.
Pattern patternThrough(const Vec3& original, const Vec3& direction, const Points& others);

} // namespace alder
