#include "plan/steps/kinds/on_copy.h"

#include <algorithm>

namespace alder {

std::optional<Requirement> requirementOfCopy(const Requirement& r, const RepeatCopy& copy) {
  if (r.features.empty()) return {};
  Requirement c = r;
  for (FeatureId& id : c.features) {
    id = copy.of(id);
    if (!id.valid()) return {};
  }
  c.entity = 0;
  return c;
}

RequirementId OnCopy::requirement(RequirementId id) const {
  const auto& all = plan.spec.requirements;
  const Requirement* original = all.find(id);
  const auto wanted = original ? requirementOfCopy(*original, copy) : std::nullopt;
  if (!wanted) return id;
  const auto found = std::find_if(all.begin(), all.end(), [&](const Requirement& r) {
    return r.kind == wanted->kind && r.features == wanted->features;
  });
  return found == all.end() ? id : found->id;
}

} // namespace alder
