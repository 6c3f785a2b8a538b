// The way as a table: one row per machine position; the columns are those of the contract in
// docs/files.md.
#pragma once

#include "route/way.h"

namespace alder {

// `times`: seconds from the start, one a position.
std::string pathTable(const Plan& plan, const Way& way, const std::vector<double>& times);

} // namespace alder
