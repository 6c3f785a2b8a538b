// Triangles of a body from a file: a mesh (STL, PLY, 3MF), or CAD of which only the shape is taken.
#pragma once

#include "base/progress.h"
#include "geometry/mesh.h"
#include <filesystem>

namespace alder {

// mm. Error names the file when it cannot be read, holds nothing, or encloses no volume.
Result<Mesh> readMeshFile(const std::filesystem::path& path, const Progress& progress = {});

} // namespace alder
