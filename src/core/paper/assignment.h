// Each row gets a column of its own so that the sum of costs is least (H. W. Kuhn 1955, J. Munkres
// 1957; shortest augmenting paths by R. Jonker and A. Volgenant 1987). O(rows² columns).
#pragma once

#include "geometry/vec.h"
#include <vector>

namespace alder {

// `cost` has as many rows as what is assigned, and at least as many columns.
std::vector<std::size_t> leastAssignment(const Eigen::MatrixXd& cost);

} // namespace alder
