// Proofreading of callouts: what the standard asks and the requirement does not keep, with the
// correction where one follows (ISO 1101, 2692, 5458, 5459; ASME Y14.5-2018).
#pragma once

#include "requirement/specification.h"

namespace alder {

struct Remark {
  std::string says; // what is wrong and what the standard asks
  std::string fix;  // what the correction does, e.g. "Leave out datum C"; empty without one
  std::optional<Requirement> corrected;
};

// Most important first. Empty: nothing to remark.
std::vector<Remark> proofread(const Specification& spec, const Requirement& requirement);

} // namespace alder
