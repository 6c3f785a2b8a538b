// The like of a feature elsewhere on the part: the surface on which most of its touches lie after a
// motion; where something cuts into a copy not all need to. CAD frame, mm.
#pragma once

#include "part/face_region.h"
#include "plan/plan.h"
#include <map>

namespace alder {

class CopyFinder {
 public:
  explicit CopyFinder(const Plan& plan)
      : plan_(plan) {}

  struct Found {
    Surface surface;   // no faces: none
    FeatureId feature; // of the routine; not valid: it is to be added
    std::string why;   // there is none
  };
  Found find(FeatureId original, const Motion& motion);

  // Surfaces of the same kind, size and direction elsewhere.
  std::vector<Surface> alike(FeatureId feature) const;

 private:
  std::optional<FaceId> faceAt(const Vec3& place, const Vec3& normal);
  const FaceRegion& region(FaceId face);

  const Plan& plan_;
  std::map<FaceId, FaceRegion> regions_;
};

} // namespace alder
