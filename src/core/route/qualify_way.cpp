#include "route/qualify_way.h"

#include "base/units.h"
#include "route/rack_swap.h"
#include "route/router.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

constexpr std::size_t kLeast = 5; // touches for centre, diameter and a form that says something

class QualifyPlanner {
 public:
  QualifyPlanner(const Plan& plan, const Obstacles& obstacles, const QualifySettings& settings)
      : plan_(plan)
      , sphere_(plan.bench.sphere)
      , settings_(settings)
      , clearance_(plan, obstacles)
      , top_(std::max(obstacles.solids.max().z(), sphere_.centre.z() + sphere_.diameter / 2)) {}

  Result<Way> run(const std::vector<Access>& accesses) {
    double turning = 0;
    for (const Access& a : accesses)
      turning = std::max(turning, toolOf(plan_.bench, a).turn_radius);
    // The pivot up here may turn anything.
    pivot_ = Vec3(sphere_.centre.x(), sphere_.centre.y(), top_ + turning + 20);
    for (const Access& a : accesses)
      if (auto done = add(a); !done) return pass(done.error());
    return std::move(way_);
  }

 private:
  std::string nameOf(const Access& a) const { return alder::nameOf(plan_, a); }

  // Directions from the centre of the sphere at which it is touched: the pole faces the shank. A
  // disc touches in two rings near the ends of its rim.
  std::vector<Vec3> directions(const Tool& tool) const {
    const Frame frame = frameOf(Vec3::Zero(), tool.shank);
    std::vector<Vec3> all;
    const bool disc = tool.rim < 1;
    if (!disc) all.push_back(tool.shank);
    for (int ring = 1; ring <= (disc ? 2 : settings_.rings); ++ring)
      for (int k = 0; k < settings_.per_ring; ++k) {
        const double polar = disc ? kPi / 2 + (2 * ring - 3) * 0.8 * std::asin(tool.rim)
                                  : settings_.cap * ring / settings_.rings;
        const double turned = 2 * kPi * (k + 0.5 * (ring % 2)) / settings_.per_ring;
        all.push_back(frame * Vec3(std::sin(polar) * std::cos(turned),
                                   std::sin(polar) * std::sin(turned), std::cos(polar)));
      }
    return all;
  }

  Vec3 at(const Tool& tool, const Vec3& direction, double away) const {
    return sphere_.centre + (sphere_.diameter / 2 + tool.ball_radius + away) * direction;
  }

  bool reaches(const Tool& tool, const Vec3& direction) const {
    return clearance_.clear(tool, at(tool, direction, settings_.approach), at(tool, direction, 0),
                            Margins{}.near, {nullptr, true});
  }

  void step(StepKind kind, const std::string& text, const Access& access) {
    const int next = static_cast<int>(way_.positions.size());
    way_.steps.push_back({kind, text, {}, access, next, next - 1});
  }
  void go(MoveKind kind, const Vec3& ball, const Access& access, bool contact = false) {
    way_.positions.push_back(
        {kind, ball, access, static_cast<int>(way_.steps.size()) - 1, {}, -1, contact});
    way_.steps.back().last = static_cast<int>(way_.positions.size()) - 1;
  }

  Done add(const Access& access) {
    const Tool tool = toolOf(plan_.bench, access);
    const Vec3 high = pivot_ - tool.ball_to_pivot; // place of the ball with the pivot up there
    if (!clearance_.roomToTurn(tool, high) || clearance_.overrun(tool, high))
      return fail("{}: there is no room to turn the head above the reference sphere.",
                  nameOf(access));
    turnTo(access, high);
    std::vector<Vec3> reached;
    for (const Vec3& d : directions(tool))
      if (reaches(tool, d)) reached.push_back(d);
    const Vec3 pole = at(tool, tool.shank, settings_.approach);
    const Vec3 above = wayDown(tool, high, pole);
    if (reached.size() < kLeast || !clearDown(tool, high, above, pole))
      return fail("{}: only {} places of the reference sphere can be touched; {}.", nameOf(access),
                  reached.size(), inTheWay(tool, above, pole));
    step(StepKind::Qualify, "Qualify " + nameOf(access), access);
    go(MoveKind::Hop, above, access);
    go(MoveKind::Hop, pole, access);
    Vec3 from = tool.shank;
    for (const Vec3& d : reached) {
      around(tool, from, d, access);
      go(MoveKind::Qualify, at(tool, d, settings_.approach), access);
      go(MoveKind::Qualify, at(tool, d, 0), access, true);
      go(MoveKind::Qualify, at(tool, d, settings_.approach), access);
      from = d;
    }
    around(tool, from, tool.shank, access);
    go(MoveKind::Hop, pole, access);
    go(MoveKind::Hop, above, access);
    go(MoveKind::Hop, high, access);
    return {};
  }

  void turnTo(const Access& access, const Vec3& high) {
    if (way_.positions.empty()) {
      step(StepKind::Hop, "Above the reference sphere", access);
      go(MoveKind::Hop, high, access);
      return;
    }
    const bool swap = way_.positions.back().access.stylus != access.stylus;
    if (swap && changeAtRack(access, pivot_)) return;
    step(swap ? StepKind::Swap : StepKind::Turn, (swap ? "Swap to " : "Turn to ") + nameOf(access),
         access);
    go(swap ? MoveKind::Swap : MoveKind::Turn, high, access);
  }

  // Puts away what it holds, takes the other, and turns it up here. False without ports for both.
  bool changeAtRack(const Access& access, const Vec3& up) {
    const Access held = straightDown(way_.positions.back().access), taken = straightDown(access);
    const auto moves = swapAtRack(plan_.bench, held, taken, up, up.z());
    if (moves.empty()) return false;
    const auto ballAt = [&](const Vec3& pivot, const Access& a) {
      return Vec3(pivot - toolOf(plan_.bench, a).ball_to_pivot);
    };
    if (!(way_.positions.back().access == held)) {
      step(StepKind::Turn, "Turn to " + nameOf(held), held);
      go(MoveKind::Turn, ballAt(up, held), held);
    }
    for (const SwapMove& m : moves) {
      if (!m.text.empty()) step(m.step, m.text, m.step == StepKind::Swap ? taken : m.access);
      go(m.kind, ballAt(m.pivot, m.access), m.access);
      way_.positions.back().bare = m.bare;
    }
    go(MoveKind::Hop, ballAt(up, taken), taken);
    if (access == taken) return true;
    step(StepKind::Turn, "Turn to " + nameOf(access), access);
    go(MoveKind::Turn, ballAt(up, access), access);
    return true;
  }

  // Where the tip leaves its shank's line to go up: as far out as the height asks for.
  Vec3 wayDown(const Tool& tool, const Vec3& high, const Vec3& pole) const {
    const double rise = high.z() - pole.z();
    const double along = tool.shank.z() > 0.3 ? rise / tool.shank.z() : 60;
    return pole + std::min(along, 400.0) * tool.shank;
  }

  bool clearDown(const Tool& tool, const Vec3& high, const Vec3& above, const Vec3& pole) const {
    return clearance_.clear(tool, high, above, Margins{}.hop) &&
           clearance_.clear(tool, above, pole, Margins{}.hop);
  }

  std::string inTheWay(const Tool& tool, const Vec3& above, const Vec3& pole) const {
    for (const Vec3& d : directions(tool))
      if (const auto hit = clearance_.nearest(tool, at(tool, d, settings_.approach), at(tool, d, 0),
                                              Margins{}.near, {nullptr, true}))
        return "the " + hit->moving + " meets the " + hit->still;
    if (const auto hit = clearance_.nearest(tool, above, pole, Margins{}.hop))
      return "on the way there the " + hit->moving + " meets the " + hit->still;
    return "the head has no way down to it";
  }

  // Round the sphere at the distance of the approach, in arcs of at most 40 degrees whose chords
  // stay clear of it.
  void around(const Tool& tool, const Vec3& from, const Vec3& to, const Access& access) {
    const double angle = std::acos(std::clamp(from.dot(to), -1.0, 1.0));
    const Vec3 axis = from.cross(to);
    const int parts = static_cast<int>(std::ceil(angle / radians(40)));
    for (int k = 1; k < parts && axis.norm() > 1e-9; ++k)
      go(MoveKind::Hop,
         at(tool, Eigen::AngleAxisd(angle * k / parts, axis.normalized()) * from,
            settings_.approach),
         access);
  }

  const Plan& plan_;
  const ReferenceSphere& sphere_;
  QualifySettings settings_;
  Clearance clearance_;
  double top_;
  Vec3 pivot_ = Vec3::Zero();
  Way way_;
};

} // namespace

Result<Way> qualifyWay(const Plan& plan, const Obstacles& obstacles,
                       const std::vector<Access>& accesses, const QualifySettings& settings) {
  if (!plan.bench.has_sphere)
    return fail("The bench {} has no reference sphere; add one to the bench file.",
                plan.bench.name);
  if (accesses.empty()) return fail("The routine touches with no tip yet.");
  return QualifyPlanner(plan, obstacles, settings).run(accesses);
}

} // namespace alder
