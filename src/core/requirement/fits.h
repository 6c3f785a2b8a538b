// Limit deviations of a fit code such as H7 or g6 (ISO 286-1:2010, tables 1 to 5), mm.
#pragma once

#include "base/error.h"
#include <string_view>

namespace alder {

struct LimitDeviations {
  double lower = 0, upper = 0;
};

// Sizes above 0 up to 500 mm, grades 5 to 13, deviations D E F G H JS (holes), d e f g h js
// (shafts). Anything else is an error that names what is missing.
Result<LimitDeviations> limitDeviations(std::string_view code, double nominal);

} // namespace alder
