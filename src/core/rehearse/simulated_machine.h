// A machine that measures the CAD part as it would be with the given defects: the ball is driven
// along the commanded line until it meets the real surface, and its centre is returned.
#pragma once

#include "base/random.h"
#include "plan/touches/nominal_surface.h"
#include "rehearse/defects.h"
#include <map>

namespace alder {

class SimulatedMachine {
 public:
  SimulatedMachine(const Plan& plan, const Defects& defects, std::uint64_t seed);

  // Where the part really lies: CAD frame in the machine frame.
  const Frame& truePlacement() const { return true_placement_; }
  // Drives the ball from `from` towards `towards` (machine frame) and beyond by up to
  // `search`; the centre at contact, with probing noise. Error when nothing is met.
  Result<Vec3> touch(FeatureId feature, FaceId face, double ball_radius, const Vec3& from,
                     const Vec3& towards, double search);
  // Is it made otherwise than the model says?
  bool differs(FeatureId feature) const { return defects_.of(feature) != nullptr; }
  Random& random() { return random_; }

 private:
  double distance(FeatureId feature, FaceId face, const Vec3& machine_point);
  NominalSurface& surface(FeatureId feature);

  const Plan& plan_;
  Defects defects_;
  Frame true_placement_, true_inverse_;
  Random random_;
  std::map<FeatureId, NominalSurface> surfaces_;
};

} // namespace alder
