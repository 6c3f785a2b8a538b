// The simulated machine with its controller: it moves, swaps and turns as it is told, meets the
// real part where that lies, and fails where it is asked to. See rehearse/simulated_machine.h for
// the surfaces.
#pragma once

#include "rehearse/simulated_machine.h"
#include "route/clearance.h"
#include "run/controller.h"
#include <functional>
#include <memory>

namespace alder {

// From its n-th command on (counted from 1: take, turn, go to, touch) the first one that can fail
// so does.
struct PlannedFault {
  int command = 1;
  FaultKind kind = FaultKind::EmergencyStop;
};
// "missed@12", "unexpected@3", "lost@5", "stop@7", as the simulated machine's program takes them.
Result<PlannedFault> faultFromText(const std::string& text);

struct SimulatedWorld {
  std::shared_ptr<const Plan> plan;
  Defects defects;
  std::uint64_t seed = 1;
  std::vector<PlannedFault> faults;
  Vec3 drift = Vec3::Zero(); // of the machine, mm per hour of its own time
  // Called with the seconds that a command takes, while it moves; false: break off.
  std::function<bool(double seconds)> pace;
};

class SimulatedController : public Controller {
 public:
  explicit SimulatedController(SimulatedWorld world);

  Answer<void> begin() override;
  Answer<Posture> posture() override;
  Answer<void> take(const std::string& stylus, const std::string& tip) override;
  Answer<void> turn(double a, double b) override;
  Answer<void> goTo(const Vec3& ball) override;
  Answer<Vec3> touch(const TouchCommand& command) override;
  Answer<Vec3> touchByHand(const TouchCommand& about) override;
  Answer<void> clearByHand() override; // up

  double seconds() const { return seconds_; } // of its own time since it was switched on
  int commands() const { return commands_; }
  const Frame& truePlacement() const { return part_.truePlacement(); }

 private:
  // What goes wrong at a command that can fail in these ways.
  std::optional<FaultKind> faultNow(std::initializer_list<FaultKind> can);
  Answer<void> stoppedAt(const Vec3& ball, FaultKind kind, const std::string& message);
  Answer<void> move(const Vec3& to);
  Answer<Vec3> probe(const TouchCommand& command, bool by_hand);
  bool onSphere(const TouchCommand& command) const;
  Answer<Vec3> probeSphere(const TouchCommand& command);
  bool spend(double seconds);
  // Faces by where the ball would come, CAD frame: the first met between the two places.
  struct Met {
    FaceId face;
    double along = 0; // from the first place, mm
  };
  std::optional<Met> firstMet(const Vec3& from, const Vec3& to, double radius) const;
  // A face has one true shape: of the features that share it, that of the one with a defect.
  FeatureId featureOf(FaceId face) const;
  Vec3 drifted() const { return seconds_ / 3600 * world_.drift; }
  const Tool& tool() const { return tool_; }
  void equip(const Access& access);
  // What the tip really is, and where it is off from where the machine believes it.
  double radius() const;
  Vec3 offset() const;

  SimulatedWorld world_;
  SimulatedMachine part_;
  MeshTree surface_; // CAD frame
  Access access_;
  Tool tool_;
  Vec3 pivot_;
  double seconds_ = 0;
  int commands_ = 0;
  bool stopped_ = false; // until the fault is cleared
};

} // namespace alder
