#include "part/cad_process.h"

#include "base/files.h"
#include "part/part_image.h"

namespace alder {
namespace {

Result<std::shared_ptr<PartModel>> readPart(const std::string& bytes, const std::string& label,
                                            const std::vector<std::string>& arguments,
                                            const Progress& progress, const ReaderLimits& limits) {
  static const ReaderProgram reader{"alderpoint-cad", "CAD files", "the CAD library",
                                    "export it again from the CAD system"};
  auto image = readApart(reader, bytes, label, arguments, progress, limits);
  if (!image) return pass(image.error());
  auto part = partFromImage(*image);
  if (!part) return fail("{}: {}", label, part.error().message);
  return part;
}

} // namespace

Result<PartPtr> importCadApart(std::string bytes, const std::string& label,
                               const Progress& progress, const BodyChoice& choice,
                               const ReaderLimits& limits) {
  std::vector<std::string> arguments;
  if (choice.left_out)
    arguments.push_back(fmt::format("--left-out={}", fmt::join(*choice.left_out, ",")));
  auto part = readPart(bytes, label, arguments, progress, limits);
  if (!part) return pass(part.error());
  (*part)->bytes = std::move(bytes);
  return PartPtr(std::move(*part));
}

Result<PartPtr> importCadFileApart(const std::string& path, const Progress& progress,
                                   const BodyChoice& choice, const ReaderLimits& limits) {
  auto bytes = readFile(path);
  if (!bytes) return pass(bytes.error());
  return importCadApart(std::move(*bytes), path, progress, choice, limits);
}

Result<Mesh> meshApart(const std::string& bytes, const std::string& label, const Progress& progress,
                       const ReaderLimits& limits) {
  auto part = readPart(bytes, label, {"--mesh"}, progress, limits);
  if (!part) return pass(part.error());
  return std::move((*part)->mesh);
}

} // namespace alder
