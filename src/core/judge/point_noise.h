// What the points' own noise does to a figure. How it scatters is found by judging again with as
// much noise once more; how much of it is noise from the start, by judging the same places of a
// part without errors with this noise: the extremes of many points are never those of the part
// alone. After JCGM 101:2008 (propagation of distributions by trials).
#pragma once

#include "judge/verdict.h"
#include <functional>

namespace alder {

// Expanded (k = 2), mm or radians; nothing where no feature's noise is known. `again` judges the
// requirement with other points. Deterministic.
std::optional<double>
uncertaintyOfNoise(const Plan& plan, const Requirement& requirement, const Measurements& measured,
                   double figure,
                   const std::function<std::optional<double>(const Measurements&)>& again);

} // namespace alder
