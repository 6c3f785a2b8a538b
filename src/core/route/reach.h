// With which head angles a tip reaches a feature: every angle pair of the head, tried touch by
// touch against part, fixture, table and the machine's travel, with the router's margin.
#pragma once

#include "base/progress.h"
#include "route/router.h"

namespace alder {

enum class Reach {
  Free,  // all touches
  Some,  // a part of them
  Clash, // none, and something is in the way
  Away,  // the stylus would have to come through the surface
  Beyond // the machine's travel or the head's range ends before
};
std::string_view name(Reach reach);

struct ReachCell {
  double a = 0, b = 0;
  Reach reach = Reach::Away;
  int reached = 0;   // touches
  Encounter blocked; // what stands in the way of the first that is not reached
};

struct ReachMap {
  FeatureId feature;
  int stylus = 0, tip = 0;
  int rows = 0, columns = 0; // A by B, row by row, A from its lowest
  std::vector<ReachCell> cells;
  int touches = 0;

  const ReachCell& at(int row, int column) const {
    return cells[static_cast<std::size_t>(row * columns + column)];
  }
  int freeCount() const;
};

// Of the features' touches as they are planned; every `stride`-th angle of the head in A and B.
// Error when cancelled.
Result<std::vector<ReachMap>> reachMaps(const Plan& plan, const Obstacles& obstacles,
                                        const std::vector<FeatureId>& features, int stylus, int tip,
                                        int stride, const Progress& progress = {});

} // namespace alder
