#include "route/clearance.h"

#include "base/units.h"
#include "bench/solids.h"
#include "geometry/outline.h"
#include <algorithm>
#include <limits>

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

const MeshTree::Skip kAllButSphere = [](int tag) { return tag == 0; };

// A carried box is checked as the box round its move, halved until that is free or so small.
constexpr double kCarriedStep = 0.5;
constexpr double kDeepest = 20; // clashes of carried boxes are not told apart beyond this

Vec3 carriedTo(const Tool::Carried& body, const Vec3& pivot) {
  return {body.by[0] ? pivot.x() : 0, body.by[1] ? pivot.y() : 0, body.by[2] ? pivot.z() : 0};
}

// `meets(box)` names what a box meets, if anything.
template <class Meets>
std::optional<std::string> metOnMove(const Box3& box, const Vec3& from, const Vec3& to,
                                     const Meets& meets) {
  Box3 all = box.translated(from);
  all.extend(box.translated(to));
  auto met = meets(all);
  if (!met || (to - from).norm() < kCarriedStep) return met;
  const Vec3 middle = (from + to) / 2;
  if (auto sooner = metOnMove(box, from, middle, meets)) return sooner;
  return metOnMove(box, middle, to, meets);
}

bool matches(const std::string& rule, const std::string& name) {
  return rule.empty() || rule == name;
}

} // namespace

namespace {

// Nobody lays a part on its rests to the millimetre: beside them so much stays free, of small parts
// a share of their size.
double besideSupports(const Box3& part) {
  constexpr double kMost = 3, kShare = 0.03;
  return std::min(kMost, kShare * part.diagonal().norm());
}

Mesh withRoom(const FixtureBody& body, double room) {
  Mesh mesh = body.mesh;
  if (!body.support) return mesh;
  const Vec3 middle = mesh.box().center(), half = mesh.box().sizes() / 2;
  for (Vec3& v : mesh.vertices)
    for (int k = 0; k < 2; ++k)
      v[k] = middle[k] + (v[k] - middle[k]) * (half[k] + room) / half[k];
  return mesh;
}

} // namespace

Obstacles obstaclesOf(const Plan& plan) {
  return obstaclesOf(plan, plan.bench.fixture);
}

Obstacles obstaclesOf(const Plan& plan, const Fixture& standing) {
  Obstacles o;
  Mesh part;
  part.append(plan.part->mesh, plan.placement);
  o.part = MeshTree(part);
  o.solids = part.box();
  Mesh fixture;
  for (std::size_t i = 0; i < standing.bodies.size(); ++i) {
    Mesh body = withRoom(standing.bodies[i], besideSupports(part.box()));
    std::fill(body.tags.begin(), body.tags.end(), static_cast<int>(i));
    fixture.append(body, Frame::Identity());
  }
  o.fixture = MeshTree(fixture);
  if (!fixture.vertices.empty()) o.solids.extend(fixture.box());
  Points seen = part.vertices;
  seen.insert(seen.end(), fixture.vertices.begin(), fixture.vertices.end());
  // What stands near is hopped over with the part.
  constexpr double kNear = 250;
  const Box3 round(o.solids);
  Mesh bench;
  const auto stand =
      std::count_if(plan.bench.machine.bodies.begin(), plan.bench.machine.bodies.end(),
                    [](const MachineBody& b) { return b.stands(); });
  for (BenchSolid solid : benchSolids(plan.bench)) {
    std::fill(solid.mesh.tags.begin(), solid.mesh.tags.end(),
              static_cast<int>(o.bench_names.size()));
    bench.append(solid.mesh, Frame::Identity());
    o.bench_names.push_back(solid.name);
    if (squaredDistance(round, solid.mesh.box()) >= kNear * kNear) continue;
    o.solids.extend(solid.mesh.box());
    seen.insert(seen.end(), solid.mesh.vertices.begin(), solid.mesh.vertices.end());
  }
  if (plan.shell.turned != 0 || plan.shell.with_part) o.outline = convexOutline(seen);
  o.bench = MeshTree(bench);
  o.machine_from = static_cast<int>(o.bench_names.size()) - static_cast<int>(stand);
  return o;
}

Box3 solidsAlong(const Obstacles& o, const Mat3& axes) {
  if (axes.isIdentity(1e-12)) return o.solids;
  Box3 box;
  const auto take = [&](const Vec3& p) { box.extend(axes.transpose() * p); };
  if (o.outline.empty())
    for (int k = 0; k < 8; ++k)
      take(o.solids.corner(static_cast<Box3::CornerType>(k)));
  for (const Vec3& p : o.outline)
    take({p.x(), p.y(), o.solids.min().z()}), take({p.x(), p.y(), o.solids.max().z()});
  return box;
}

Box3 boundsAlong(const Tool& tool, const Mat3& axes) {
  Box3 bounds;
  if (tool.ball_radius > 0)
    bounds = Box3(Vec3::Constant(-tool.ball_radius), Vec3::Constant(tool.ball_radius));
  for (const auto* rods : {&tool.rods, &tool.disc})
    for (const Rod& rod : *rods)
      for (const Vec3* end : {&rod.a, &rod.b}) {
        bounds.extend(axes.transpose() * *end + Vec3::Constant(rod.diameter / 2));
        bounds.extend(axes.transpose() * *end - Vec3::Constant(rod.diameter / 2));
      }
  return bounds;
}

namespace {

// From the middle of a ball or disc to the outermost of what stands for it.
double reachOf(const Tip& tip) {
  double most = tip.ball_diameter / 2;
  for (const Rod& rod : tip.discRods())
    most = std::max({most, rod.a.norm() + rod.diameter / 2, rod.b.norm() + rod.diameter / 2});
  return most;
}

Tool toolWith(const Bench& bench, const Access& access, bool stylus) {
  const Tip& tip = bench.styli[static_cast<std::size_t>(access.stylus)]
                       .tips[static_cast<std::size_t>(access.tip)];
  const Mat3 turned = headTurn(access.a, access.b);
  Tool tool;
  tool.access = access;
  tool.ball_radius = stylus ? tip.ball_diameter / 2 : 0;
  tool.shank = -(turned * tip.direction);
  if (stylus && tip.disc()) {
    tool.rim = tip.disc_thickness / tip.ball_diameter;
    for (const Rod& rod : tip.discRods())
      tool.disc.push_back({turned * rod.a, turned * rod.b, rod.diameter, rod.part});
  }
  tool.ball_to_pivot = -(turned * tip.pivot_to_ball);
  for (const Rod& rod : tip.rods) {
    if (!stylus && rod.part != "probe") continue;
    tool.rods.push_back({turned * rod.a, turned * rod.b, rod.diameter, rod.part});
    for (const Vec3* end : {&rod.a, &rod.b})
      tool.turn_radius =
          std::max(tool.turn_radius, (tip.pivot_to_ball + *end).norm() + rod.diameter / 2);
  }
  // The other tips of a star hang at the head too.
  const auto& tips = bench.styli[static_cast<std::size_t>(access.stylus)].tips;
  for (std::size_t i = 0; stylus && i < tips.size(); ++i) {
    if (static_cast<int>(i) == access.tip) continue;
    const Vec3 to_ball = tips[i].pivot_to_ball - tip.pivot_to_ball;
    for (const Rod& rod : tips[i].rods) {
      const Rod there{turned * (to_ball + rod.a), turned * (to_ball + rod.b), rod.diameter,
                      rod.part};
      const auto same = [&](const Rod& r) {
        return (r.a - there.a).norm() + (r.b - there.b).norm() < 1e-9 &&
               r.diameter == there.diameter;
      };
      if (std::none_of(tool.rods.begin(), tool.rods.end(), same)) tool.rods.push_back(there);
    }
    const Vec3 ball = turned * to_ball;
    for (const Rod& rod : tips[i].discRods())
      tool.rods.push_back({ball + turned * rod.a, ball + turned * rod.b, rod.diameter, rod.part});
    if (!tips[i].disc()) tool.rods.push_back({ball, ball, tips[i].ball_diameter, "ball"});
    tool.turn_radius = std::max(tool.turn_radius, tips[i].pivot_to_ball.norm() + reachOf(tips[i]));
  }
  if (stylus)
    tool.turn_radius = std::max(tool.turn_radius, tip.pivot_to_ball.norm() + reachOf(tip));
  for (const Rod& rod : bench.head.rods)
    tool.rods.push_back(
        {tool.ball_to_pivot + rod.a, tool.ball_to_pivot + rod.b, rod.diameter, rod.part});
  for (const MachineBody& body : bench.machine.bodies)
    for (const Box3& box : body.boxes)
      tool.carried.push_back({body.name, body.carried, box});
  tool.bounds = boundsAlong(tool, Mat3::Identity());
  return tool;
}

} // namespace

Tool toolOf(const Bench& bench, const Access& access) {
  return toolWith(bench, access, true);
}

Tool bareToolOf(const Bench& bench, const Access& access) {
  return toolWith(bench, access, false);
}

bool Clearance::clear(const Tool& tool, const Vec3& from, const Vec3& to, double margin,
                      const TouchAllowance& allowance, Hint* hint) const {
  if (!plan_->pairs.empty()) return !nearest(tool, from, to, margin, allowance);
  const auto rodFree = [&](int index) {
    const Sweep s = sweepOf(tool.rods[static_cast<std::size_t>(index)], from, to);
    return lowest(s) >= obstacles_->table + margin &&
           obstacles_->part.clear(s, margin, {}, hint ? &hint->part : nullptr) &&
           obstacles_->fixture.clear(s, margin, {}, hint ? &hint->fixture : nullptr) &&
           obstacles_->bench.clear(s, margin);
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
  for (const Tool::Carried& body : tool.carried)
    if (carriedMeets(body, from + tool.ball_to_pivot, to + tool.ball_to_pivot, margin))
      return false;
  if (tool.ball_radius <= 0) return true; // there is none
  const Sweep ball = ballSweep(tool.ball_radius, from, to);
  const MeshTree::Skip other_faces = allowance.faces ? allButAllowed(allowance) : MeshTree::Skip{},
                       not_sphere = allowance.sphere ? kAllButSphere : MeshTree::Skip{};
  if (!tool.disc.empty()) // it takes part as a slice, and as a ball only where it touches
    return std::all_of(tool.disc.begin(), tool.disc.end(),
                       [&](const Rod& rod) {
                         const Sweep s = sweepOf(rod, from, to);
                         return lowest(s) >= obstacles_->table + margin &&
                                obstacles_->fixture.clear(s, margin) &&
                                obstacles_->bench.clear(s, margin, not_sphere) &&
                                obstacles_->part.clear(s, margin, other_faces);
                       }) &&
           (!allowance.faces || obstacles_->part.clear(ball, -kTouchSlack, onlyAllowed(allowance)));
  if (lowest(ball) < obstacles_->table + margin) return false;
  if (!obstacles_->fixture.clear(ball, margin)) return false;
  if (!obstacles_->bench.clear(ball, margin, not_sphere)) return false;
  if (!allowance.faces) return obstacles_->part.clear(ball, margin);
  return obstacles_->part.clear(ball, margin, other_faces) &&
         obstacles_->part.clear(ball, -kTouchSlack, onlyAllowed(allowance));
}

bool Clearance::rodClear(const Rod& rod, const Vec3& ball, double margin) const {
  const Sweep s = sweepOf(rod, ball, ball);
  return lowest(s) >= obstacles_->table + margin && obstacles_->part.clear(s, margin) &&
         obstacles_->fixture.clear(s, margin) && obstacles_->bench.clear(s, margin);
}

// Keeps the nearest encounter that is closer than `within`, with what the plan says of pairs.
struct Clearance::Search {
  const Clearance& clearance;
  double within;
  std::optional<Encounter> best;

  double reach() const { return best ? best->clearance : within; }
  void take(double distance, const std::string& moving, const std::string& still) {
    if (distance < reach()) best = Encounter{distance, moving, still};
  }
  bool off(const std::string& moving, const std::string& still) const {
    return std::any_of(pairs().begin(), pairs().end(), [&](const PairRule& p) {
      return p.off && matches(p.moving, moving) && matches(p.still, still);
    });
  }
  double marginOf(const std::string& moving, const std::string& still) const {
    double most = 0;
    for (const PairRule& p : pairs())
      if (!p.off && matches(p.moving, moving) && matches(p.still, still))
        most = std::max(most, p.margin);
    return most;
  }

  // All that bodies may be asked to keep apart from this one.
  std::vector<double> marginsOf(const std::string& moving) const {
    std::vector<double> margins{0};
    for (const PairRule& p : pairs())
      if (!p.off && p.margin > 0 && matches(p.moving, moving)) margins.push_back(p.margin);
    return margins;
  }

  // `nameOf(tag)` names the bodies of the tree.
  template <class NameOf>
  void tree(const MeshTree& tree, const Sweep& s, const std::string& moving, const NameOf& nameOf,
            const MeshTree::Skip& skip = {}) {
    if (pairs().empty()) {
      if (const auto n = tree.nearest(s, reach(), skip)) take(n->distance, moving, nameOf(n->tag));
      return;
    }
    for (const double margin : marginsOf(moving)) {
      const auto others = [&](int tag) {
        const std::string still = nameOf(tag);
        return (skip && skip(tag)) || off(moving, still) || marginOf(moving, still) != margin;
      };
      if (const auto n = tree.nearest(s, reach() + margin, others))
        take(n->distance - margin, moving, nameOf(n->tag));
    }
  }
  void table(double distance, const std::string& moving) {
    if (!off(moving, "table")) take(distance - marginOf(moving, "table"), moving, "table");
  }

  const std::vector<PairRule>& pairs() const { return clearance.plan_->pairs; }
};

std::function<std::string(int)> Clearance::bodyNames() const {
  return
      [this](int tag) { return plan_->bench.fixture.bodies[static_cast<std::size_t>(tag)].name; };
}

std::function<std::string(int)> Clearance::benchNames() const {
  return [this](int tag) { return obstacles_->bench_names[static_cast<std::size_t>(tag)]; };
}

std::optional<Encounter> Clearance::nearest(const Tool& tool, const Vec3& from, const Vec3& to,
                                            double within, const TouchAllowance& allowance) const {
  Search found{*this, within, {}};
  const auto part = [](int) { return std::string("part"); };
  const auto against = [&](const Sweep& s, const std::string& moving, const MeshTree::Skip& faces,
                           const MeshTree::Skip& solids) {
    found.tree(obstacles_->part, s, moving, part, faces);
    found.tree(obstacles_->fixture, s, moving, bodyNames());
    found.tree(obstacles_->bench, s, moving, benchNames(), solids);
    found.table(lowest(s) - obstacles_->table, moving);
  };
  if (tool.ball_radius > 0) {
    const Sweep ball = ballSweep(tool.ball_radius, from, to);
    const MeshTree::Skip other_faces =
                             allowance.faces ? allButAllowed(allowance) : MeshTree::Skip{},
                         not_sphere = allowance.sphere ? kAllButSphere : MeshTree::Skip{};
    if (tool.disc.empty()) against(ball, "ball", other_faces, not_sphere);
    for (const Rod& rod : tool.disc)
      against(sweepOf(rod, from, to), "disc", other_faces, not_sphere);
    if (allowance.faces)
      if (const auto n = obstacles_->part.nearest(ball, -kTouchSlack, onlyAllowed(allowance)))
        found.take(n->distance, tool.disc.empty() ? "ball" : "disc", "part");
  }
  for (const Rod& rod : tool.rods)
    against(sweepOf(rod, from, to), rod.part, {}, {});
  for (const Tool::Carried& body : tool.carried) {
    const auto meets = [&](double margin) {
      return carriedMeets(body, from + tool.ball_to_pivot, to + tool.ball_to_pivot, margin);
    };
    auto still = meets(found.reach());
    if (!still) continue;
    // How near: halved between what is free and what is not.
    double free = -kDeepest, not_free = found.reach();
    while (not_free - free > 0.01) {
      const double middle = (free + not_free) / 2;
      if (auto nearer = meets(middle))
        still = std::move(nearer), not_free = middle;
      else
        free = middle;
    }
    found.take(free, body.part, *still);
  }
  return found.best;
}

std::optional<Encounter> Clearance::nearestInSearch(const Tool& tool, const Vec3& from,
                                                    const Vec3& to, double within) const {
  Search found{*this, within, {}};
  for (const Rod& rod : tool.rods) {
    const Sweep s = sweepOf(rod, from, to);
    found.tree(obstacles_->fixture, s, rod.part, bodyNames());
    found.tree(obstacles_->bench, s, rod.part, benchNames());
    found.table(lowest(s) - obstacles_->table, rod.part);
  }
  return found.best;
}

std::optional<std::string> Clearance::carriedMeets(const Tool::Carried& body, const Vec3& from,
                                                   const Vec3& to, double margin) const {
  const Search rules{*this, margin, {}};
  const auto in = [&](const MeshTree& tree, const Box3& box, const auto& nameOf,
                      int below) -> std::optional<std::string> {
    const auto meets = [&](double more) -> std::optional<std::string> {
      const auto tag = tree.met(box, margin + more, [&](int t) {
        return t >= below ||
               (!plan_->pairs.empty() &&
                (rules.off(body.part, nameOf(t)) || rules.marginOf(body.part, nameOf(t)) != more));
      });
      return tag ? std::optional(nameOf(*tag)) : std::nullopt;
    };
    for (const double more : rules.marginsOf(body.part))
      if (auto met = meets(more)) return met;
    return {};
  };
  constexpr int kAll = std::numeric_limits<int>::max();
  return metOnMove(body.box, carriedTo(body, from), carriedTo(body, to),
                   [&](const Box3& box) -> std::optional<std::string> {
                     if (auto met = in(
                             obstacles_->part, box, [](int) { return std::string("part"); }, kAll))
                       return met;
                     if (auto met = in(obstacles_->fixture, box, bodyNames(), kAll)) return met;
                     // The other parts of the machine stand where they let it pass.
                     return in(obstacles_->bench, box, benchNames(), obstacles_->machine_from);
                   });
}

std::optional<Encounter> Clearance::overrun(const Tool& tool, const Vec3& ball, double room) const {
  const Vec3 pivot = ball + tool.ball_to_pivot;
  const Box3& v = plan_->bench.machine.volume;
  for (int k = 0; k < 3; ++k) {
    const double over = room + std::max(v.min()[k] - pivot[k], pivot[k] - v.max()[k]);
    if (over > 1e-9) return Encounter{-over, fmt::format("{} axis", "XYZ"[k]), "end of travel"};
  }
  return {};
}

bool Clearance::roomToTurn(const Tool& tool, const Vec3& ball) const {
  // The ball of all turns about the pivot; head and ram do not turn.
  const Vec3 pivot = ball + tool.ball_to_pivot;
  const Sweep all{{pivot, pivot}, Vec3::Zero(), tool.turn_radius};
  return lowest(all) > obstacles_->table + 1 && obstacles_->part.clear(all, 1) &&
         obstacles_->fixture.clear(all, 1) && obstacles_->bench.clear(all, 1);
}

std::optional<Encounter> Clearance::nearestInTurn(const Tool& tool, const Vec3& ball,
                                                  double within) const {
  const Vec3 pivot = ball + tool.ball_to_pivot;
  Tool all;
  all.rods = {{Vec3::Zero(), Vec3::Zero(), 2 * tool.turn_radius, "turning stylus"}};
  return nearest(all, pivot, pivot, within);
}

} // namespace alder
