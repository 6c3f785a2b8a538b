// The assignment with the greatest sum (Kuhn 1955, Munkres 1957; shortest augmenting paths).
#pragma once

#include <cstddef>
#include <vector>

namespace alder {

// gain[row][column]; each row gets one column, none is given twice. At least as many columns as
// rows. O(rows^2 columns).
std::vector<std::size_t> bestAssignment(const std::vector<std::vector<double>>& gain);

} // namespace alder
