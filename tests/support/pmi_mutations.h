// PMI cases damaged or changed in one place, by a lot drawn with a seed. What a value is for is
// told by a table of our own here, so that the readers' table is not its own judge.
#pragma once

#include "base/random.h"
#include "pmi_cases.h"

namespace alder::test {

struct PmiMutation {
  std::string what;     // "value 3 of TOLERANCE_ZONE #62: #60 -> $"
  std::string records;  // those of the case, changed
  int id = 0;           // of the instance changed, 0: bytes anywhere
  bool meaning = false; // another meaning than before, if the case used that place
};
PmiMutation mutated(const PmiCase& original, Random& random);

} // namespace alder::test
