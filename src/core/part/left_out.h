// Bodies of a file that are not the part.
#pragma once

#include "base/error.h"
#include "part/model.h"

namespace alder {

// The choice that takes these only: bodies or components, by name or by number from 1. Error: one
// that is not there, with those that are.
Result<std::vector<int>> leftOutBut(const PartModel& part, const std::vector<std::string>& taken);

// Tolerances and datums of faces that are left out go, each body told in a note.
void dropLeftOut(PartModel& part);

} // namespace alder
