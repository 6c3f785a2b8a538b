// Files of results in twelve layouts, written from what is known to stand in them.
#pragma once

#include "support.h"
#include <optional>

namespace alder::test {

// One value as a machine would report it. Lengths in mm, angles in degrees.
struct MadeValue {
  RequirementId requirement; // that it proves; invalid: none, such as a coordinate
  int number = 0;            // of the characteristic
  std::string feature, axis; // "Bore ø32", "D"
  bool geometric = false, degrees = false;
  double nominal = 0, above = 0, below = 0; // limits from the nominal; geometric: above alone
  double actual = 0;
};
struct MadePart {
  std::string serial, date, operated_by;
  std::vector<MadeValue> values;
};

struct MadeResultFile {
  std::string name; // "two_lines.txt"
  std::string bytes;
  std::vector<MadePart> parts; // as they stand in it, rounded as it shows them
  bool inch = false;
};

// Values of a specification by lot, most of them within.
MadePart madePart(const Specification& spec, std::uint64_t seed);

inline constexpr int kResultLayouts = 12;
// `figures` not 0: the same characteristics with other actual values, of other parts. `foreign`:
// names, numbers and order that have nothing to do with the specification's.
MadeResultFile madeResultFile(int layout, const Specification& spec, std::uint64_t seed,
                              std::uint64_t figures = 0, bool foreign = false);

// A workbook (ECMA-376) of one sheet; figures as figures, the rest as shared or inline words.
std::string madeWorkbook(const std::vector<std::vector<std::string>>& rows, bool shared);

} // namespace alder::test
