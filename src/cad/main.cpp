// alderpoint-cad LABEL MEGABYTES [--left-out=0,3] [--mesh]: reads a CAD file for the other
// programs; see part/cad_process.h.
#include "mesh_import.h"
#include "part/cad_import.h"
#include "reader.h"

#include "part/face_region.h"
#include "part/part_image.h"
#include <BRepCheck_Analyzer.hxx>
#include <Standard_Failure.hxx>
#include <sstream>
#include <stdexcept>

namespace {

using namespace alder;

// A shape that is not sound is used here as the planner will use it, so that it breaks here.
void tryFaces(const PartModel& part) {
  if (BRepCheck_Analyzer(part.shape).IsValid()) return;
  for (const Surface& surface : part.surfaces) {
    const FaceRegion region(part, surface.faces);
    for (const SurfacePoint& s : region.grid(60))
      (void)region.edgeDistance(s.point);
  }
}

// Bodies that are left out, of "--left-out=0,3".
BodyChoice choiceOf(const std::vector<std::string>& arguments) {
  constexpr std::string_view kOption = "--left-out=";
  BodyChoice choice;
  for (const std::string& a : arguments) {
    if (!a.starts_with(kOption)) continue;
    choice.left_out.emplace();
    std::istringstream numbers(a.substr(kOption.size()));
    for (std::string one; std::getline(numbers, one, ',');)
      choice.left_out->push_back(std::atoi(one.c_str()));
  }
  return choice;
}

Result<std::string> readPart(const ReaderTask& task) {
  const bool mesh =
      std::find(task.arguments.begin(), task.arguments.end(), "--mesh") != task.arguments.end();
  const auto kind = cadKindOf(task.bytes);
  if (mesh && kind && isMesh(*kind)) {
    PartModel only;
    auto read = importMesh(task.bytes, *kind, task.label);
    if (!read) return pass(read.error());
    only.mesh = std::move(*read);
    return partImage(only);
  }
  try {
    auto part = importCad(task.bytes, task.label, task.progress, choiceOf(task.arguments));
    if (!part) return pass(part.error());
    if (mesh) {
      PartModel only;
      only.mesh = (*part)->mesh;
      return partImage(only);
    }
    tryFaces(**part);
    return partImage(**part);
  } catch (const Standard_Failure& failure) {
    return fail("{}: the geometry cannot be used ({}); export it again from the CAD system.",
                task.label, failure.GetMessageString());
  }
}

} // namespace

int main(int argc, char** argv) {
  return readerMain(
      argc, argv, "export it simpler, or one body of it", readPart, [](const std::exception& e) {
        return fmt::format("the CAD library gives up ({}); export it again from the CAD system.",
                           e.what());
      });
}
