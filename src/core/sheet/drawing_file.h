// A drawing that belongs to a routine: the file as given, kept under its name, with what a person
// decided of it.
#pragma once

#include "base/error.h"
#include <memory>
#include <string>
#include <vector>

namespace alder {

// A proposal that is none, by the middle of its text: mm from the lower left corner of its page.
struct RefusedSpot {
  int page = 1;
  double x = 0, y = 0;
  friend bool operator==(const RefusedSpot&, const RefusedSpot&) = default;
};

struct DrawingFile {
  std::string name; // "TW-40.pdf"
  std::shared_ptr<const std::string> bytes;
  std::string unit; // "mm", "in"; empty: as the drawing says
  std::vector<RefusedSpot> refused;
  bool operator==(const DrawingFile& other) const;
};

// A name that a file can have, and bytes.
Done validate(const DrawingFile& drawing);

} // namespace alder
