// A short order of visits when the cost from each to each is known: the best one of up to 12, found
// by weighing all of them (Held and Karp 1962).
//
// Of more, local search by 2-opt and Or-opt over near neighbours with don't-look bits (Bentley 1992),
// repeated from places shaken by exchanging two neighbouring stretches (Martin, Otto and Felten
// 1991). The bound is that of Held and Karp (1970, 1971): the heaviest least 1-tree over node
// weights, raised by subgradient steps.
#pragma once

#include <cstddef>
#include <functional>
#include <vector>

namespace alder {

struct Sequence {
  std::vector<std::size_t> order; // of the visits, without the start
  double cost = 0;                // from the start through all
  double bound = 0;               // no order costs less; 0 when none was asked for
};

// Of `count` visits; `cost(i, j)` between two of them, `from_start(i)` to the first. Costs must not
// be negative; where they depend on the direction their mean is used for more than 12. Deterministic.
Sequence shortSequence(std::size_t count, const std::function<double(std::size_t)>& from_start,
                       const std::function<double(std::size_t, std::size_t)>& cost,
                       bool with_bound = false);

} // namespace alder
