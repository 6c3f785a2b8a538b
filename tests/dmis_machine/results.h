// What the results of a program come to, from the points that were touched: least squares, by the
// words of its tolerances. Sizes, forms, and orientations to one datum; of others nothing is said.
#pragma once

#include "machine.h"

namespace dmis_machine {

struct Result {
  std::string tolerance, feature;
  double actual = 0;           // mm
  double lower = 0, upper = 0; // limits
};

// `points` by label of the feature, part coordinates; a program in millimetres.
std::vector<Result> resultsOf(const Done& done,
                              const std::map<std::string, std::vector<V>>& points);

} // namespace dmis_machine
