#include "part/mesh_file.h"

#include "base/files.h"
#include "geometry/mesh_check.h"
#include "part/cad_kind.h"
#include "part/cad_process.h"

namespace alder {

Result<Mesh> readMeshFile(const std::filesystem::path& path, const Progress& progress) {
  const std::string label = path.filename().string();
  auto bytes = readFile(path);
  if (!bytes) return pass(bytes.error());
  if (!cadKindOf(*bytes))
    return fail("{}: a fixture is read from STEP, IGES, BREP, STL, PLY or 3MF.", label);
  auto mesh = meshApart(*bytes, label, progress);
  if (!mesh) return pass(mesh.error());
  if (std::abs(volumeOf(*mesh)) < 1e-3)
    return fail("{}: encloses no volume; a fixture must be a solid.", label);
  return mesh;
}

} // namespace alder
