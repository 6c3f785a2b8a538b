#include "route/shell_travel.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace alder {
namespace {

constexpr double kEndless = 1e6;   // mm, where a side is barred
constexpr double kFarthest = 5000; // mm, of a way out
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

// The axis that a side lies across, and whether at its high end.
int axisOf(ShellSide side) {
  return side == ShellSide::Top ? 2 : side == ShellSide::Left || side == ShellSide::Right ? 0 : 1;
}
bool isHigh(ShellSide side) {
  return side == ShellSide::Right || side == ShellSide::Back || side == ShellSide::Top;
}
constexpr std::array<ShellSide, 5> kSides{ShellSide::Left, ShellSide::Front, ShellSide::Right,
                                          ShellSide::Back, ShellSide::Top};

// Where the shortest way over the edge of two planes crosses it: as if they were laid flat. `from`
// lies in the plane across `one`, `to` in that across `two`.
Vec3 changeover(const Vec3& from, int one, const Vec3& to, int two) {
  Vec3 edge;
  edge[one] = from[one];
  edge[two] = to[two];
  const int along = 3 - one - two;
  const double before = std::abs(to[two] - from[two]), after = std::abs(to[one] - from[one]);
  const double share = before + after > 0 ? before / (before + after) : 0.5;
  edge[along] = from[along] + share * (to[along] - from[along]);
  return edge;
}

} // namespace

Box3 shellBox(const Plan& plan, const Obstacles& obstacles) {
  const Box3 solids = solidsAlong(obstacles, shellAxes(plan));
  return {solids.min() - plan.shell.offset_low, solids.max() + plan.shell.offset_high};
}

ShellTravel::ShellTravel(const Plan& plan, const Obstacles& obstacles, const Tool& tool)
    : axes_(shellAxes(plan))
    , floor_(obstacles.table + 2 - tool.bounds.min().z())
    , planes_(plan.shell.planes)
    , travel_(plan.bench.machine.volume.translated(Vec3(-tool.ball_to_pivot))) {
  travel_.min().array() += kRoomAtEnds, travel_.max().array() -= kRoomAtEnds;
  const Box3 shell = shellBox(plan, obstacles);
  const Box3 bounds = axes_.isIdentity(1e-12) ? tool.bounds : boundsAlong(tool, axes_);
  Vec3 low = shell.min() - bounds.max(), high = shell.max() - bounds.min();
  low.z() = -kEndless;
  for (int k = 0; k < 2; ++k) {
    if (plan.shell.barred[static_cast<std::size_t>(k)]) low[k] = -kEndless;
    if (plan.shell.barred[static_cast<std::size_t>(k + 2)]) high[k] = kEndless;
  }
  barred_ = Box3(low, high);
}

bool ShellTravel::outside(const Vec3& ball) const {
  const Vec3 p = axes_.transpose() * ball;
  return (p.array() <= barred_.min().array() + kTouching).any() ||
         (p.array() >= barred_.max().array() - kTouching).any();
}

bool ShellTravel::outside(const Vec3& from, const Vec3& to) const {
  return outsideHere(axes_.transpose() * from, axes_.transpose() * to);
}

bool ShellTravel::outsideHere(const Vec3& from, const Vec3& to) const {
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
  for (const ShellSide side : kSides)
    if (const auto d = exitDistance(ball, direction, side)) best = std::min(best, *d);
  if (best > kFarthest) return {};
  return best;
}

std::optional<double> ShellTravel::exitDistance(const Vec3& ball, const Vec3& direction,
                                                ShellSide side) const {
  const int k = axisOf(side);
  const double at = axes_.col(k).dot(ball), along = axes_.col(k).dot(direction);
  const double left = isHigh(side) ? planeAt(side) - at : at - planeAt(side),
               outward = isHigh(side) ? along : -along;
  if (left <= kTouching) return 0.0;
  if (outward <= 1e-6 || left / outward > kFarthest) return {};
  return left / outward;
}

Vec3 ShellTravel::normalOf(ShellSide side) const {
  return isHigh(side) ? Vec3(axes_.col(axisOf(side))) : Vec3(-axes_.col(axisOf(side)));
}

double ShellTravel::planeAt(ShellSide side) const {
  return isHigh(side) ? barred_.max()[axisOf(side)] : barred_.min()[axisOf(side)];
}

std::vector<ShellSide> ShellTravel::sidesBeyond(const Vec3& p) const {
  std::vector<ShellSide> sides;
  for (const ShellSide side : kSides) {
    const double off = p[axisOf(side)] - planeAt(side);
    if (isHigh(side) ? off >= -kTouching : off <= kTouching) sides.push_back(side);
  }
  return sides;
}

bool ShellTravel::inTravel(const std::vector<Vec3>& way) const {
  return std::all_of(way.begin(), way.end(), [&](const Vec3& p) {
    const Vec3 place = axes_ * p;
    return ((place - travel_.min()).array() > -1e-9).all() &&
           ((travel_.max() - place).array() > -1e-9).all();
  });
}

std::vector<Vec3> ShellTravel::travel(const Vec3& from, const Vec3& to) const {
  const Vec3 start = axes_.transpose() * from, end = axes_.transpose() * to;
  auto way = planes_ ? planeTravel(start, end) : shortestTravel(start, end);
  for (Vec3& p : way)
    p = axes_ * p;
  return way;
}

std::vector<Vec3> ShellTravel::planeTravel(const Vec3& from, const Vec3& to) const {
  std::optional<std::vector<Vec3>> best;
  double least = 1e300;
  const auto consider = [&](const std::vector<Vec3>& way) {
    const double l = length(from, way, to);
    if (l < least - 1e-9 && inTravel(way)) least = l, best = way;
  };
  const auto barred = [&](ShellSide side) { return std::abs(planeAt(side)) >= kEndless; };
  for (const ShellSide one : sidesBeyond(from))
    for (const ShellSide two : sidesBeyond(to)) {
      if (one == two) return {};
      const int a = axisOf(one), b = axisOf(two);
      if (a != b) {
        consider({changeover(from, a, to, b)});
        continue;
      }
      for (const ShellSide between : kSides) { // that joins two opposite ones
        const int c = axisOf(between);
        if (c == a || barred(between)) continue;
        // As laid flat: down to the plane between, along it, and up again.
        Vec3 first = from, last = to;
        first[c] = last[c] = planeAt(between);
        const int along = 3 - a - c;
        const double before = std::abs(first[c] - from[c]), middle = std::abs(last[a] - first[a]),
                     after = std::abs(to[c] - last[c]), all = before + middle + after;
        first[along] = from[along] + (all > 0 ? before / all : 0) * (to[along] - from[along]);
        last[along] = to[along] - (all > 0 ? after / all : 0) * (to[along] - from[along]);
        consider({first, last});
      }
    }
  return best ? *best : shortestTravel(from, to);
}

std::vector<Vec3> ShellTravel::shortestTravel(const Vec3& from, const Vec3& to) const {
  if (outsideHere(from, to)) return {};
  const double z = std::max({top(), from.z(), to.z()});
  std::vector<Vec3> best{{from.x(), from.y(), z}, {to.x(), to.y(), z}};
  double least = inTravel(best) ? length(from, best, to) : 1e300;
  // Round the sides: past one upright edge of the barred box, or two.
  const std::array<Vec2, 4> corners{
      Vec2(barred_.min().x(), barred_.min().y()), Vec2(barred_.max().x(), barred_.min().y()),
      Vec2(barred_.max().x(), barred_.max().y()), Vec2(barred_.min().x(), barred_.max().y())};
  const double height = std::max({from.z(), to.z(), floor_});
  const auto consider = [&](const std::vector<Vec3>& way) {
    Vec3 at = from;
    for (const Vec3& p : way) {
      if (!outsideHere(at, p)) return;
      at = p;
    }
    if (!outsideHere(at, to)) return;
    const double l = length(from, way, to);
    if (l < least - 1e-9 && inTravel(way)) least = l, best = way;
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
