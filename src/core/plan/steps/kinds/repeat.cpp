#include "plan/steps/kinds/repeat.h"

#include "plan/plan.h"
#include <algorithm>

namespace alder {

FeatureId RepeatCopy::of(FeatureId original) const {
  const auto found =
      std::lower_bound(features.begin(), features.end(), original,
                       [](const auto& pair, FeatureId id) { return pair.first < id; });
  return found != features.end() && found->first == original ? found->second : FeatureId{};
}

std::string words(const Plan&, const RepeatStep& step) {
  return fmt::format("{}, {} places", step.name, motionsOf(step.pattern).size() + 1);
}

Done validate(const Plan& plan, const RepeatStep& step) {
  if (step.name.empty()) return fail("A repeat needs a name.");
  if (auto valid = validate(*step.pattern); !valid) return valid;
  for (const RepeatCopy& copy : step.copies)
    for (const auto& [original, id] : copy.features)
      if (!plan.features.holds(original) || !plan.features.holds(id) ||
          plan.nominal(id).isConstructed())
        return fail("A copy speaks of a feature that is not of the part.");
  return {};
}

std::optional<RepeatStep> onCopy(const OnCopy&, const RepeatStep& step) {
  return step; // does not occur: none stands within another
}

} // namespace alder
