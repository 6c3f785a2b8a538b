// Measured surface points by feature, as the judge takes them. Part frame (CAD axes), mm. The frame
// need not be exact: each requirement is judged in its own datum system.
#pragma once

#include "plan/touches/nominal_surface.h"
#include <map>

namespace alder {

struct MeasuredFeature {
  Points points;
  std::vector<int> rows;      // ring or section of each point
  std::vector<FaceId> faces;  // face of each point
  std::vector<Vec3> nominals; // where each was meant to be
  bool sectioned = false;     // rows are rings or lines also on planes
  // Where points were left out: the place of each in the measurement as it came.
  std::vector<std::size_t> origin;

  // Indices of the points of each row, in order.
  std::map<int, std::vector<std::size_t>> byRow() const {
    std::map<int, std::vector<std::size_t>> result;
    for (std::size_t i = 0; i < points.size(); ++i)
      result[i < rows.size() ? rows[i] : 0].push_back(i);
    return result;
  }
};

using Measurements = std::map<FeatureId, MeasuredFeature>;

} // namespace alder
