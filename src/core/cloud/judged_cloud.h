// A cloud made into measured features of a routine: placed on the part, its points gathered and
// given to the features, so that every requirement is judged as if it had been touched.
#pragma once

#include "cloud/best_fit.h"
#include "cloud/place_anywhere.h"
#include "judge/measurement.h"

namespace alder {

struct CloudSettings {
  GatherSettings gather;
  CloudFit fit = CloudFit::LeastSquares;
  // Placed by the datum system of this requirement instead, where it is valid.
  RequirementId datums;
  // Frame of the cloud -> CAD frame, where it is known within a millimetre or so; else it is found.
  std::optional<Frame> start;
};

struct PlacedCloud {
  Frame placement = Frame::Identity(); // frame of the cloud -> CAD frame
  Gathered gathered;
  std::optional<PlacedAnywhere> found; // where no start was given
  std::size_t points = 0;              // of the cloud
  std::vector<std::string> remarks;    // sentences that a person must see
};

// One line where it cannot be placed or a requirement has no datum system by it.
Result<PlacedCloud> placeCloud(const Plan& plan, const PointCloud& cloud, CloudSettings settings,
                               const Progress& progress);

// What became of the points on all faces of a feature: sums, of cell and noise the largest.
FaceTally tallyOf(const NominalFeature& feature, const Gathered& gathered);

// By features of the routine that have faces; one without places has no entry. The noise of its
// places stands with each feature.
Measurements measurementsOf(const Plan& plan, const Gathered& gathered);

} // namespace alder
