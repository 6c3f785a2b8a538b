#pragma once

#include "plan/steps/kinds/step_kind.h"

namespace alder {

// Depending on the verdict on a requirement as it is here the operator is warned, the rest of the
// group in which this stands is left out, or the routine ends.
enum class BranchWhen { Outside, NearOrOutside, Within };
std::string_view name(BranchWhen when); // "outside", "near or outside", "within"
enum class BranchDoes { Warn, LeaveGroup, Stop };
std::string_view name(BranchDoes does); // "warn", "leave the group", "stop"
struct BranchStep {
  RequirementId requirement;
  BranchWhen when = BranchWhen::Outside;
  BranchDoes does = BranchDoes::Warn;

  bool needsGroup() const { return does == BranchDoes::LeaveGroup; }

  static constexpr StepTraits kTraits{.kind = "branch", .title = "Branch on a verdict"};
  static void fields(auto& self, auto& f) {
    f.needed("requirement", self.requirement);
    f.named("when", self.when, 3);
    f.named("does", self.does, 3);
  }
  friend bool operator==(const BranchStep&, const BranchStep&) = default;
};
std::string words(const Plan& plan, const BranchStep& step);
Done validate(const Plan& plan, const BranchStep& step);
// On the requirement that is laid on the copy.
std::optional<BranchStep> onCopy(const OnCopy& on, const BranchStep& step);

} // namespace alder
