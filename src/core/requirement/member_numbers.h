// "7.1" to "7.6": what the features of a pattern are called beside its balloon.
#pragma once

#include "requirement/specification.h"

namespace alder {

// In the order of its features; nothing where it has fewer than two that count each for itself.
std::vector<std::string> memberNumbers(const Requirement& requirement);
// Of one of them; the balloon's own where it is no pattern.
std::string numberOf(const Requirement& requirement, FeatureId feature);

// "7.3 Hole ø11 c": its name, with its number before it where it is one of a pattern.
std::string memberName(const Specification& spec, const Requirement& requirement,
                       FeatureId feature);

} // namespace alder
