// The controller of a measuring machine, as a run commands it. Machine frame, mm, radians. Every
// command either is done, or ends in a fault after which the machine stands still and knows where
// it is.
#pragma once

#include "geometry/vec.h"
#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

namespace alder {

enum class FaultKind {
  MissedTouch,     // nothing was met within the search distance
  UnexpectedTouch, // something was met where nothing should be
  LostConnection,  // the machine does not answer
  EmergencyStop,   // someone or something stopped it
  Refused,         // the command cannot be done, for the reason told
  NotHomed,        // it must look for its reference marks first, which moves it
  FeatureEnded     // the operator said at the machine that the feature is done
};
std::string_view name(FaultKind kind); // "missed touch", ...

struct Fault {
  FaultKind kind = FaultKind::Refused;
  std::string message; // one line
};

template <class T> using Answer = tl::expected<T, Fault>;

struct TouchCommand {
  Vec3 surface = Vec3::Zero(); // where it should be met
  Vec3 normal = Vec3::UnitZ(); // out of the material; the ball moves against it
  double approach = 2;         // of the ball's surface, where the slow part begins
  double search = 2;           // how far beyond the place the surface is sought
  double speed = 0;            // mm/s; 0: the machine's own
};

// A tip at these angles that the controller must have a name for.
struct ToolWanted {
  std::string stylus, tip;
  double a = 0, b = 0;
  bool posture = false; // a name for these angles alone
};

// How the machine stands.
struct Posture {
  Vec3 ball = Vec3::Zero(); // centre of the ball in use
  std::string stylus, tip;
  double a = 0, b = 0;
};

class Controller {
 public:
  virtual ~Controller() = default;

  // Connects where there is no connection and clears faults. Also after a fault, before going on.
  // NotHomed: a person is to be asked before home().
  virtual Answer<void> begin() = 0;
  virtual Answer<void> home() { return {}; }
  // Those of a run that the controller does not know under any name told; after begin().
  virtual std::vector<ToolWanted> unknownTools(const std::vector<ToolWanted>&) { return {}; }
  virtual std::vector<std::string> toolNames() { return {}; } // that it knows
  virtual void nameTool(const ToolWanted&, const std::string&) {}
  virtual Answer<Posture> posture() = 0;
  // By the names of the bench; the machine does the way into the rack and out of it.
  virtual Answer<void> take(const std::string& stylus, const std::string& tip) = 0;
  virtual Answer<void> turn(double a, double b) = 0;
  virtual Answer<void> goTo(const Vec3& ball) = 0; // straight
  // Centre of the ball at contact; it stays there.
  virtual Answer<Vec3> touch(const TouchCommand& command) = 0;
  // Waits until the operator has touched, about there.
  virtual Answer<Vec3> touchByHand(const TouchCommand& about) = 0;
  // Lets the operator move it, who has said that it is clear when this returns.
  virtual Answer<void> clearByHand() = 0;
};

} // namespace alder
