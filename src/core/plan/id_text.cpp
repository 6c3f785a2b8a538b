#include "plan/id_text.h"

#include <charconv>

namespace alder {

std::string idText(FeatureId f) {
  return "F" + std::to_string(f.value + 1);
}
std::string idText(RequirementId r) {
  return "R" + std::to_string(r.value + 1);
}

std::optional<FeatureId> featureNamed(const Plan& plan, const std::string& text) {
  for (const NominalFeature& f : plan.spec.features)
    if (f.name == text || idText(f.id) == text) return f.id;
  return {};
}

bool namesGoneFeature(const Plan& plan, const std::string& text) {
  int number = 0;
  const char* end = text.data() + text.size();
  if (text.empty() || text.front() != 'F') return false;
  const auto [rest, error] = std::from_chars(text.data() + 1, end, number);
  const FeatureId id{number - 1};
  return error == std::errc() && rest == end && id.valid() && id < plan.spec.features.next() &&
         !plan.spec.features.holds(id);
}

} // namespace alder
