#include "judge/verdict.h"

#include "judge/dimensions.h"
#include "judge/forms.h"
#include "judge/zones.h"
#include <algorithm>
#include <array>
#include <cmath>

namespace alder {

std::string_view name(Verdict verdict) {
  static constexpr std::array<std::string_view, 4> kNames{"within", "near", "outside",
                                                          "unmeasured"};
  return kNames[static_cast<std::size_t>(verdict)];
}

namespace {

Result<Evaluation> evaluate(const Plan& plan, const Requirement& r, const Measurements& m) {
  switch (r.kind) {
  case Characteristic::Size:
    return judgeSize(plan, r, m);
  case Characteristic::Distance:
    return judgeDistance(plan, r, m);
  case Characteristic::Angle:
    return judgeAngle(plan, r, m);
  case Characteristic::Straightness:
  case Characteristic::Flatness:
  case Characteristic::Roundness:
  case Characteristic::Cylindricity:
    return judgeForm(plan, r, m);
  case Characteristic::CircularRunout:
  case Characteristic::TotalRunout:
    return judgeRunout(plan, r, m);
  default:
    return judgeZone(plan, r, m);
  }
}

} // namespace

Evaluation judge(const Plan& plan, const Requirement& r, const Measurements& measured,
                 const JudgeSettings& settings) {
  Evaluation none;
  none.requirement = r.id;
  none.lower = isDimension(r.kind) ? r.lower : 0;
  none.upper = isDimension(r.kind) ? r.upper : r.tolerance;
  for (FeatureId id : r.features)
    if (!measured.count(id)) {
      none.how = plan.nominal(id).name + " is not measured.";
      return none;
    }
  const bool zero_at_limit = r.tolerance == 0 && r.material != MaterialModifier::None;
  if (r.features.empty() || (r.tolerance <= 0 && !zero_at_limit)) {
    none.how =
        r.features.empty() ? "The model ties it to no feature." : "It has no limits to judge by.";
    return none;
  }
  auto result = evaluate(plan, r, measured);
  if (!result) {
    none.how = result.error().message;
    return none;
  }
  Evaluation& e = *result;
  e.requirement = r.id;
  std::stable_sort(
      e.features.begin(), e.features.end(),
      [](const FeatureResult& a, const FeatureResult& b) { return a.share > b.share; });
  const FeatureResult& worst = e.features.front();
  e.actual = worst.actual;
  e.share = worst.share;
  if (isDimension(r.kind)) {
    e.lower = r.lower, e.upper = r.upper;
    e.deviation = worst.actual - r.nominal;
  } else {
    e.upper = worst.allowed;
    e.deviation = worst.actual;
  }
  // A figure on the limit is within it; what the computation adds to one does not decide.
  e.verdict = e.share > 1 + 1e-9               ? Verdict::Outside
              : e.share >= settings.near_share ? Verdict::Near
                                               : Verdict::Within;
  return e;
}

std::vector<Evaluation> judgeAll(const Plan& plan, const Measurements& measured,
                                 const JudgeSettings& settings) {
  std::vector<Evaluation> result;
  for (const Requirement& r : plan.spec.requirements)
    result.push_back(judge(plan, r, measured, settings));
  return result;
}

} // namespace alder
