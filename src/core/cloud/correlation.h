// All moves of a cloud over a part at once, for one turn: a correlation on a grid.
#pragma once

#include "geometry/vec.h"
#include <memory>

namespace alder {

class Correlation {
 public:
  // The part as points spread over its surface, about the origin; `reach`: no point of part or
  // cloud is farther from its origin than this, mm.
  Correlation(const Points& part, double part_reach, double cloud_reach);
  ~Correlation();
  double step() const; // of the grid, mm

  struct Best {
    double score = 0; // mean over the cloud's points of the nearness to the part, 0 to 1
    Vec3 move = Vec3::Zero();
  };
  // The best move of the cloud turned by `turn`. May be asked from several threads.
  Best best(const Points& cloud, const Mat3& turn) const;

 private:
  struct Impl;
  std::unique_ptr<Impl> impl_;
};

} // namespace alder
