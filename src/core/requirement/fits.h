// Limit deviations of a fit code such as H7, g6 or JS9 (ISO 286-1:2010, tables 1 to 5), mm.
#pragma once

#include "base/error.h"
#include <string_view>

namespace alder {

struct LimitDeviations {
  double lower = 0, upper = 0;
};

// Sizes above 0 up to 500 mm, grades 01 to 18, all fundamental deviations: A to ZC for holes, a to
// zc for shafts. Anything else is an error that names what is missing, also pairs that the standard
// leaves out (t below 24 mm, y below 18 mm, ...).
Result<LimitDeviations> limitDeviations(std::string_view code, double nominal);

} // namespace alder
