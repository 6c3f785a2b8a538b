#include "requirement/member_numbers.h"

#include <algorithm>
#include <fmt/format.h>

namespace alder {

std::vector<std::string> memberNumbers(const Requirement& r) {
  if (r.features.size() < 2 || r.kind == Characteristic::Distance ||
      r.kind == Characteristic::Angle || r.kind == Characteristic::Value)
    return {};
  std::vector<std::string> numbers;
  for (std::size_t i = 1; i <= r.features.size(); ++i)
    numbers.push_back(fmt::format("{}.{}", r.balloon, i));
  return numbers;
}

std::string numberOf(const Requirement& r, FeatureId feature) {
  const auto numbers = memberNumbers(r);
  const auto at = static_cast<std::size_t>(
      std::find(r.features.begin(), r.features.end(), feature) - r.features.begin());
  return at < numbers.size() ? numbers[at] : std::to_string(r.balloon);
}

std::string memberName(const Specification& spec, const Requirement& r, FeatureId feature) {
  const std::string& name = spec.feature(feature).name;
  return memberNumbers(r).empty() ? name : numberOf(r, feature) + " " + name;
}

} // namespace alder
