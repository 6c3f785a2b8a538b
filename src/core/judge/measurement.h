// What was measured, as the judge takes it: surface points by feature in the part frame (CAD axes),
// mm, and figures that came without points. The frame need not be exact: each requirement is judged
// in its own datum system.
#pragma once

#include "plan/touches/nominal_surface.h"
#include <map>
#include <string>
#include <vector>

namespace alder {

struct MeasuredFeature {
  Points points;
  std::vector<int> rows;      // ring or section of each point
  std::vector<FaceId> faces;  // face of each point
  std::vector<Vec3> nominals; // where each was meant to be
  bool sectioned = false;     // rows are rings or lines also on planes
  // Standard deviation of what each point is off by itself along its normal, mm, where that is known
  // from the points (of a scanner); else empty.
  std::vector<double> noise;
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

// A figure that somebody else found for a requirement.
struct StatedFigure {
  double value = 0;   // mm or radians, as the requirement counts
  std::string source; // "report.csv, line 12 (Bore ø32 D)"
};

// Points by feature. Of a requirement that figures are stated for these count instead; of a pattern
// there is one for all of it, or one for each of its features.
struct Measurements : std::map<FeatureId, MeasuredFeature> {
  using std::map<FeatureId, MeasuredFeature>::map;
  std::map<RequirementId, std::vector<StatedFigure>> stated;
};

} // namespace alder
