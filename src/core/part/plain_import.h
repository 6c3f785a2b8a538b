// A part from a CAD file that carries no tolerances: IGES (5.3), or the CAD library's own BREP.
#pragma once

#include "part/part_builder.h"

namespace alder {

// In mm whichever unit the file has. Surfaces that meet are sewn, and closed shells become solids,
// with the material inside; where they stay open a note says so. What the file blanks is left out.
Result<PartPtr> importIges(std::string bytes, const std::string& label,
                           const Progress& progress = {}, const BodyChoice& choice = {});
// Text or binary. It has no unit: mm is assumed, and said.
Result<PartPtr> importBrep(std::string bytes, const std::string& label,
                           const Progress& progress = {}, const BodyChoice& choice = {});

} // namespace alder
