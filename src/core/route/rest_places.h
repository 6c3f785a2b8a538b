// Where rests can bear a part from below so that it neither tips nor rocks. Lengths mm.
#pragma once

#include "part/model.h"
#include "plan/standing/support.h"

namespace alder {

// Three rests under flat faces that look straight down, or one pedestal under a small one.
struct Bearing {
  Supports supports;
  double held = 0; // how far the centre of mass lies inside of their polygon, seen from above
};

class RestPlaces {
 public:
  explicit RestPlaces(const PartModel& part);

  const Vec3& centreOfMass() const { return centre_; }
  const MeshTree& mesh() const { return tree_; }
  // With this direction of the part (CAD frame, unit) up. None where it would tip, where it has no
  // flat face below, or where the part itself is in the way of each rest. `anyhow`: where a touch
  // of the hand would tip it, too.
  std::optional<Bearing> bearing(const Vec3& up, bool anyhow = false) const;

 private:
  const PartModel& part_;
  MeshTree tree_;
  Vec3 centre_;
};

// How far a place lies inside of the convex polygon round these, seen along `up`; below 0: outside.
double insideOf(const Points& corners, const Vec3& place, const Vec3& up);

} // namespace alder
