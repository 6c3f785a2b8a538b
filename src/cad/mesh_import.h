// Triangles of a mesh file.
#pragma once

#include "base/error.h"
#include "geometry/mesh.h"
#include "part/cad_kind.h"

namespace alder {

// mm, whichever unit a 3MF file states (3MF core specification, 4.1); STL and PLY have none: mm.
Result<Mesh> importMesh(const std::string& bytes, CadKind kind, const std::string& label);

} // namespace alder
