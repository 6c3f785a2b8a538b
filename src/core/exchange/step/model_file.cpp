#include "exchange/step/model_file.h"

#include "exchange/step/step_of_shape.h"
#include "part/cad_kind.h"
#include "part/cad_process.h"
#include <algorithm>
#include <fmt/format.h>

namespace alder {

bool isModelFile(const std::string& path) {
  std::string end = path.substr(std::min(path.rfind('.'), path.size()));
  std::transform(end.begin(), end.end(), end.begin(),
                 [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
  return end == ".step" || end == ".stp";
}

namespace {

// A part that came as another kind of CAD file, as one of STEP: the same faces in the same order.
Result<PartPtr> asStep(const PartPtr& part, const std::string& label, const Progress& progress) {
  if (const auto kind = cadKindOf(part->bytes); !kind || *kind == CadKind::Step) return part;
  auto bytes = stepOfShape(*part);
  if (!bytes) return pass(bytes.error());
  auto read = importCadApart(std::move(*bytes), label, progress, BodyChoice{leftOut(*part)});
  if (!read) return read;
  bool same = (*read)->faces.size() == part->faces.size();
  for (std::size_t i = 0; same && i < part->faces.size(); ++i) {
    const Face &a = part->faces[i], &b = (*read)->faces[i];
    same = a.ideal.type == b.ideal.type && std::abs(a.area - b.area) < 1e-4 * (1 + a.area);
  }
  if (!same)
    return fail("{}: the shape changes when it is written as STEP; the file is not written.",
                label);
  return read;
}

} // namespace

Result<StepExport> provedModel(const Plan& plan, const std::string& label,
                               const Progress& progress) {
  const auto part = asStep(plan.part, label, progress);
  if (!part) return pass(part.error());
  auto written = stepWithRequirements(**part, plan.spec, plan.notes);
  if (!written) return pass(written.error());
  const auto read = importCadApart(written->bytes, label, progress);
  if (!read)
    return fail("{} cannot be read back and is not written ({})", label, read.error().message);
  const auto other = differencesReadBack(*written, **part, plan.spec, **read);
  written->told.insert(written->told.end(), other.begin(), other.end());
  return written;
}

std::string summary(const StepExport& written) {
  std::string text = fmt::format("{} requirement{} as in the model, {} written", written.kept,
                                 written.kept == 1 ? "" : "s", written.written);
  if (written.removed > 0) text += fmt::format(", {} taken out", written.removed);
  return text;
}

} // namespace alder
