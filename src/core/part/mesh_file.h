// Triangles of a body from a file: STL, or STEP of which only the shape is taken (mm).
#pragma once

#include "base/error.h"
#include "geometry/mesh.h"
#include <filesystem>

namespace alder {

// Error names the file when it cannot be read, holds nothing, or encloses no volume.
Result<Mesh> readMeshFile(const std::filesystem::path& path);

} // namespace alder
