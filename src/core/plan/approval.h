// That a person has approved the report of a measured part, and what it was that was approved.
#pragma once

#include "base/error.h"
#include <cstdint>
#include <string>
#include <vector>

namespace alder {

struct Approval {
  std::string part; // its serial number, as the run is called
  std::string by;
  std::int64_t seconds = 0; // since 1970
  // SHA-256, as 64 hexadecimal digits: of the routine with bench and model, of the measured points,
  // of what the report says.
  std::string routine, points, report;
  friend bool operator==(const Approval&, const Approval&) = default;
};

// By somebody, and one for each part.
Done validate(const std::vector<Approval>& approvals);
// Null: none.
const Approval* approvalOf(const std::vector<Approval>& approvals, const std::string& part);

} // namespace alder
