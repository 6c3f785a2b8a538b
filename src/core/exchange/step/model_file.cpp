#include "exchange/step/model_file.h"

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

Result<StepExport> provedModel(const Plan& plan, const std::string& label,
                               const Progress& progress) {
  auto written = stepWithRequirements(*plan.part, plan.spec, plan.notes);
  if (!written) return pass(written.error());
  const auto read = importStepApart(written->bytes, label, progress);
  if (!read)
    return fail("{} cannot be read back and is not written ({})", label, read.error().message);
  const auto other = differencesReadBack(*written, *plan.part, plan.spec, **read);
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
