// The measuring bench: machine, indexing head, styli, reference sphere and fixture.
// Lengths mm, angles radians, machine frame right-handed with Z up and the table at z = 0.
#pragma once

#include "base/error.h"
#include "geometry/mesh.h"
#include <optional>
#include <string>
#include <vector>

namespace alder {

// A round-ended rod of the moving machine, for clash checks.
struct Rod {
  Vec3 a, b;
  double diameter = 0;
  std::string part; // shank, extension, probe, head, ram
};

// One ball. Vectors are in the stylus frame: at A0 B0 its axes are those of the machine.
struct Tip {
  std::string name;
  double ball_diameter = 0;
  Vec3 direction = -Vec3::UnitZ(); // along the tip's shank, from the stem to the ball
  Vec3 pivot_to_ball = Vec3::Zero();
  std::vector<Rod> rods; // relative to the ball centre, everything up to the pivot
  // The chain along the tip's own direction, measured from the ball centre, up to the pivot; only
  // for straight tips.
  struct Segment {
    double from = 0, to = 0, diameter = 0;
    std::string part;
  };
  std::vector<Segment> segments;
  bool straight() const { return !segments.empty(); }
};

struct Stylus {
  std::string name;
  std::vector<Tip> tips;
};

struct AngleRange {
  double low = 0, high = 0, step = 0;
  // Nearest angle that the head can take; several turns are the same angle.
  double nearest(double angle) const;
  bool holds(double angle) const;
};

struct Head {
  std::string name;
  AngleRange a, b;
  double turn_speed = 1;   // rad/s of the slower axis
  double turn_seconds = 1; // lock and unlock
  std::vector<Rod> rods;   // relative to the pivot, do not turn: head body and ram
};

struct Machine {
  std::string name;
  Box3 volume; // where the pivot of the head may be
  Vec3 speed = Vec3::Constant(300);
  Vec3 acceleration = Vec3::Constant(1000);
  double touch_speed = 3;
  double touch_seconds = 0.3; // trigger, settle, back off
  double probing_noise = 0;   // standard deviation of a touch along its direction
};

enum class FixtureKind { Plate, Rest, Clamp };
struct FixtureBody {
  std::string name;
  FixtureKind kind = FixtureKind::Rest;
  Mesh mesh; // machine frame
};

struct Fixture {
  std::vector<FixtureBody> bodies;
  std::optional<Frame> placement; // CAD frame of the part in the machine frame
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
  std::vector<Stylus> styli;
  ReferenceSphere sphere;
  bool has_sphere = false; // else nothing is qualified, and nothing stands there
  QualificationLimits qualification;
  Fixture fixture;
  std::string json; // as given, so that nothing in the file is lost when it is stored
};

// Turn of the stylus frame at head angles: A0 points down, A90 B0 towards -Y, A90 B90 towards +X.
Mat3 headTurn(double a, double b);
// From the ball along its shank towards the head, in the machine frame.
Vec3 shankDirection(const Tip& tip, double a, double b);

// `label` names the file in messages. The format is described in docs/files.md.
Result<Bench> readBench(const std::string& json, const std::string& label);
// The bench that is used when none is named; ships in assets/.
Result<Bench> defaultBench();

} // namespace alder
