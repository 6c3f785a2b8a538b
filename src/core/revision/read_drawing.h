// A newer drawing of the routine's part, read from its file.
#pragma once

#include "base/progress.h"
#include "revision/revision.h"

namespace alder {

// It comes in the place of the routine's drawing of its own name; else of the one that is named, or
// where none is named of the only one. Error where the named one is not there, or the file is no
// drawing. `part`: the newer model.
Result<RevisedDrawing> readRevisedDrawing(const Plan& plan, const PartModel& part,
                                          const std::string& path, const std::string& replaces,
                                          const Progress& progress = {});

} // namespace alder
