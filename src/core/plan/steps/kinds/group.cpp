#include "plan/steps/kinds/group.h"

namespace alder {

std::string words(const Plan&, const GroupStep& step) {
  return step.name;
}

Done validate(const Plan&, const GroupStep& step) {
  if (step.name.empty()) return fail("A group needs a name.");
  return {};
}

std::optional<GroupStep> onCopy(const OnCopy&, const GroupStep& step) {
  return step;
}

} // namespace alder
