// Where a cloud lies on the part, found without a start value: for turns all over the sphere the
// cloud is laid on the part by a correlation of all moves at once, the best are settled point by
// point, and the one that leaves least unexplained is taken. Parts of a cloud that are not of the
// part (a table, a clamp), and parts of the part that were not seen, are allowed.
//
// Turns: Alexa, Super-Fibonacci Spirals: Fast, Low-Discrepancy Sampling of SO(3), CVPR 2022. Moves:
// the correlation theorem, as Katchalski-Katzir et al., PNAS 89, 1992, dock molecules. Settling:
// Chen and Medioni 1992 (point to plane) with Tukey's weights.
#pragma once

#include "base/progress.h"
#include "cloud/point_cloud.h"
#include "part/nearest_surface.h"

namespace alder {

struct PlacedAnywhere {
  Frame placement = Frame::Identity(); // frame of the cloud -> CAD frame
  // Share of the cloud, evenly over its surface, that lies on the part, and how well: root mean
  // square, mm.
  double explained = 0, rms = 0;
  // Another way to lie that fits hardly worse, as a turn of the part: rad; 0: there is none.
  double also_turned = 0;
};

// Error in one line: too few points, a cloud of another size (a unit), or one that lies on the part
// nowhere. Deterministic.
Result<PlacedAnywhere> placeAnywhere(const NearestSurface& surface, const PointCloud& cloud,
                                     const Progress& progress);

// Points of the cloud, about `most`, evenly over its surface however densely it was scanned.
Points evenly(const PointCloud& cloud, std::size_t most);

} // namespace alder
