#pragma once

#include "plan/steps/kinds/step_kind.h"

namespace alder {

// Steps that stay together; it is ordered as one.
struct GroupStep {
  std::string name;

  static constexpr StepTraits kTraits{
      .kind = "group", .title = "Group", .holds = StepTraits::Holds::All};
  static void fields(auto& self, auto& f) { f.needed("name", self.name); }
  friend bool operator==(const GroupStep&, const GroupStep&) = default;
};
std::string words(const Plan& plan, const GroupStep& step);
Done validate(const Plan& plan, const GroupStep& step);
std::optional<GroupStep> onCopy(const OnCopy& on, const GroupStep& step);

} // namespace alder
