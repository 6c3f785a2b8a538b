// Gathered places laid on the part as well as can be. CAD frame, mm.
#pragma once

#include "cloud/gather.h"

namespace alder {

enum class CloudFit {
  LeastSquares, // of the deviations, each place by the area of its cell
  LeastWorst,   // the largest deviation as small as possible
};
std::string_view name(CloudFit fit); // "ls", "worst"
std::optional<CloudFit> cloudFitNamed(std::string_view name);

// The motion of the places (CAD frame -> CAD frame) that fits best. What the surface leaves free
// (a plain shaft turns) stays as it was. `places` may not be empty.
Frame bestFit(const NearestSurface& surface, const Gathered& gathered, CloudFit fit);

// The places after the motion: feet, normals and deviations anew.
void move(Gathered& gathered, const NearestSurface& surface, const Frame& motion);

} // namespace alder
