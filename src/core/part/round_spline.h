// Cylinders, cones and spheres that a file writes as splines or swept surfaces: many exporters
// write every surface so, and IGES mostly does.
#pragma once

#include "part/model.h"
#include <optional>

namespace alder {

// What the face is within 1 µm, as `Ideal` states it but for `hole`. None: it is no such shape, or
// too little of it to tell.
std::optional<Ideal> roundShapeOf(const TopoDS_Face& face);

} // namespace alder
