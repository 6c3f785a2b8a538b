// A routine as a DMIS program (ISO 22093), for another implementation to run. What is written, and
// what is not covered, is in docs/dmis.md.
#pragma once

#include "route/way.h"

namespace alder {

// Positions are those of the way, in the part frame (CAD axes) from the rough alignment on. Notes
// of the way and of what has no statement stand in the program as `$$` comments.
std::string dmisProgram(const Plan& plan, const Way& way);

} // namespace alder
