// Seeded noise that gives the same numbers with every standard library.
#pragma once

#include "base/units.h"
#include <cmath>
#include <cstdint>

namespace alder {

class Random {
 public:
  explicit Random(std::uint64_t seed)
      : state_(seed) {}

  // splitmix64 (Steele, Lea, Flood 2014)
  std::uint64_t bits() {
    std::uint64_t z = (state_ += 0x9e3779b97f4a7c15ull);
    z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9ull;
    z = (z ^ (z >> 27)) * 0x94d049bb133111ebull;
    return z ^ (z >> 31);
  }
  // in [0, 1)
  double uniform() { return static_cast<double>(bits() >> 11) * 0x1.0p-53; }
  double uniform(double low, double high) { return low + (high - low) * uniform(); }
  // mean 0, standard deviation 1 (Box-Muller)
  double normal() {
    const double radius = std::sqrt(-2.0 * std::log(1.0 - uniform()));
    return radius * std::cos(2.0 * kPi * uniform());
  }

 private:
  std::uint64_t state_;
};

} // namespace alder
