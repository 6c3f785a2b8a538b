// The drawing of the Heron: two A3 sheets in first-angle projection with all that its PMI says.
#pragma once

#include "heron.h"

namespace alder::demo {

Result<std::string> heronDrawing(HeronRevision revision = HeronRevision::B); // PDF

} // namespace alder::demo
