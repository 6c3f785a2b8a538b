// The routed routine: every machine position in order, joined by straight moves, and the steps they
// belong to. Machine frame, mm; angles radians.
#pragma once

#include "route/clearance.h"
#include <string_view>

namespace alder {

enum class MoveKind { Hop, Approach, Touch, Retract, Turn, Swap, Manual, Qualify };
std::string_view name(MoveKind kind);

enum class StepKind {
  Manual,
  UseFrame,
  Hop,
  Turn,
  Swap,
  Measure,
  Qualify,
  Move,
  Wait,
  Ask,
  Note,
  Group,
  Repeat,
  Construct,
  Evaluate,
  Branch,
  Output
};
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
  double dwell = 0;     // that the machine stands there, s
  bool fixed = false;   // a place of the machine, wherever the part is found
  bool bare = false;    // the stylus hangs in the rack; `ball` is where that of `access` would be
};

struct Step {
  StepKind kind = StepKind::Hop;
  std::string text;
  FeatureId feature;
  Access access;
  int first = 0, last = -1;    // positions, inclusive; empty when last < first
  HopMode hop = HopMode::Over; // of a hop: how it goes, never proposed
  int depth = 0;               // within groups
  StepId origin;               // of the routine, of a copy its repeat; none: the router's own
  StepId does;                 // of the steps as they are done, see stepsDone
  bool left_out = false;       // it is not done, and stands here only to be seen
  int state = 0;               // of the fixture
  bool rough = false;          // a frame from touches by hand
  std::string frame;           // of this name; empty: that of the alignment
};

struct Way {
  // Fixtures in the order in which they come about; the first is that of the bench.
  std::vector<Fixture> states;
  std::vector<Step> steps;
  std::vector<Position> positions;
  std::vector<Note> notes; // what could not be routed, and why
};

} // namespace alder
