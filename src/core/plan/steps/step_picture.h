// A picture that a wait shows to its operator: the bytes of a PNG or JPEG file, kept with the
// routine under a name.
#pragma once

#include "base/error.h"
#include <memory>
#include <string>

namespace alder {

struct StepPicture {
  std::string name; // "Clamp off.png"
  std::shared_ptr<const std::string> bytes;
  bool operator==(const StepPicture& other) const {
    return name == other.name && *bytes == *other.bytes;
  }
};

// A name that a file can have, bytes that begin as those of a PNG or JPEG do and are not too many.
Done validate(const StepPicture& picture);

} // namespace alder
