// The cheapest choice of sets that together hold every item, when it is known which sets hold
// which.
//
// Lagrangian relaxation over the items (Beasley 1987): for any prices of the items no choice costs
// less than the sum of prices plus all negative reduced costs; prices are raised by subgradient
// steps. Each round a choice is built greedily by reduced cost, what is not needed is dropped, and
// the cheapest is kept.
#pragma once

#include <cstddef>
#include <vector>

namespace alder {

struct CoverSet {
  double cost = 1;                // above 0
  std::vector<std::size_t> items; // ascending
};

struct Cover {
  std::vector<std::size_t> sets; // chosen, ascending
  double cost = 0;
  double bound = 0; // no choice costs less
};

// Items that no set holds are left out. Deterministic.
Cover cheapestCover(std::size_t items, const std::vector<CoverSet>& sets);

} // namespace alder
