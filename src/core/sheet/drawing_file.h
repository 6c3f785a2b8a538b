// A drawing that belongs to a routine: the file as given, kept under its name.
#pragma once

#include "base/error.h"
#include <memory>
#include <string>

namespace alder {

struct DrawingFile {
  std::string name; // "TW-40.pdf"
  std::shared_ptr<const std::string> bytes;
  bool operator==(const DrawingFile& other) const {
    return name == other.name && (bytes == other.bytes || *bytes == *other.bytes);
  }
};

// A name that a file can have, and bytes.
Done validate(const DrawingFile& drawing);

} // namespace alder
