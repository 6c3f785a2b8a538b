// What a requirement would give on a part without errors: the figure to begin a new one with.
#pragma once

#include "judge/verdict.h"

namespace alder {

// mm or radians; nothing when its features have no touches to be judged by.
std::optional<double> nominalFigure(const Plan& plan, Requirement requirement);

} // namespace alder
