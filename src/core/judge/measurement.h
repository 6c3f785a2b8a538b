// Measured surface points by feature, as the judge takes them. Part frame (CAD axes), mm. The frame
// need not be exact: each requirement is judged in its own datum system.
#pragma once

#include "plan/nominal_surface.h"
#include <map>

namespace alder {

struct MeasuredFeature {
  Points points;
  std::vector<int> rows;      // ring or section of each point
  std::vector<FaceId> faces;  // face of each point
  std::vector<Vec3> nominals; // where each was meant to be
};

using Measurements = std::map<FeatureId, MeasuredFeature>;

} // namespace alder
