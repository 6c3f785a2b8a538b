#include "plan/steps/kinds/output.h"

#include <array>

namespace alder {

std::string_view name(OutputKind kind) {
  static constexpr std::array<std::string_view, 3> kNames{"points", "verdicts", "report"};
  return kNames[static_cast<std::size_t>(kind)];
}

std::string words(const Plan&, const OutputStep& step) {
  return fmt::format("Write {} to {}", name(step.kind), step.file);
}

Done validate(const Plan&, const OutputStep& step) {
  if (step.file.empty()) return fail("Name the file that is to be written.");
  return {};
}

std::optional<OutputStep> onCopy(const OnCopy&, const OutputStep& step) {
  return step;
}

} // namespace alder
