#include "plan/frames/frame_band.h"

#include "requirement/modifiers.h"
#include <algorithm>

namespace alder {

Result<Band> bandOf(const Plan& plan, const FrameStage& stage, FeatureId feature) {
  if (stage.band) return *stage.band;
  const Requirement* tightest = nullptr;
  for (const Requirement& r : plan.spec.requirements) {
    const bool profile =
        r.kind == Characteristic::SurfaceProfile || r.kind == Characteristic::LineProfile;
    if (!profile || !(r.tolerance > 0) ||
        std::find(r.features.begin(), r.features.end(), feature) == r.features.end())
      continue;
    if (!tightest || r.tolerance < tightest->tolerance) tightest = &r;
  }
  if (!tightest)
    return fail("{} has no profile tolerance; give its band", plan.nominal(feature).name);
  const ZoneBand zone = zoneBand(*tightest);
  return Band{zone.lower, zone.upper};
}

} // namespace alder
