// A report layout that a routine keeps, as the bytes of its file; report/layout knows what it says,
// report/workbook how a workbook is filled in.
#pragma once

#include "base/error.h"
#include <string>
#include <vector>

namespace alder {

struct KeptLayout {
  std::string name, text;
  bool isWorkbook() const { return text.starts_with("PK"); } // a workbook (*.xlsx) to be filled in
  friend bool operator==(const KeptLayout&, const KeptLayout&) = default;
};

// Named, once each, and not empty.
Done validate(const std::vector<KeptLayout>& layouts);

} // namespace alder
