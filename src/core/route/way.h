// The routed routine: every machine position in order, joined by straight moves, and the steps they
// belong to. Machine frame, mm; angles radians.
#pragma once

#include "route/clearance.h"
#include <string_view>

namespace alder {

enum class MoveKind { Hop, Approach, Touch, Retract, Turn, Swap, Manual, Qualify };
std::string_view name(MoveKind kind);

enum class StepKind { Manual, UseFrame, Hop, Turn, Swap, Measure, Qualify };
std::string_view name(StepKind kind);

struct Position {
  MoveKind kind = MoveKind::Hop;
  Vec3 ball = Vec3::Zero(); // centre
  Access access;
  int step = 0;
  FeatureId feature;    // being touched, or hopped to
  int touch = -1;       // index into the feature's touches, for approach, touch and retract
  bool contact = false; // the ball meets the surface here (also for touches by hand)
  double speed = 0;     // towards a contact, or from one to the next of a scan, mm/s; 0: machine's
  bool bare = false;    // the stylus hangs in the rack; `ball` is where that of `access` would be
};

struct Step {
  StepKind kind = StepKind::Hop;
  std::string text;
  FeatureId feature;
  Access access;
  int first = 0, last = -1;    // positions, inclusive; empty when last < first
  HopMode hop = HopMode::Over; // of a hop: how it goes, never proposed
};

struct Way {
  std::vector<Step> steps;
  std::vector<Position> positions;
  std::vector<Note> notes; // what could not be routed, and why
};

} // namespace alder
