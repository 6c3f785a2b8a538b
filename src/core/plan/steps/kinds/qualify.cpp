#include "plan/plan.h"

namespace alder {

std::string words(const Plan&, const QualifyStep& step) {
  return step.sphere_moved ? "Qualify all tips, the sphere was moved"
         : step.all        ? "Qualify all tips"
                           : "Qualify tips that need it";
}

Done validate(const Plan&, const QualifyStep&) {
  return {};
}

bool tipsReported(const Plan& plan) {
  bool any = false, reported = false;
  for (const RoutineStep& s : plan.steps)
    if (const auto* q = std::get_if<QualifyStep>(&s.body))
      any = true, reported = reported || q->reported;
  return !any || reported;
}

std::optional<QualifyStep> onCopy(const OnCopy&, const QualifyStep& step) {
  return step;
}

} // namespace alder
