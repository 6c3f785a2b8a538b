// A part from the bytes of a STEP file (ISO 10303-21), with its tolerance data.
#pragma once

#include "part/part_builder.h"

namespace alder {

// Reads STEP AP203, AP214 or AP242 in any length unit. `label` names the file in messages.
// Thread: one import at a time; the call serialises itself, since the CAD library keeps state.
Result<PartPtr> importStep(std::string bytes, const std::string& label,
                           const Progress& progress = {}, const BodyChoice& choice = {});
Result<PartPtr> importStepFile(const std::string& path, const Progress& progress = {});

} // namespace alder
