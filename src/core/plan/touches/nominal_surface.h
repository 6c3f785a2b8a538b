// Signed distance and normal of a feature's nominal surface, as the fits and the simulated machine
// need them. CAD frame, mm; positive outside the material.
#pragma once

#include "fit/rigid_fit.h"
#include "plan/plan.h"
#include <memory>

namespace alder {

class NominalSurface {
 public:
  // Without a part only ideal geometry has distances.
  NominalSurface(PartPtr part, NominalFeature feature);

  // `face` matters where the feature has several different ones: freeform patches.
  double distance(FaceId face, const Vec3& point) const;
  Vec3 normal(FaceId face, const Vec3& point) const;

  // Points of the touches, grouped so that each group lies on one surface.
  std::vector<SurfacePoints> group(const Points& points, const std::vector<FaceId>& faces,
                                   double offset) const;
  bool hasSize() const; // diameter or width may differ from nominal

 private:
  struct Impl;
  std::shared_ptr<const Impl> impl_;
};

} // namespace alder
