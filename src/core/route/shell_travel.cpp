#include "route/shell_travel.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace alder {
namespace {

constexpr double kEndless = 1e6;   // mm, where a side is barred
constexpr double kTouching = 1e-6; // moves may run along the planes themselves

double length(const Vec3& from, const std::vector<Vec3>& way, const Vec3& to) {
  double sum = 0;
  Vec3 at = from;
  for (const Vec3& p : way) {
    sum += (p - at).norm();
    at = p;
  }
  return sum + (to - at).norm();
}

} // namespace

Box3 shellBox(const Plan& plan, const Obstacles& obstacles) {
  return {obstacles.solids.min() - plan.shell.offset_low,
          obstacles.solids.max() + plan.shell.offset_high};
}

ShellTravel::ShellTravel(const Plan& plan, const Obstacles& obstacles, const Tool& tool)
    : shell_(shellBox(plan, obstacles))
    , floor_(obstacles.table + 2 - tool.bounds.min().z()) {
  Vec3 low = shell_.min() - tool.bounds.max(), high = shell_.max() - tool.bounds.min();
  low.z() = -kEndless;
  for (int k = 0; k < 2; ++k) {
    if (plan.shell.barred[static_cast<std::size_t>(k)]) low[k] = -kEndless;
    if (plan.shell.barred[static_cast<std::size_t>(k + 2)]) high[k] = kEndless;
  }
  barred_ = Box3(low, high);
}

bool ShellTravel::outside(const Vec3& p) const {
  return (p.array() <= barred_.min().array() + kTouching).any() ||
         (p.array() >= barred_.max().array() - kTouching).any();
}

bool ShellTravel::outside(const Vec3& from, const Vec3& to) const {
  double enter = 0, leave = 1;
  const Vec3 d = to - from;
  for (int k = 0; k < 3; ++k) {
    const double low = barred_.min()[k] + kTouching, high = barred_.max()[k] - kTouching;
    if (std::abs(d[k]) < 1e-12) {
      if (from[k] <= low || from[k] >= high) return true;
      continue;
    }
    double t0 = (low - from[k]) / d[k], t1 = (high - from[k]) / d[k];
    if (t0 > t1) std::swap(t0, t1);
    enter = std::max(enter, t0);
    leave = std::min(leave, t1);
  }
  return enter >= leave;
}

std::optional<double> ShellTravel::exitDistance(const Vec3& ball, const Vec3& direction) const {
  if (outside(ball)) return 0.0;
  double best = 1e300;
  for (int k = 0; k < 3; ++k) {
    if (direction[k] > 1e-6) best = std::min(best, (barred_.max()[k] - ball[k]) / direction[k]);
    if (direction[k] < -1e-6 && k < 2)
      best = std::min(best, (barred_.min()[k] - ball[k]) / direction[k]);
  }
  if (best > 5000) return {};
  return best;
}

std::vector<Vec3> ShellTravel::travel(const Vec3& from, const Vec3& to) const {
  if (outside(from, to)) return {};
  const double z = std::max({top(), from.z(), to.z()});
  std::vector<Vec3> best{{from.x(), from.y(), z}, {to.x(), to.y(), z}};
  double least = length(from, best, to);
  // Round the sides: past one upright edge of the barred box, or two.
  const std::array<Vec2, 4> corners{
      Vec2(barred_.min().x(), barred_.min().y()), Vec2(barred_.max().x(), barred_.min().y()),
      Vec2(barred_.max().x(), barred_.max().y()), Vec2(barred_.min().x(), barred_.max().y())};
  const double height = std::max({from.z(), to.z(), floor_});
  const auto consider = [&](const std::vector<Vec3>& way) {
    Vec3 at = from;
    for (const Vec3& p : way) {
      if (!outside(at, p)) return;
      at = p;
    }
    if (!outside(at, to)) return;
    const double l = length(from, way, to);
    if (l < least - 1e-9) least = l, best = way;
  };
  for (std::size_t i = 0; i < 4; ++i) {
    const Vec3 a(corners[i].x(), corners[i].y(), height);
    consider({a});
    for (std::size_t j : {(i + 1) % 4, (i + 3) % 4})
      consider({a, {corners[j].x(), corners[j].y(), height}});
  }
  return best;
}

} // namespace alder
