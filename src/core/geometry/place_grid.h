// Places found by where they are, and what is known at them carried to places in between.
#pragma once

#include "geometry/vec.h"
#include <array>
#include <cmath>
#include <cstdint>
#include <unordered_map>
#include <vector>

namespace alder {

// The median over some of the places of the distance to the nearest other, 0.001 to 20 mm; of fewer
// than two places 1.
double spacingOf(const Points& places);

class PlaceGrid {
 public:
  // Quickest where asked for what lies within about `side`.
  explicit PlaceGrid(double side)
      : side_(side) {}
  void add(const Vec3& place) {
    cells_[keyOf(cellOf(place))].push_back(places_.size());
    places_.push_back(place);
  }
  // visit(index, distance) for all nearer than `reach`, counted as they were added, until it
  // returns true; whether it did.
  template <class Visit> bool near(const Vec3& at, double reach, Visit&& visit) const {
    const Cell low = cellOf(at - Vec3::Constant(reach)), high = cellOf(at + Vec3::Constant(reach));
    for (int x = low[0]; x <= high[0]; ++x)
      for (int y = low[1]; y <= high[1]; ++y)
        for (int z = low[2]; z <= high[2]; ++z)
          if (const auto found = cells_.find(keyOf({x, y, z})); found != cells_.end())
            for (const std::size_t i : found->second)
              if (const double d = (places_[i] - at).norm(); d < reach && visit(i, d)) return true;
    return false;
  }

 private:
  using Cell = std::array<int, 3>;
  Cell cellOf(const Vec3& p) const {
    return {static_cast<int>(std::floor(p.x() / side_)),
            static_cast<int>(std::floor(p.y() / side_)),
            static_cast<int>(std::floor(p.z() / side_))};
  }
  // Of cells that share a key some are visited in vain: distances decide.
  static std::uint64_t keyOf(const Cell& c) {
    const auto part = [](int v) { return static_cast<std::uint64_t>(v + (1 << 20)) & 0x1fffffU; };
    return part(c[0]) << 42U | part(c[1]) << 21U | part(c[2]);
  }
  double side_;
  Points places_;
  std::unordered_map<std::uint64_t, std::vector<std::size_t>> cells_;
};

// The mean of what is known about a place, weighted by nearness (Shepard 1968, with the weights of
// Franke and Little): at a known place it is that place's own, and nothing beyond `reach` counts.
class NearMean {
 public:
  explicit NearMean(double reach)
      : reach_(reach) {}
  void add(double value, double distance) {
    nearest_ = std::min(nearest_, distance);
    const double d = std::max(distance, 1e-6 * reach_), root = (reach_ - d) / (reach_ * d);
    weights_ += root * root, sum_ += root * root * value;
  }
  double nearest() const { return nearest_; } // distance; 1e300: nothing is near
  bool empty() const { return weights_ <= 0; }
  double value() const { return sum_ / weights_; }

 private:
  double reach_, nearest_ = 1e300, weights_ = 0, sum_ = 0;
};

} // namespace alder
