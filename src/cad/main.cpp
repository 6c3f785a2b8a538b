// alderpoint-cad LABEL MEGABYTES: reads a CAD file for the other programs; see part/cad_process.h.
#include "part/step_import.h"
#include "reader.h"

#include "part/face_region.h"
#include "part/part_image.h"
#include <BRepCheck_Analyzer.hxx>
#include <Standard_Failure.hxx>
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

Result<std::string> readPart(const ReaderTask& task) {
  try {
    auto part = importStep(task.bytes, task.label, task.progress);
    if (!part) return pass(part.error());
    tryFaces(**part);
    return partImage(**part);
  } catch (const Standard_Failure& failure) {
    return fail("{}: the geometry cannot be used ({}); export it again from the CAD system.",
                task.label, failure.GetMessageString());
  }
}

} // namespace

int main(int argc, char** argv) {
  return readerMain(argc, argv, "export it simpler, or one body of it", readPart,
                    [](const std::exception& e) {
                      return fmt::format(
                          "the CAD library gives up ({}); export it again from the CAD system.",
                          e.what());
                    });
}
