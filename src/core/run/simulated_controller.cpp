#include "run/simulated_controller.h"

#include "base/units.h"
#include "rehearse/qualify.h"
#include "route/time_model.h"
#include <algorithm>
#include <charconv>
#include <cmath>

namespace alder {
namespace {

tl::unexpected<Fault> fault(FaultKind kind, std::string message) {
  return tl::unexpected<Fault>(Fault{kind, std::move(message)});
}

} // namespace

Result<PlannedFault> faultFromText(const std::string& text) {
  const auto at = text.find('@');
  const std::string word = text.substr(0, at);
  PlannedFault planned;
  if (word == "missed")
    planned.kind = FaultKind::MissedTouch;
  else if (word == "unexpected")
    planned.kind = FaultKind::UnexpectedTouch;
  else if (word == "lost")
    planned.kind = FaultKind::LostConnection;
  else if (word == "stop")
    planned.kind = FaultKind::EmergencyStop;
  else
    return fail("\"{}\" is no fault; write missed@12, unexpected@3, lost@5 or stop@7.", text);
  const std::string number = at == std::string::npos ? "" : text.substr(at + 1);
  const auto [end, code] =
      std::from_chars(number.data(), number.data() + number.size(), planned.command);
  if (code != std::errc{} || end != number.data() + number.size() || planned.command < 1)
    return fail("\"{}\": after @ stands the number of the command, from 1.", text);
  return planned;
}

SimulatedController::SimulatedController(SimulatedWorld world)
    : world_(std::move(world))
    , part_(*world_.plan, world_.defects, world_.seed)
    , surface_(world_.plan->part->mesh) {
  equip({0, 0, 0, 0});
  pivot_ = world_.plan->bench.machine.volume.max();
}

void SimulatedController::equip(const Access& access) {
  access_ = access;
  tool_ = toolOf(world_.plan->bench, access);
}

double SimulatedController::radius() const {
  if (world_.plan->qualified.tips.empty()) return tool_.ball_radius;
  return truthOf(world_.plan->bench, access_).diameter / 2;
}
Vec3 SimulatedController::offset() const {
  if (world_.plan->qualified.tips.empty()) return Vec3::Zero();
  return truthOf(world_.plan->bench, access_).offset;
}

bool SimulatedController::spend(double seconds) {
  seconds_ += seconds;
  return !world_.pace || world_.pace(seconds);
}

std::optional<FaultKind> SimulatedController::faultNow(std::initializer_list<FaultKind> can) {
  ++commands_;
  for (auto it = world_.faults.begin(); it != world_.faults.end(); ++it) {
    if (it->command > commands_ || std::find(can.begin(), can.end(), it->kind) == can.end())
      continue;
    const FaultKind kind = it->kind;
    world_.faults.erase(it); // once
    return kind;
  }
  return {};
}

Answer<void> SimulatedController::stoppedAt(const Vec3& ball, FaultKind kind,
                                            const std::string& message) {
  pivot_ = ball + tool_.ball_to_pivot;
  stopped_ = kind != FaultKind::MissedTouch;
  return fault(kind, message);
}

Answer<void> SimulatedController::begin() {
  stopped_ = false;
  return {};
}

Answer<Posture> SimulatedController::posture() {
  const Stylus& stylus = world_.plan->bench.styli[static_cast<std::size_t>(access_.stylus)];
  return Posture{pivot_ - tool_.ball_to_pivot, stylus.name,
                 stylus.tips[static_cast<std::size_t>(access_.tip)].name, access_.a, access_.b};
}

Answer<void> SimulatedController::take(const std::string& stylus, const std::string& tip) {
  const auto failing = faultNow({FaultKind::EmergencyStop, FaultKind::LostConnection});
  if (stopped_) return fault(FaultKind::EmergencyStop, "The machine is stopped.");
  const auto& styli = world_.plan->bench.styli;
  for (std::size_t s = 0; s < styli.size(); ++s)
    for (std::size_t t = 0; t < styli[s].tips.size(); ++t) {
      if (styli[s].name != stylus || styli[s].tips[t].name != tip) continue;
      if (failing) return stoppedAt(pivot_ - tool_.ball_to_pivot, *failing, "While swapping.");
      const bool other = static_cast<int>(s) != access_.stylus;
      const auto& rack = world_.plan->bench.rack;
      if (const RackPort* port = other && rack ? rack->portOf(stylus) : nullptr) {
        pivot_ = pivotAtPort(styli[s], *port) + rack->slide * rack->out; // out of the rack again
        equip({static_cast<int>(s), static_cast<int>(t), 0, 0});
      } else {
        equip({static_cast<int>(s), static_cast<int>(t), access_.a, access_.b});
      }
      if (other && !spend(kSwapSeconds)) return fault(FaultKind::EmergencyStop, "Broken off.");
      return {};
    }
  return fault(FaultKind::Refused,
               fmt::format("There is no stylus {} with a tip {}.", stylus, tip));
}

Answer<void> SimulatedController::turn(double a, double b) {
  const auto failing = faultNow({FaultKind::EmergencyStop, FaultKind::LostConnection});
  if (stopped_) return fault(FaultKind::EmergencyStop, "The machine is stopped.");
  if (failing) return stoppedAt(pivot_ - tool_.ball_to_pivot, *failing, "While turning the head.");
  const Head& head = world_.plan->bench.head;
  if (!head.a.holds(a) || !head.b.holds(b))
    return fault(FaultKind::Refused, fmt::format("The head cannot take A{:g} B{:g}.",
                                                 shownDegrees(a), shownDegrees(b)));
  Access turned = access_;
  turned.a = a, turned.b = b;
  if (std::abs(a - access_.a) < 1e-7 && std::abs(b - access_.b) < 1e-7) return {};
  const double takes = turnSeconds(head, access_, turned);
  equip(turned);
  if (!spend(takes)) return fault(FaultKind::EmergencyStop, "Broken off.");
  return {};
}

// The ball goes straight; where it meets the part it stops.
Answer<void> SimulatedController::move(const Vec3& to) {
  const Vec3 from = pivot_ - tool_.ball_to_pivot;
  if ((to - from).norm() < 1e-9) return {};
  const Frame inverse = part_.truePlacement().inverse();
  const Vec3 off = offset() + drifted();
  // What the ball touched before it moves away from; it may be a little inside of the mesh.
  constexpr double kDeep = 0.25;
  if (const auto met = firstMet(inverse * (from + off), inverse * (to + off), radius() - kDeep)) {
    const Vec3 stop = from + met->along * (to - from).normalized();
    return stoppedAt(stop, FaultKind::UnexpectedTouch, "The ball has met the part.");
  }
  if (!world_.plan->bench.machine.volume.contains(to + tool_.ball_to_pivot))
    return fault(FaultKind::Refused,
                 fmt::format("{:.1f}, {:.1f}, {:.1f} is out of travel.", to.x(), to.y(), to.z()));
  const double takes = moveSeconds(world_.plan->bench.machine, from, to);
  if (!spend(takes))
    return stoppedAt(from + 0.5 * (to - from), FaultKind::EmergencyStop, "Broken off.");
  pivot_ = to + tool_.ball_to_pivot;
  return {};
}

Answer<void> SimulatedController::goTo(const Vec3& ball) {
  const auto failing =
      faultNow({FaultKind::UnexpectedTouch, FaultKind::EmergencyStop, FaultKind::LostConnection});
  if (stopped_) return fault(FaultKind::EmergencyStop, "The machine is stopped.");
  if (failing) { // half way there
    const Vec3 from = pivot_ - tool_.ball_to_pivot, half = from + 0.5 * (ball - from);
    if (auto done = move(half); !done) return done;
    return stoppedAt(half, *failing,
                     *failing == FaultKind::UnexpectedTouch ? "The ball has met something."
                                                            : "While moving.");
  }
  return move(ball);
}

std::optional<SimulatedController::Met>
SimulatedController::firstMet(const Vec3& from, const Vec3& to, double radius) const {
  const Vec3 way = to - from;
  const double length = way.norm();
  radius = std::max(radius, 0.01);
  if (length < 1e-9 || surface_.clear({{from, from}, way, radius}, 0)) return {};
  const Vec3 u = way / length;
  // No surface is nearer than the distance found, so that the ball may advance by it.
  constexpr double kClose = 0.02;
  double t = 0, before = 1e300;
  while (t <= length) {
    const Vec3 p = from + t * u;
    const auto near = surface_.nearest({{p, p}, Vec3::Zero(), radius}, 1e4);
    if (!near) return {};
    const bool coming = near->distance < before; // else it is on its way out
    if (near->distance < kClose && (coming && t > 0)) return Met{FaceId{near->tag}, t};
    before = near->distance;
    t += std::max(near->distance * 0.999, kClose / 2);
  }
  return {};
}

FeatureId SimulatedController::featureOf(FaceId face) const {
  FeatureId first;
  for (const NominalFeature& f : world_.plan->spec.features) {
    if (std::find(f.faces.begin(), f.faces.end(), face) == f.faces.end()) continue;
    if (part_.differs(f.id)) return f.id;
    if (!first.valid()) first = f.id;
  }
  return first;
}

Answer<Vec3> SimulatedController::touch(const TouchCommand& command) {
  const auto failing = faultNow({FaultKind::MissedTouch, FaultKind::UnexpectedTouch,
                                 FaultKind::EmergencyStop, FaultKind::LostConnection});
  if (stopped_) return fault(FaultKind::EmergencyStop, "The machine is stopped.");
  const Vec3 start = command.surface + (tool_.ball_radius + command.approach) * command.normal;
  if (failing) {
    if (auto done = move(start); !done) return tl::unexpected<Fault>(done.error());
    const Vec3 end = *failing == FaultKind::MissedTouch
                         ? Vec3(start - 0.5 * command.approach * command.normal)
                         : start;
    return tl::unexpected<Fault>(
        stoppedAt(end, *failing,
                  *failing == FaultKind::MissedTouch       ? "No surface was met."
                  : *failing == FaultKind::UnexpectedTouch ? "Something was met too early."
                                                           : "While touching.")
            .error());
  }
  if (auto done = move(start); !done) return tl::unexpected<Fault>(done.error());
  return probe(command, false);
}

Answer<Vec3> SimulatedController::touchByHand(const TouchCommand& about) {
  const auto failing = faultNow({FaultKind::LostConnection, FaultKind::EmergencyStop});
  if (stopped_) return fault(FaultKind::EmergencyStop, "The machine is stopped.");
  if (failing)
    return tl::unexpected<Fault>(
        stoppedAt(pivot_ - tool_.ball_to_pivot, *failing, "While the operator touches.").error());
  // The operator goes by the real part and meets the place to within some tenths of a millimetre.
  const Frame off = part_.truePlacement() * world_.plan->placement.inverse();
  TouchCommand real = about;
  real.normal = alder::turn(off, about.normal);
  // To either side the same, whatever the last digits of a normal that came as text are.
  const Vec3 side = anyPerpendicular((1e9 * real.normal).array().round().matrix() / 1e9);
  Random& random = part_.random();
  const double u = random.uniform(-1, 1), v = random.uniform(-1, 1);
  real.surface = off * about.surface + 0.3 * u * side + 0.3 * v * real.normal.cross(side);
  real.search = 5;
  pivot_ = real.surface + (tool_.ball_radius + 1) * real.normal + tool_.ball_to_pivot;
  return probe(real, true);
}

Answer<void> SimulatedController::clearByHand() {
  if (stopped_) return fault(FaultKind::EmergencyStop, "The machine is stopped.");
  pivot_.z() = world_.plan->bench.machine.volume.max().z();
  return {};
}

// Does the command mean the reference sphere?
bool SimulatedController::onSphere(const TouchCommand& command) const {
  constexpr double kNear = 1; // mm
  const Bench& bench = world_.plan->bench;
  return bench.has_sphere && std::abs((command.surface - bench.sphere.centre).norm() -
                                      bench.sphere.diameter / 2) < kNear;
}

Answer<Vec3> SimulatedController::probeSphere(const TouchCommand& command) {
  const Bench& bench = world_.plan->bench;
  const Vec3 from = pivot_ - tool_.ball_to_pivot;
  const TipTruth truth{offset() + drifted(), 2 * radius()};
  const Vec3 noise = bench.machine.probing_noise * part_.random().normal() * command.normal;
  const Vec3 ball = contactBelieved(bench.sphere, truth, Vec3::Zero(), from) + noise;
  if (!spend((ball - from).norm() / bench.machine.touch_speed + bench.machine.touch_seconds))
    return tl::unexpected<Fault>(stoppedAt(from, FaultKind::EmergencyStop, "Broken off.").error());
  pivot_ = ball + tool_.ball_to_pivot;
  return ball;
}

Answer<Vec3> SimulatedController::probe(const TouchCommand& command, bool by_hand) {
  if (onSphere(command)) return probeSphere(command);
  const Vec3 from = pivot_ - tool_.ball_to_pivot,
             meant = command.surface + tool_.ball_radius * command.normal,
             end = meant - command.search * command.normal;
  const Vec3 off = offset() + drifted();
  const Frame inverse = part_.truePlacement().inverse();
  // Beyond by what the part may be off its mesh, so that a defect is not passed over.
  const auto met =
      firstMet(inverse * (from + off), inverse * (end + off - 0.5 * command.normal), radius());
  const auto missed = [&] {
    return tl::unexpected<Fault>(
        stoppedAt(end, FaultKind::MissedTouch,
                  fmt::format("No surface was met within {:g} mm of {:.2f}, {:.2f}, {:.2f}.",
                              command.search, command.surface.x(), command.surface.y(),
                              command.surface.z()))
            .error());
  };
  if (!met) return missed();
  const FeatureId feature = featureOf(met->face);
  constexpr double kAtOnce = 0.05;              // mm
  if (!feature.valid() && met->along < kAtOnce) // it leans against something else, as a bottom
    return tl::unexpected<Fault>(
        stoppedAt(from, FaultKind::UnexpectedTouch, "The ball has met the part before the touch.")
            .error());
  Vec3 ball = from + met->along * (end - from).normalized() + off;
  if (feature.valid()) {
    auto exact = part_.touch(feature, met->face, radius(), from + off, meant + off, command.search);
    if (!exact) return missed();
    ball = *exact;
  }
  ball -= off;
  const double pace = command.speed > 0 ? command.speed : world_.plan->bench.machine.touch_speed;
  if (!by_hand && !spend((ball - from).norm() / pace + world_.plan->bench.machine.touch_seconds))
    return tl::unexpected<Fault>(stoppedAt(from, FaultKind::EmergencyStop, "Broken off.").error());
  pivot_ = ball + tool_.ball_to_pivot;
  return ball;
}

} // namespace alder
