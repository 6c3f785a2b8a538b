// What is wrong with a simulated part: features moved, tilted, resized or out of form, and the
// whole part lying elsewhere on the table. Format in docs/files.md. CAD frame, mm, radians.
#pragma once

#include "plan/id_text.h"

namespace alder {

struct FeatureDefect {
  Vec3 move = Vec3::Zero();
  Vec3 tilt = Vec3::Zero();  // rotation vector about the feature's point
  double resize = 0;         // change of diameter or width
  double offset = 0;         // of the whole surface, outward from the material
  int lobes = 0;             // waves in one turn
  double lobe_amplitude = 0; // outward from the material, half of peak to valley
  double lobe_phase = 0;
  double waves = 0; // over the extent of the feature
  double wave_amplitude = 0;
};

struct Defects {
  std::vector<std::pair<FeatureId, FeatureDefect>> features;
  Frame misplacement = Frame::Identity(); // about the part's origin, in machine directions

  const FeatureDefect* of(FeatureId feature) const;
};

// A shop does not aim at a limit: where the CAD's nominal lies at or beyond the edge of a
// requirement's limits (ø32 H7, an unequally disposed profile), the part is made to their middle.
// `given` is added to that.
Defects asMade(const Plan& plan, const Defects& given);

// Features are named as the plan names them, or by id ("F3"); an unknown one is an error.
Result<Defects> readDefects(const std::string& json, const std::string& label, const Plan& plan);

} // namespace alder
