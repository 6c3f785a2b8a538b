#include "route/hand_touches.h"

#include <algorithm>

namespace alder {

std::vector<int> handTouches(const Plan& plan, FeatureId id, bool primary) {
  const auto& touches = plan.feature(id).touches;
  std::size_t wanted = 3;
  switch (plan.nominal(id).ideal.type) {
  case SurfaceType::Plane:
    wanted = 3;
    break;
  case SurfaceType::Slot:
    wanted = 4;
    break;
  case SurfaceType::Cylinder:
  case SurfaceType::Cone:
    wanted = primary ? 6 : 4;
    break;
  default:
    wanted = 4;
  }
  std::vector<int> chosen;
  wanted = std::min(wanted, touches.size());
  for (std::size_t k = 0; k < wanted; ++k) {
    int best = 0;
    double far = -1;
    for (std::size_t i = 0; i < touches.size(); ++i) {
      double nearest = 1e300;
      for (int c : chosen)
        nearest = std::min(nearest, (touches[i].point - touches[c].point).norm());
      if (nearest > far) far = nearest, best = static_cast<int>(i);
    }
    chosen.push_back(best);
  }
  std::sort(chosen.begin(), chosen.end());
  return chosen;
}

} // namespace alder
