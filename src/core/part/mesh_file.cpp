#include "part/mesh_file.h"

#include "base/files.h"
#include "geometry/mesh_check.h"
#include "part/model.h"
#include "part/step_import.h"
#include <Poly_Triangulation.hxx>
#include <RWStl.hxx>
#include <Standard_Failure.hxx>
#include <algorithm>
#include <cctype>

namespace alder {
namespace {

Result<Mesh> readStl(const std::filesystem::path& path) {
  const std::string label = path.filename().string();
  auto text = readFile(path); // so that what cannot be opened says why
  if (!text) return pass(text.error());
  try {
    const Handle(Poly_Triangulation) read = RWStl::ReadFile(path.c_str());
    if (read.IsNull() || read->NbTriangles() == 0)
      return fail("{}: holds no triangles that can be read; write it as STL again.", label);
    Mesh mesh;
    for (int i = 1; i <= read->NbNodes(); ++i) {
      const gp_Pnt p = read->Node(i);
      mesh.vertices.emplace_back(p.X(), p.Y(), p.Z());
    }
    for (int i = 1; i <= read->NbTriangles(); ++i) {
      int a = 0, b = 0, c = 0;
      read->Triangle(i).Get(a, b, c);
      mesh.triangles.push_back({a - 1, b - 1, c - 1});
      mesh.tags.push_back(0);
    }
    return mesh;
  } catch (const Standard_Failure&) {
    return fail("{}: cannot be read as STL; write it anew.", label);
  }
}

Result<Mesh> readStepMesh(const std::filesystem::path& path) {
  auto text = readFile(path);
  if (!text) return pass(text.error());
  auto part = importStep(*text, path.filename().string());
  if (!part) return pass(part.error());
  return (*part)->mesh;
}

} // namespace

Result<Mesh> readMeshFile(const std::filesystem::path& path) {
  std::string ending = path.extension().string();
  std::transform(ending.begin(), ending.end(), ending.begin(),
                 [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
  const std::string label = path.filename().string();
  if (ending != ".stl" && ending != ".step" && ending != ".stp")
    return fail("{}: a fixture is read from STEP or STL.", label);
  auto mesh = ending == ".stl" ? readStl(path) : readStepMesh(path);
  if (!mesh) return pass(mesh.error());
  if (std::abs(volumeOf(*mesh)) < 1e-3)
    return fail("{}: encloses no volume; a fixture must be a solid.", label);
  return mesh;
}

} // namespace alder
