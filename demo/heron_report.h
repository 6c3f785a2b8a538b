#pragma once

#include "requirement/specification.h"

namespace alder::demo {

// Text of a report of another machine about one Heron, with a nominal of an old drawing in it and a
// line that is no requirement.
std::string reportOfOthers(const Specification& spec);

} // namespace alder::demo
