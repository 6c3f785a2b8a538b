// The measuring bench: machine, head, styli, rack, reference sphere and fixture.
// Lengths mm, angles radians, machine frame right-handed with Z up and the table at z = 0.
#pragma once

#include "base/error.h"
#include "bench/controller_names.h"
#include "bench/fixture.h"
#include "bench/stylus.h"
#include <array>

namespace alder {

struct AngleRange {
  double low = 0, high = 0;
  double step = 0;  // of an indexing head; of a free one that with which angles are tried
  bool any = false; // not only whole steps
  // Nearest angle that the head can take; several turns are the same angle.
  double nearest(double angle) const;
  bool holds(double angle) const;
};
int stepsOf(const AngleRange& range); // how many angles there are in whole steps

// Fixed: always straight down. Indexing: turns in steps and locks. Free: any angle.
enum class HeadKind { Fixed, Indexing, Free };
std::string_view name(HeadKind kind); // "fixed", "indexing", "continuous"

struct Head {
  std::string name;
  HeadKind kind = HeadKind::Indexing;
  AngleRange a, b;
  double turn_speed = 1;   // rad/s of the slower axis
  double turn_seconds = 1; // lock and unlock
  std::vector<Rod> rods;   // relative to the pivot, do not turn: head body and ram
};

// What the probe can carry; 0: not told.
struct ProbeLimits {
  std::string name;
  double length = 0, grams = 0;                  // of a stylus, up to the probe
  double least_touch_speed = 0, touch_speed = 0; // mm/s
};

// A part of the machine that stands, or is carried along by some of its axes: a beam by Y, say. Its
// place along an axis that carries it counts from the pivot of the head.
struct MachineBody {
  std::string name;
  std::array<bool, 3> carried{};
  std::vector<Box3> boxes; // of what is carried
  Mesh mesh;               // of what stands
  bool stands() const { return !carried[0] && !carried[1] && !carried[2]; }
};

// Where styli are put away. A port holds its stylus by the joint to the probe; the head comes to it
// at A0 B0 along `out` and leaves upwards.
struct RackPort {
  std::string stylus;
  Vec3 at = Vec3::Zero(); // upper end of what is put away
};
struct Rack {
  std::vector<RackPort> ports;
  Vec3 out = -Vec3::UnitY(); // from a port to where there is room, level
  double slide = 60;         // so far
  Mesh mesh;
  const RackPort* portOf(const std::string& stylus) const;
};

struct Machine {
  std::string name;
  Box3 volume; // where the pivot of the head may be
  Vec3 speed = Vec3::Constant(300);
  Vec3 acceleration = Vec3::Constant(1000);
  double touch_speed = 3;
  double touch_seconds = 0.3; // trigger, settle, back off
  double probing_noise = 0;   // standard deviation of a touch along its direction
  std::vector<MachineBody> bodies;
};

// Stands on its stem, which goes to the foot.
struct ReferenceSphere {
  Vec3 centre = Vec3::Zero();
  double diameter = 25;
  Vec3 foot = Vec3::Zero();
  double stem_diameter = 8;
};

// What a qualified tip must keep, and for how long it counts.
struct QualificationLimits {
  double form = 0.005;     // range of the touches about the fitted sphere, mm
  double diameter = 0.05;  // effective ball diameter off the nominal one, mm
  double valid_hours = 24; // then it is stale
};

struct Bench {
  std::string name;
  Machine machine;
  Head head;
  ProbeLimits probe;
  std::vector<Stylus> styli;
  std::optional<Rack> rack; // else styli are swapped by hand, above everything
  ReferenceSphere sphere;
  bool has_sphere = false; // else nothing is qualified, and nothing stands there
  QualificationLimits qualification;
  ControllerNames controller;
  Fixture fixture;
  std::string json; // as given, so that nothing in the file is lost when it is stored
};

// What stands on the bench besides part and fixture: first the reference sphere and its stem, if
// there are any, then the rack and parts of the machine.
struct BenchSolid {
  std::string name;
  Mesh mesh;
};
std::vector<BenchSolid> benchSolids(const Bench& bench);

// Turn of the stylus frame at head angles: A0 points down, A90 B0 towards -Y, A90 B90 towards +X.
Mat3 headTurn(double a, double b);
// From the ball along its shank towards the head, in the machine frame.
Vec3 shankDirection(const Tip& tip, double a, double b);

// Where the pivot stands when the stylus hangs in its port.
Vec3 pivotAtPort(const Stylus& stylus, const RackPort& port);

// What the probe cannot carry, a sentence each.
std::vector<std::string> beyondProbe(const Bench& bench);

// `label` names the file in messages. The format is described in docs/files.md.
Result<Bench> readBench(const std::string& json, const std::string& label);
// The bench that is used when none is named; ships in assets/benches.
Result<Bench> defaultBench();
// Files of the benches that ship with the program, by name.
std::vector<std::string> shippedBenches();

} // namespace alder
