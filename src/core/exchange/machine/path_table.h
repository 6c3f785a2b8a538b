// The way as a table: one row per machine position; the columns are those of the contract in
// docs/files.md.
#pragma once

#include "route/setup_ways.h"

namespace alder {

// `times`: seconds from the start, one a position.
std::string pathTable(const Plan& plan, const Way& way, const std::vector<double>& times);
// Of several set-ups one after the other, with a column `set_up`. What the operator does between
// two is a row of kind swap: no move leads there.
std::string pathTable(const std::vector<SetupWay>& ways);

} // namespace alder
