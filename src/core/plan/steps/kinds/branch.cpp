#include "plan/steps/kinds/branch.h"

#include "plan/plan.h"
#include "plan/steps/kinds/on_copy.h"
#include <array>

namespace alder {

std::string_view name(BranchWhen when) {
  static constexpr std::array<std::string_view, 3> kNames{"outside", "near or outside", "within"};
  return kNames[static_cast<std::size_t>(when)];
}

std::string_view name(BranchDoes does) {
  static constexpr std::array<std::string_view, 3> kNames{"warn", "leave the group", "stop"};
  return kNames[static_cast<std::size_t>(does)];
}

std::string words(const Plan& plan, const BranchStep& step) {
  return fmt::format("If {} is {}: {}", plan.spec.requirement(step.requirement).balloon,
                     name(step.when), name(step.does));
}

Done validate(const Plan&, const BranchStep&) {
  return {};
}

std::optional<BranchStep> onCopy(const OnCopy& on, const BranchStep& step) {
  BranchStep copy = step;
  copy.requirement = on.requirement(step.requirement);
  return copy;
}

} // namespace alder
