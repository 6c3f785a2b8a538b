// What Cairo leaves out of a tagged PDF (ISO 32000-1, 14.7 and 14.8).
#pragma once

#include "base/error.h"
#include <string>
#include <vector>

namespace alder {

// Marked as tagged, in English, its title shown; figures get their texts, in the order of the
// document. The bytes are the same for the same input.
Result<std::string> finishedPdf(const std::string& bytes, const std::vector<std::string>& figures);

} // namespace alder
