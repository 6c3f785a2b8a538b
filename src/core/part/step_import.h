// A part from the bytes of a STEP file (ISO 10303-21), with its tolerance data.
#pragma once

#include "part/model.h"

namespace alder {

// Reads STEP AP203, AP214 or AP242 in any length unit. `label` names the file in messages.
// Thread: one import at a time; the call serialises itself, since the CAD library keeps state.
Result<PartPtr> importStep(std::string bytes, const std::string& label,
                           const Progress& progress = {});
Result<PartPtr> importStepFile(const std::string& path, const Progress& progress = {});

// Triangles of any shape, tagged with the index of the face in exploration order.
Mesh meshOf(const TopoDS_Shape& shape, double deflection);

} // namespace alder
