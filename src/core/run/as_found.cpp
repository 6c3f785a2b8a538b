#include "run/as_found.h"

#include "plan/access_along.h"
#include "route/router.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

bool routes(const Clearance& clearance, const Feature& feature, const Access& access, bool search) {
  std::string why;
  const Tool tool = toolOf(clearance.plan().bench, access);
  const FeatureRouter router(clearance, tool, feature, search);
  return std::all_of(feature.touches.begin(), feature.touches.end(),
                     [&](const Touch& t) {
                       return touchable(tool, turn(clearance.plan().placement, t.normal)) &&
                              router.reaches(t);
                     }) &&
         !router.route(feature.touches, why).empty();
}

// Head angles by how near the shank comes to the one wanted, within some steps of the head.
std::vector<Access> anglesNear(const Bench& bench, const Access& planned, const Vec3& shank) {
  constexpr int kSteps = 2;
  const Head& head = bench.head;
  const Access nearest = accessAlong(bench, planned.stylus, planned.tip, shank);
  const Tip& tip = bench.styli[static_cast<std::size_t>(planned.stylus)]
                       .tips[static_cast<std::size_t>(planned.tip)];
  std::vector<Access> angles{planned, nearest};
  for (const Access& from : {planned, nearest})
    for (int i = -kSteps; i <= kSteps; ++i)
      for (int j = -kSteps; j <= kSteps; ++j) {
        Access a = from;
        a.a = head.a.nearest(from.a + i * head.a.step);
        a.b = head.b.nearest(from.b + j * head.b.step);
        if (std::find(angles.begin(), angles.end(), a) == angles.end()) angles.push_back(a);
      }
  // With the shank straight down, B turns nothing: what lies near then has other angles B.
  for (double b = head.b.low; head.b.step > 0 && b <= head.b.high + 1e-9; b += head.b.step)
    for (int i = 1; i <= kSteps; ++i) {
      Access a = planned;
      a.a = head.a.nearest(i * head.a.step);
      a.b = head.b.nearest(b);
      if (std::find(angles.begin(), angles.end(), a) == angles.end()) angles.push_back(a);
    }
  std::stable_sort(angles.begin(), angles.end(), [&](const Access& x, const Access& y) {
    return shankDirection(tip, x.a, x.b).dot(shank) > shankDirection(tip, y.a, y.b).dot(shank);
  });
  constexpr std::size_t kTried = 16;
  if (angles.size() > kTried) angles.resize(kTried);
  return angles;
}

// Touches of a bore nearer to its mouth, where the stylus comes from: the ring that is nearest to
// it stays, the others lie deeper by a share of what they did.
std::vector<Touch> shallower(const Plan& plan, const Feature& feature, const Vec3& shank,
                             double share) {
  const Ideal& ideal = plan.nominal(feature.id).ideal;
  const Vec3 out =
      (turn(plan.placement.inverse(), shank).dot(ideal.direction) > 0 ? 1 : -1) * ideal.direction;
  double mouth = -1e300;
  for (const Touch& t : feature.touches)
    mouth = std::max(mouth, t.point.dot(out));
  std::vector<Touch> touches = feature.touches;
  for (Touch& t : touches)
    t.point += (1 - share) * (mouth - t.point.dot(out)) * out;
  return touches;
}

// Angles, and where these do not suffice depths, with which the feature can be touched.
void adapt(Plan& plan, const Clearance& clearance, Feature& feature,
           const std::vector<Access>& angles) {
  for (const bool search : {false, true})
    for (const Access& access : angles)
      if (routes(clearance, feature, access, search)) {
        feature.access = access;
        return;
      }
  const NominalFeature& nominal = plan.nominal(feature.id);
  if (nominal.ideal.type != SurfaceType::Cylinder || !nominal.ideal.hole) return;
  for (double share : {0.8, 0.6, 0.45})
    for (const Access& access : angles) {
      const Tip& tip = plan.tip(access);
      Feature moved = feature;
      moved.access = access;
      moved.touches = shallower(plan, feature, shankDirection(tip, access.a, access.b), share);
      const auto faults = faultsOf(*plan.part, nominal, moved.touches, tip.ball_diameter / 2);
      if (std::any_of(faults.begin(), faults.end(), [](const auto& f) { return !f.empty(); }) ||
          !routes(clearance, moved, access, false))
        continue;
      plan.notes.push_back(
          {0, fmt::format("{} is touched only {:.0f} % as deep as planned, as the part lies",
                          nominal.name, 100 * share)});
      feature = std::move(moved);
      return;
    }
}

} // namespace

Plan planAsFound(const Plan& plan, const Frame& frame) {
  Plan found = plan;
  const Frame motion = frame * plan.placement.inverse();
  found.placement = frame;
  for (FixtureBody& body : found.bench.fixture.bodies) {
    for (Mesh* mesh : {&body.mesh, &body.other})
      for (Vec3& v : mesh->vertices)
        v = motion * v;
    for (Seat& seat : body.seats) {
      seat.point = motion * seat.point;
      seat.direction = turn(motion, seat.direction);
    }
  }
  const Obstacles obstacles = obstaclesOf(found);
  const Clearance clearance(found, obstacles);
  for (Feature& feature : found.features) {
    if (!feature.covered()) continue;
    const Access planned = feature.access;
    if (routes(clearance, feature, planned, false)) continue;
    const Vec3 shank = turn(motion, shankDirection(found.tip(planned), planned.a, planned.b));
    const auto angles = anglesNear(found.bench, planned, shank);
    adapt(found, clearance, feature, angles);
  }
  return found;
}

} // namespace alder
