#include "route/time_model.h"

#include <algorithm>
#include <cmath>

namespace alder {

double moveSeconds(const Machine& machine, const Vec3& from, const Vec3& to) {
  const Vec3 d = (to - from).cwiseAbs();
  const double length = d.norm();
  if (length < 1e-12) return 0;
  double speed = 1e300, acceleration = 1e300;
  for (int k = 0; k < 3; ++k) {
    if (d[k] < 1e-12) continue;
    speed = std::min(speed, machine.speed[k] * length / d[k]);
    acceleration = std::min(acceleration, machine.acceleration[k] * length / d[k]);
  }
  const double ramp = speed * speed / acceleration; // length needed to reach full speed and stop
  if (length < ramp) return 2 * std::sqrt(length / acceleration);
  return length / speed + speed / acceleration;
}

double touchSeconds(const Machine& machine, const Vec3& from, const Vec3& to, double speed) {
  return (to - from).norm() / (speed > 0 ? speed : machine.touch_speed) + machine.touch_seconds;
}

double turnSeconds(const Head& head, const Access& from, const Access& to) {
  const double a = std::abs(to.a - from.a), b = std::abs(to.b - from.b);
  return std::max(a, b) / head.turn_speed + head.turn_seconds;
}

std::vector<double> timesOf(const Bench& bench, const Way& way) {
  std::vector<double> times;
  double now = 0;
  for (std::size_t i = 0; i < way.positions.size(); ++i) {
    if (i > 0) {
      const Position& from = way.positions[i - 1];
      const Position& to = way.positions[i];
      if (to.kind == MoveKind::Turn)
        now += turnSeconds(bench.head, from.access, to.access);
      else if (to.kind == MoveKind::Swap && (to.bare || from.bare)) // put away, and taken
        now += kSwapSeconds / 2;
      else if (to.kind == MoveKind::Swap)
        now += kSwapSeconds + turnSeconds(bench.head, from.access, to.access);
      else if (to.contact && from.contact) // along a scan
        now +=
            touchSeconds(bench.machine, from.ball, to.ball, to.speed) - bench.machine.touch_seconds;
      else if (to.contact)
        now += touchSeconds(bench.machine, from.ball, to.ball, to.speed);
      else
        now += moveSeconds(bench.machine, from.ball, to.ball);
    }
    now += way.positions[i].dwell;
    times.push_back(now);
  }
  return times;
}

} // namespace alder
