#pragma once

#include "plan/steps/kinds/step_kind.h"

namespace alder {

// Tips touch the reference sphere; from here on what is found of them counts.
struct QualifyStep {
  bool all = false;          // that the routine uses; else those that are not qualified now
  bool sphere_moved = false; // then all are, and the first of them finds the sphere again
  bool reported = true;

  static constexpr StepTraits kTraits{
      .kind = "qualify", .title = "Qualify tips", .in_templates = true};
  static void fields(auto& self, auto& f) {
    f("all", self.all);
    f("sphere_moved", self.sphere_moved);
    f("reported", self.reported);
  }
  friend bool operator==(const QualifyStep&, const QualifyStep&) = default;
};
std::string words(const Plan& plan, const QualifyStep& step);
Done validate(const Plan& plan, const QualifyStep& step);
// Whether the report tells how tips were found: the steps that qualify say so; without any it does.
bool tipsReported(const Plan& plan);
std::optional<QualifyStep> onCopy(const OnCopy& on, const QualifyStep& step);

} // namespace alder
