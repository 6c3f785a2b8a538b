// Points of one part, measured by a run.
#pragma once

#include "judge/measurement.h"
#include "plan/frames/frame_fit.h"

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

// A frame as it was found, and by how much it moved the part from where it was taken to lie.
struct UsedFrame {
  std::string name;
  Frame before = Frame::Identity(), after = Frame::Identity();
  double worst = 0;    // deviation of its points, mm
  double share = 0;    // see FoundFrame
  int round = 1;       // how often it was found by this step
  bool again = false;  // it moved the part by too much, and its features are measured once more
  bool settled = true; // else it still did so the last time that it may be found
};

struct Run {
  std::vector<MeasuredPoint> points;    // in measuring order
  Frame part_frame = Frame::Identity(); // CAD frame in the machine frame, as found
  std::vector<UsedFrame> frames;        // by name, in the order of their use
};

// A touch as the machine returned it, corrected by what is known of the tip. Machine frame.
struct RawTouch {
  FeatureId feature;
  int touch = 0;
  Vec3 ball = Vec3::Zero();
  double radius = 0;
  friend bool operator==(const RawTouch&, const RawTouch&) = default;
};

// The touches as a frame is found from them.
std::vector<FramePoint> framePoints(const Plan& plan, const std::vector<RawTouch>& touches);

// The part frame (CAD frame in the machine frame) from touches of the plan's alignment features,
// each fixing what those before it leave free. `start` must be within a few degrees.
Result<Frame> alignedFrame(const Plan& plan, const std::vector<RawTouch>& touches,
                           const Frame& start);

// Where the part lies by the places alone that were touched, however far it is from where it was
// planned: the rigid motion that brings the planned places nearest to them (Umeyama 1991).
// Good to about what the touches miss their places by. Nothing where they lie on one line.
std::optional<Frame> frameByPlaces(const Plan& plan, const std::vector<RawTouch>& touches);

// Where the part lies by a few touches by hand of the alignment features: their surfaces as near as
// can be to the touches (least squares, all as one), and what these surfaces hold badly by the
// places: each touch also pulls, by a twentieth of the weight, to the place where it was planned.
// An operator misses a place by some tenths of a millimetre; three touches on a short cone would
// turn that into many, while the places never do. `start` as for alignedFrame.
Result<Frame> frameByHand(const Plan& plan, const std::vector<RawTouch>& touches,
                          const Frame& start);

// The touches as points of the surface, seen in the frame.
Run compensated(const Plan& plan, const std::vector<RawTouch>& touches, const Frame& frame);

// As the judge takes them.
Measurements measurementsOf(const Run& run);

} // namespace alder
