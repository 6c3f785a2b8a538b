// A report layout that a routine keeps, as the text of its file; report/layout knows what it says.
#pragma once

#include "base/error.h"
#include <string>
#include <vector>

namespace alder {

struct KeptLayout {
  std::string name, text;
  friend bool operator==(const KeptLayout&, const KeptLayout&) = default;
};

// Named, once each, and not empty.
Done validate(const std::vector<KeptLayout>& layouts);

} // namespace alder
