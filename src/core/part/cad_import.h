// A part from a CAD file of any kind that holds surfaces, told apart by what is in it.
#pragma once

#include "part/part_builder.h"

namespace alder {

// STEP with its tolerances, IGES, BREP. A mesh is refused: it has no surfaces to measure.
Result<PartPtr> importCad(std::string bytes, const std::string& label,
                          const Progress& progress = {}, const BodyChoice& choice = {});

} // namespace alder
