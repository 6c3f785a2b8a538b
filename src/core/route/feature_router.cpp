#include "route/feature_router.h"

#include "route/clear_travel.h"
#include "route/detour.h"

#include <algorithm>

namespace alder {
namespace {

// Free distance between the ball and the far side of the feature, or a large number outside.
double roomInside(const Ideal& ideal, const Vec3& point, double ball_radius) {
  if (!ideal.hole) return 1e9;
  if (ideal.type == SurfaceType::Slot) return ideal.diameter / 2 - ball_radius;
  if (ideal.type == SurfaceType::Cylinder || ideal.type == SurfaceType::Sphere)
    return ideal.diameter / 2 - ball_radius;
  if (ideal.type == SurfaceType::Cone) {
    const double along = (point - ideal.point).dot(ideal.direction);
    return ideal.diameter / 2 + along * std::tan(ideal.half_angle) - ball_radius;
  }
  return 1e9;
}

} // namespace

TouchMove touchMove(const Plan& plan, const Feature& feature, const Touch& touch,
                    double ball_radius) {
  const double room = roomInside(plan.nominal(feature.id).ideal, touch.point, ball_radius);
  const double away = std::max(0.2, std::min(feature.recipe.approach, room));
  const Vec3 point = plan.placement * touch.point, normal = turn(plan.placement, touch.normal);
  const Vec3 before = point + (ball_radius + away) * normal;
  const double back =
      feature.recipe.retract > 0 ? std::max(0.2, std::min(feature.recipe.retract, room)) : away;
  return {before, point + ball_radius * normal, point + (ball_radius + back) * normal};
}

FeatureRouter::FeatureRouter(const Clearance& clearance, const Tool& tool, const Feature& feature,
                             bool search)
    : clearance_(clearance)
    , tool_(tool)
    , feature_(feature)
    , travel_(clearance.plan(), clearance.obstacles(), tool)
    , search_(search) {}

// Between two places by a detour inside the shell and a little round it.
std::optional<std::vector<Vec3>> FeatureRouter::sought(const Vec3& from, const Vec3& to) const {
  if (!search_) return {};
  Frame axes = Frame::Identity();
  axes.linear() = shellAxes(clearance_.plan());
  Box3 within = transformed(shellBox(clearance_.plan(), clearance_.obstacles()), axes);
  within.extend(from).extend(to);
  const Vec3 more = Vec3::Constant(40);
  DetourSettings settings;
  settings.margin = margins_.near;
  return detour(clearance_, tool_, from, to, {within.min() - more, within.max() + more}, settings);
}

bool FeatureRouter::clear(const Vec3& from, const Vec3& to, double margin) const {
  // The travel is a box: a move between two places in it stays in it.
  return !clearance_.overrun(tool_, to) && clearance_.clear(tool_, from, to, margin);
}

bool FeatureRouter::reaches(const Touch& touch, Hint* hint) const {
  const auto& plan = clearance_.plan();
  const TouchMove m = touchMove(plan, feature_, touch, tool_.ball_radius);
  const TouchAllowance allowance{&plan.nominal(feature_.id).faces};
  if (clearance_.overrun(tool_, m.approach, kRoomAtEnds) ||
      clearance_.overrun(tool_, m.contact, kRoomAtEnds) ||
      clearance_.overrun(tool_, m.retract, kRoomAtEnds) ||
      !clearance_.clear(tool_, m.approach, m.contact, margins_.near, allowance, hint))
    return false;
  const Vec3 sought_to = m.contact - feature_.recipe.search * turn(plan.placement, touch.normal);
  return !clearance_.nearestInSearch(tool_, m.contact, sought_to, 0);
}

std::optional<std::vector<Vec3>> FeatureRouter::exitThrough(const Vec3& from, const Vec3& normal,
                                                            ShellSide side) const {
  for (double aside : {0.0, 2.0, 5.0, 10.0, 20.0, 40.0, 80.0})
    for (const Vec3& along : {tool_.shank, travel_.normalOf(side)})
      for (double back : {0.0, 5.0, 10.0, 20.0, 40.0, 80.0}) { // along the shank first
        const Vec3 start = from + aside * normal, turning = start + back * tool_.shank;
        const auto distance = travel_.exitDistance(turning, along, side);
        if (!distance) continue;
        const Vec3 end = turning + *distance * along;
        if (clearance_.overrun(tool_, end) || !clear(from, start, margins_.near) ||
            !clear(start, turning, margins_.near) || !clear(turning, end, margins_.near))
          continue;
        std::vector<Vec3> way;
        for (const Vec3& p : {start, turning, end})
          if ((p - (way.empty() ? from : way.back())).norm() > 1e-9) way.push_back(p);
        return way;
      }
  return {};
}

std::optional<std::vector<Vec3>> FeatureRouter::exit(const Vec3& from, const Vec3& normal) const {
  if (feature_.through)
    if (auto way = exitThrough(from, normal, *feature_.through)) return way;
  // Back along the shank; where something is in the way, first away from the surface.
  for (double aside : {0.0, 2.0, 5.0, 10.0, 20.0, 40.0, 80.0}) {
    const Vec3 start = from + aside * normal;
    if (aside > 0 && !clear(from, start, margins_.near)) break;
    const auto distance = travel_.exitDistance(start, tool_.shank);
    if (!distance) continue;
    const Vec3 end = start + *distance * tool_.shank;
    if (!clear(start, end, margins_.near) || clearance_.overrun(tool_, end)) continue;
    std::vector<Vec3> way;
    if (aside > 0) way.push_back(start);
    if (*distance > 0) way.push_back(end);
    return way;
  }
  if (const auto distance = travel_.exitDistance(from, normal)) {
    const Vec3 end = from + *distance * normal;
    if (clear(from, end, margins_.near) && !clearance_.overrun(tool_, end))
      return std::vector<Vec3>{end};
  }
  // Straight above everything, as high as it takes.
  Vec3 high = from;
  high.z() = std::max(high.z(), travel_.top() + 1);
  auto way = sought(from, high);
  if (way) way->push_back(high);
  return way;
}

std::optional<std::vector<Vec3>> FeatureRouter::close(const Vec3& from, const Vec3& from_normal,
                                                      const Vec3& to, const Vec3& to_normal) const {
  if (clear(from, to, margins_.near)) return std::vector<Vec3>{};
  const Vec3 away =
      (from_normal + to_normal).norm() > 0.2 ? (from_normal + to_normal).normalized() : from_normal;
  for (double lift : {3.0, 6.0, 12.0, 24.0, 48.0, 96.0})
    for (const Vec3& direction : {tool_.shank, away}) {
      // One place on the way is sooner passed than two.
      const Vec3 middle = (from + to) / 2 + lift * direction;
      if (clear(from, middle, margins_.near) && clear(middle, to, margins_.near))
        return std::vector<Vec3>{middle};
      const Vec3 a = from + lift * direction, b = to + lift * direction;
      if (clear(a, b, margins_.hop) && clear(from, a, margins_.near) && clear(b, to, margins_.near))
        return std::vector<Vec3>{a, b};
    }
  return {};
}

std::optional<std::vector<Vec3>> FeatureRouter::connect(const Vec3& from, const Vec3& from_normal,
                                                        const Vec3& to,
                                                        const Vec3& to_normal) const {
  if (auto near = close(from, from_normal, to, to_normal)) return near;
  if (auto found = sought(from, to)) return found;
  auto out = exit(from, from_normal);
  auto in = exit(to, to_normal);
  if (!out || !in) return {};
  const Vec3 leave = out->empty() ? from : out->back(), enter = in->empty() ? to : in->back();
  const auto way = clearTravel(clearance_, tool_, travel_, leave, enter, false);
  if (!way) return {};
  out->insert(out->end(), way->begin(), way->end());
  out->insert(out->end(), in->rbegin(), in->rend());
  return out;
}

void FeatureRouter::addTouch(const Touch& touch, int index, std::vector<Position>& out) const {
  const TouchMove m = touchMove(clearance_.plan(), feature_, touch, tool_.ball_radius);
  out.push_back({MoveKind::Approach, m.approach, tool_.access, 0, feature_.id, index, false});
  out.push_back({MoveKind::Touch, m.contact, tool_.access, 0, feature_.id, index, true,
                 feature_.recipe.speed});
  out.push_back({MoveKind::Retract, m.retract, tool_.access, 0, feature_.id, index, false});
}

bool FeatureRouter::scansOn(const Touch& before, const Touch& touch) const {
  if (feature_.recipe.stroke == Stroke::Touches || before.row != touch.row) return false;
  if ((touch.point - before.point).norm() > 3 * feature_.recipe.pitch + 0.5) return false; // a gap
  const auto& plan = clearance_.plan();
  const Vec3 from = touchMove(plan, feature_, before, tool_.ball_radius).contact,
             to = touchMove(plan, feature_, touch, tool_.ball_radius).contact;
  const TouchAllowance allowance{&plan.nominal(feature_.id).faces};
  return clearance_.clear(tool_, from, to, margins_.near, allowance);
}

std::vector<Position> FeatureRouter::route(const std::vector<Touch>& touches,
                                           std::string& why) const {
  const auto& plan = clearance_.plan();
  std::vector<Position> result;
  const auto hopTo = [&](const Vec3& ball) {
    result.push_back({MoveKind::Hop, ball, tool_.access, 0, feature_.id, -1, false});
  };
  Vec3 normal = Vec3::Zero();
  for (std::size_t i = 0; i < touches.size(); ++i) {
    const Vec3 before = touchMove(plan, feature_, touches[i], tool_.ball_radius).approach;
    const Vec3 n = turn(plan.placement, touches[i].normal);
    if (i > 0 && scansOn(touches[i - 1], touches[i])) {
      result.pop_back(); // the ball stays on the surface
      addTouch(touches[i], static_cast<int>(i), result);
      result.erase(result.end() - 3);
      normal = n;
      continue;
    }
    auto way = i == 0 ? exit(before, n) : connect(result.back().ball, normal, before, n);
    if (!way) {
      why = fmt::format("no clear way to touch {}", i + 1);
      return {};
    }
    if (i == 0) std::reverse(way->begin(), way->end());
    for (const Vec3& p : *way)
      hopTo(p);
    addTouch(touches[i], static_cast<int>(i), result);
    normal = n;
  }
  const auto out = exit(result.back().ball, normal);
  if (!out) {
    why = "no clear way out after the last touch";
    return {};
  }
  for (const Vec3& p : *out)
    hopTo(p);
  return result;
}

std::vector<Position> FeatureRouter::unproven(const std::vector<Touch>& touches) const {
  std::vector<Position> result;
  const auto outAlongShank = [&](const Vec3& from) {
    const Vec3 end = from + travel_.exitDistance(from, tool_.shank).value_or(0) * tool_.shank;
    result.push_back({MoveKind::Hop, end, tool_.access, 0, feature_.id, -1, false});
  };
  for (std::size_t i = 0; i < touches.size(); ++i) {
    if (i == 0)
      outAlongShank(touchMove(clearance_.plan(), feature_, touches[i], tool_.ball_radius).approach);
    addTouch(touches[i], static_cast<int>(i), result);
  }
  outAlongShank(result.back().ball);
  return result;
}

} // namespace alder
