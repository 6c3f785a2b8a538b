#include "geometry/place_grid.h"

#include <algorithm>

namespace alder {

double spacingOf(const Points& places) {
  constexpr std::size_t kAsked = 40;
  std::vector<double> nearest;
  for (std::size_t i = 0; i < places.size(); i += 1 + places.size() / kAsked) {
    double least = 1e300;
    for (std::size_t k = 0; k < places.size(); ++k)
      if (k != i) least = std::min(least, (places[k] - places[i]).squaredNorm());
    nearest.push_back(std::sqrt(least));
  }
  if (places.size() < 2) return 1;
  const auto middle = nearest.begin() + static_cast<long>(nearest.size() / 2);
  std::nth_element(nearest.begin(), middle, nearest.end());
  return std::clamp(*middle, 1e-3, 20.0);
}

} // namespace alder
