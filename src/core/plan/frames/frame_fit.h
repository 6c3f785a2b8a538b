// Part frames from measured points.
#pragma once

#include "fit/rigid_fit.h"
#include "plan/plan.h"

namespace alder {

// A point of a feature: the centre of the ball that touched it, or with radius 0 the surface
// itself.
struct FramePoint {
  FeatureId feature;
  FaceId face;
  Vec3 ball = Vec3::Zero();
  double radius = 0;
};

struct FoundFrame {
  Frame placement = Frame::Identity(); // CAD frame in that of the points
  std::string free;                    // of "xyzuvw" at the part's middle: what can still move
  double worst = 0, rms = 0;           // deviations of the points that were used, mm
  double share = 0; // of a band, the largest that a point uses: 1 at its edge; 0: there is none
};

// `start` must be within a few degrees and millimetres. Error names the feature without points, or
// without a band where one is needed.
Result<FoundFrame> findFrame(const Plan& plan, const PartFrame& frame,
                             const std::vector<FramePoint>& points, const Frame& start);

// What the frame would leave free if every feature were touched as planned; error as above.
Result<std::string> leftFree(const Plan& plan, const PartFrame& frame);

// "x, y, turn about z"; "nothing".
std::string freedomInWords(const std::string& free);

// How far two placements of the part are apart: the furthest corner of its box, mm, and the angle.
struct FrameChange {
  double distance = 0, angle = 0;
  Vec3 move = Vec3::Zero(), turn = Vec3::Zero(); // of the part's origin; rotation vector; CAD axes
};
FrameChange changeBetween(const Plan& plan, const Frame& before, const Frame& after);

} // namespace alder
