#include "judge/verdict.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace alder {

std::string_view name(Verdict verdict) {
  static constexpr std::array<std::string_view, 5> kNames{"within", "near", "not proved", "outside",
                                                          "unmeasured"};
  return kNames[static_cast<std::size_t>(verdict)];
}

std::string_view words(Verdict verdict) {
  return verdict == Verdict::Near         ? "near a limit"
         : verdict == Verdict::Unmeasured ? "not measured"
                                          : name(verdict);
}

double drawnWidth(const FeatureResult& f) {
  if (std::isfinite(f.allowed)) return f.allowed;
  double most = 0;
  for (const double d : f.deviations)
    if (std::isfinite(d)) most = std::max(most, std::abs(d - f.moved));
  return std::max(2 * most, 1e-6);
}

BriefVerdict brief(const Evaluation& e) {
  return {e.verdict, e.actual, e.lower, e.upper, e.share};
}

BriefVerdicts brief(const std::vector<Evaluation>& evaluations) {
  BriefVerdicts all;
  for (const Evaluation& e : evaluations)
    all[e.requirement] = brief(e);
  return all;
}

const Evaluation* evaluationOf(const std::vector<Evaluation>& all, RequirementId requirement) {
  const auto found = std::find_if(
      all.begin(), all.end(), [&](const Evaluation& e) { return e.requirement == requirement; });
  return found == all.end() ? nullptr : &*found;
}

} // namespace alder
