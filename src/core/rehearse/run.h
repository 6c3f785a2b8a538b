// A run of the routine on the simulated machine: rough alignment from touches by hand, a precise
// one under program control, then everything else in the part frame that was found. The machine
// returns ball centres; they are compensated here.
#pragma once

#include "base/progress.h"
#include "rehearse/simulated_machine.h"
#include "route/way.h"

namespace alder {

struct MeasuredPoint {
  FeatureId feature;
  int touch = 0; // index into the feature's touches
  int row = 0;
  FaceId face;
  Vec3 surface = Vec3::Zero(); // compensated, in the part frame that was found (CAD axes)
  Vec3 nominal = Vec3::Zero(), normal = Vec3::UnitZ();
  Vec3 ball = Vec3::Zero(); // centre in the machine frame, as the machine returned it
  double ball_diameter = 0;
};

struct Run {
  std::vector<MeasuredPoint> points;    // in measuring order
  Frame part_frame = Frame::Identity(); // CAD frame in the machine frame, as found
};

Result<Run> runOnSimulatedMachine(const Plan& plan, const Way& way, const Defects& defects,
                                  std::uint64_t seed, const Progress& progress = {});

} // namespace alder
