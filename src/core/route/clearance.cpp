#include "route/clearance.h"

#include "base/units.h"
#include "bench/solids.h"
#include <algorithm>

namespace alder {
namespace {

Sweep sweepOf(const Rod& rod, const Vec3& from, const Vec3& to) {
  return {{from + rod.a, from + rod.b}, to - from, rod.diameter / 2};
}

Sweep ballSweep(double radius, const Vec3& from, const Vec3& to) {
  return {{from, from}, to - from, radius};
}

double lowest(const Sweep& s) {
  return std::min(s.axis.a.z(), s.axis.b.z()) + std::min(0.0, s.move.z()) - s.radius;
}

MeshTree::Skip onlyAllowed(const TouchAllowance& a) {
  return
      [&a](int tag) { return !std::binary_search(a.faces->begin(), a.faces->end(), FaceId{tag}); };
}
MeshTree::Skip allButAllowed(const TouchAllowance& a) {
  return
      [&a](int tag) { return std::binary_search(a.faces->begin(), a.faces->end(), FaceId{tag}); };
}

const MeshTree::Skip kStemOnly = [](int tag) { return tag == 0; };

} // namespace

Obstacles obstaclesOf(const Plan& plan) {
  Obstacles o;
  Mesh part;
  part.append(plan.part->mesh, plan.placement);
  o.part = MeshTree(part);
  o.solids = part.box();
  Mesh fixture;
  for (std::size_t i = 0; i < plan.bench.fixture.bodies.size(); ++i) {
    Mesh body = plan.bench.fixture.bodies[i].mesh;
    std::fill(body.tags.begin(), body.tags.end(), static_cast<int>(i));
    fixture.append(body, Frame::Identity());
  }
  o.fixture = MeshTree(fixture);
  if (plan.bench.has_sphere) {
    const ReferenceSphere& s = plan.bench.sphere;
    Mesh bench;
    appendBall(bench, s.centre, s.diameter);
    const std::size_t ball = bench.triangles.size();
    const Vec3 down = (s.foot - s.centre).normalized();
    appendCylinder(bench, s.centre + 0.48 * s.diameter * down, s.foot, s.stem_diameter);
    bench.tags.assign(bench.triangles.size(), 0);
    std::fill(bench.tags.begin() + static_cast<std::ptrdiff_t>(ball), bench.tags.end(), 1);
    o.bench = MeshTree(bench);
  }
  if (!fixture.vertices.empty()) o.solids.extend(fixture.box());
  // A sphere that stands near is hopped over with the part.
  constexpr double kNear = 250;
  if (!o.bench.empty() && squaredDistance(o.solids, o.bench.box()) < kNear * kNear)
    o.solids.extend(o.bench.box());
  return o;
}

Tool toolOf(const Bench& bench, const Access& access) {
  const Tip& tip = bench.styli[static_cast<std::size_t>(access.stylus)]
                       .tips[static_cast<std::size_t>(access.tip)];
  const Mat3 turned = headTurn(access.a, access.b);
  Tool tool;
  tool.access = access;
  tool.ball_radius = tip.ball_diameter / 2;
  tool.shank = -(turned * tip.direction);
  tool.ball_to_pivot = -(turned * tip.pivot_to_ball);
  for (const Rod& rod : tip.rods) {
    tool.rods.push_back({turned * rod.a, turned * rod.b, rod.diameter, rod.part});
    for (const Vec3* end : {&rod.a, &rod.b})
      tool.turn_radius =
          std::max(tool.turn_radius, (tip.pivot_to_ball + *end).norm() + rod.diameter / 2);
  }
  tool.turn_radius = std::max(tool.turn_radius, tip.pivot_to_ball.norm() + tool.ball_radius);
  for (const Rod& rod : bench.head.rods)
    tool.rods.push_back(
        {tool.ball_to_pivot + rod.a, tool.ball_to_pivot + rod.b, rod.diameter, rod.part});
  tool.bounds = Box3(Vec3::Constant(-tool.ball_radius), Vec3::Constant(tool.ball_radius));
  for (const Rod& rod : tool.rods)
    for (const Vec3* end : {&rod.a, &rod.b}) {
      tool.bounds.extend(*end + Vec3::Constant(rod.diameter / 2));
      tool.bounds.extend(*end - Vec3::Constant(rod.diameter / 2));
    }
  return tool;
}

bool Clearance::clear(const Tool& tool, const Vec3& from, const Vec3& to, double margin,
                      const TouchAllowance& allowance, Hint* hint) const {
  const auto rodFree = [&](int index) {
    const Sweep s = sweepOf(tool.rods[static_cast<std::size_t>(index)], from, to);
    return lowest(s) >= obstacles_.table + margin &&
           obstacles_.part.clear(s, margin, {}, hint ? &hint->part : nullptr) &&
           obstacles_.fixture.clear(s, margin, {}, hint ? &hint->fixture : nullptr) &&
           obstacles_.bench.clear(s, margin);
  };
  const int rods = static_cast<int>(tool.rods.size());
  const int first = hint && hint->rod < rods ? hint->rod : -1;
  if (first >= 0 && !rodFree(first)) return false;
  // The thick rods first: where something is in the way, it is mostly in theirs.
  for (int rod = rods - 1; rod >= 0; --rod)
    if (rod != first && !rodFree(rod)) {
      if (hint) hint->rod = rod;
      return false;
    }
  const Sweep ball = ballSweep(tool.ball_radius, from, to);
  if (lowest(ball) < obstacles_.table + margin) return false;
  if (!obstacles_.fixture.clear(ball, margin)) return false;
  if (!obstacles_.bench.clear(ball, margin, allowance.sphere ? kStemOnly : MeshTree::Skip{}))
    return false;
  if (!allowance.faces) return obstacles_.part.clear(ball, margin);
  return obstacles_.part.clear(ball, margin, allButAllowed(allowance)) &&
         obstacles_.part.clear(ball, -kTouchSlack, onlyAllowed(allowance));
}

bool Clearance::rodClear(const Rod& rod, const Vec3& ball, double margin) const {
  const Sweep s = sweepOf(rod, ball, ball);
  return lowest(s) >= obstacles_.table + margin && obstacles_.part.clear(s, margin) &&
         obstacles_.fixture.clear(s, margin) && obstacles_.bench.clear(s, margin);
}

std::optional<Encounter> Clearance::nearest(const Tool& tool, const Vec3& from, const Vec3& to,
                                            double within, const TouchAllowance& allowance) const {
  std::optional<Encounter> best;
  const auto take = [&](double clearance, const std::string& moving, const std::string& still) {
    if (clearance < (best ? best->clearance : within)) best = Encounter{clearance, moving, still};
  };
  const auto reach = [&] { return best ? best->clearance : within; };
  MeshTree::Skip sphere_allowed = allowance.sphere ? kStemOnly : MeshTree::Skip{}; // for the ball
  const auto against = [&](const Sweep& s, const std::string& moving, const MeshTree::Skip& skip) {
    if (const auto n = obstacles_.part.nearest(s, reach(), skip)) take(n->distance, moving, "part");
    if (const auto n = obstacles_.fixture.nearest(s, reach()))
      take(n->distance, moving, plan_.bench.fixture.bodies[static_cast<std::size_t>(n->tag)].name);
    if (const auto n = obstacles_.bench.nearest(s, reach(), sphere_allowed))
      take(n->distance, moving, n->tag == 0 ? "reference sphere" : "stem of the sphere");
    sphere_allowed = {};
    take(lowest(s) - obstacles_.table, moving, "table");
  };
  const Sweep ball = ballSweep(tool.ball_radius, from, to);
  against(ball, "ball", allowance.faces ? allButAllowed(allowance) : MeshTree::Skip{});
  if (allowance.faces)
    if (const auto n = obstacles_.part.nearest(ball, -kTouchSlack, onlyAllowed(allowance)))
      take(n->distance, "ball", "part");
  for (const Rod& rod : tool.rods)
    against(sweepOf(rod, from, to), rod.part, {});
  return best;
}

std::optional<Encounter> Clearance::overrun(const Tool& tool, const Vec3& ball) const {
  const Vec3 pivot = ball + tool.ball_to_pivot;
  const Box3& v = plan_.bench.machine.volume;
  for (int k = 0; k < 3; ++k) {
    const double over = std::max(v.min()[k] - pivot[k], pivot[k] - v.max()[k]);
    if (over > 1e-9) return Encounter{-over, fmt::format("{} axis", "XYZ"[k]), "end of travel"};
  }
  return {};
}

bool Clearance::roomToTurn(const Tool& tool, const Vec3& ball) const {
  // The ball of all turns about the pivot; head and ram do not turn.
  const Vec3 pivot = ball + tool.ball_to_pivot;
  const Sweep all{{pivot, pivot}, Vec3::Zero(), tool.turn_radius};
  return lowest(all) > obstacles_.table + 1 && obstacles_.part.clear(all, 1) &&
         obstacles_.fixture.clear(all, 1) && obstacles_.bench.clear(all, 1);
}

} // namespace alder
