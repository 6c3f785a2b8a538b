// The demo's second part, TW-41 "Redshank": the aluminium housing under a gauge head. It is open
// below and furnished from both sides, so that its routine has two set-ups.
#pragma once

#include "base/error.h"
#include <string>

namespace alder::demo {

Result<std::string> redshankStep(); // STEP AP242 with all tolerances, mm
std::string redshankDefectsJson();  // a part with one peg off its place, see docs/demo.md

} // namespace alder::demo
