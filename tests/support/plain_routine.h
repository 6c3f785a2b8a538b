// A routine in plain words that do not depend on its ids: what it asks for, measures and does, to
// compare two that should mean the same.
#pragma once

#include "plan/plan.h"

namespace alder::test {

// Lines, in order; figures to nine digits.
std::vector<std::string> plainSpecification(const Specification& spec);
// Touches, tips and recipes, and steps.
std::vector<std::string> plainMeasuring(const Plan& plan);
// Where two lists differ first; empty: nowhere.
std::string firstDifference(const std::vector<std::string>& wanted,
                            const std::vector<std::string>& got);

} // namespace alder::test
