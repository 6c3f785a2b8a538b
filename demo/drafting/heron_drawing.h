// The drawing of the Heron: two A3 sheets in first-angle projection with all that its PMI says.
#pragma once

#include "base/error.h"
#include <string>

namespace alder::demo {

Result<std::string> heronDrawing(); // PDF

} // namespace alder::demo
