#include "part/cad_process.h"

#include "base/files.h"
#include "part/part_image.h"

namespace alder {

Result<PartPtr> importStepApart(std::string bytes, const std::string& label,
                                const Progress& progress, const ReaderLimits& limits) {
  static const ReaderProgram reader{"alderpoint-cad", "CAD files", "the CAD library",
                             "export it again from the CAD system"};
  auto image = readApart(reader, bytes, label, {}, progress, limits);
  if (!image) return pass(image.error());
  auto part = partFromImage(*image);
  if (!part) return fail("{}: {}", label, part.error().message);
  (*part)->bytes = std::move(bytes);
  return PartPtr(std::move(*part));
}

Result<PartPtr> importStepFileApart(const std::string& path, const Progress& progress,
                                    const ReaderLimits& limits) {
  auto bytes = readFile(path);
  if (!bytes) return pass(bytes.error());
  return importStepApart(std::move(*bytes), path, progress, limits);
}

} // namespace alder
