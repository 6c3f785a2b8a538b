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

  QualifyWay run(const std::vector<Access>& accesses) {
    double turning = 0;
    for (const Access& a : accesses)
      turning = std::max(turning, toolOf(plan_.bench, a).turn_radius);
    pivot_ = placeToTurn(turning);
    QualifyWay result;
    for (const Access& a : accesses)
      if (const auto done = add(a); !done) result.left.push_back({a, done.error().message});
    result.way = std::move(way_);
    return result;
  }

 private:
  std::string nameOf(const Access& a) const { return alder::nameOf(plan_, a); }

  // Where the pivot may turn anything: above all that stands on the bench where travel and room
  // allow it, else lower above the sphere.
  Vec3 placeToTurn(double turning) const {
    const double lowest = sphere_.centre.z() + sphere_.diameter / 2 + turning + 20;
    Vec3 pivot(sphere_.centre.x(), sphere_.centre.y(), top_ + turning + 20);
    const double highest = plan_.bench.machine.volume.max().z();
    constexpr double kStep = 20;
    Tool all;
    all.turn_radius = turning;
    for (double z = std::min(pivot.z(), highest); z > lowest - kStep; z -= kStep) {
      const Vec3 place(pivot.x(), pivot.y(), std::max(z, lowest));
      if (clearance_.roomToTurn(all, place) && !clearance_.overrun(all, place)) return place;
    }
    return pivot;
  }

  // Directions from the centre of the sphere at which it is touched: the pole faces the shank. A
  // disc touches in two rings near the ends of its rim.
  std::vector<Vec3> directions(const Tool& tool, int per_ring) const {
    const Frame frame = frameOf(Vec3::Zero(), tool.shank);
    std::vector<Vec3> all;
    const bool disc = tool.rim < 1;
    if (!disc) all.push_back(tool.shank);
    for (int ring = 1; ring <= (disc ? 2 : settings_.rings); ++ring)
      for (int k = 0; k < per_ring; ++k) {
        const double polar = disc ? kPi / 2 + (2 * ring - 3) * 0.8 * std::asin(tool.rim)
                                  : settings_.cap * ring / settings_.rings;
        const double turned = 2 * kPi * (k + 0.5 * (ring % 2)) / per_ring;
        all.push_back(frame * Vec3(std::sin(polar) * std::cos(turned),
                                   std::sin(polar) * std::sin(turned), std::cos(polar)));
      }
    return all;
  }

  Vec3 at(const Tool& tool, const Vec3& direction, double away) const {
    return sphere_.centre + (sphere_.diameter / 2 + tool.ball_radius + away) * direction;
  }

  bool reaches(const Tool& tool, const Vec3& direction) const {
    return !clearance_.overrun(tool, at(tool, direction, settings_.approach)) &&
           clearance_.clear(tool, at(tool, direction, settings_.approach), at(tool, direction, 0),
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
    if (const auto over = clearance_.overrun(tool, high))
      return fail("above the reference sphere {}", beyond(*over));
    if (!clearance_.roomToTurn(tool, high)) {
      const auto hit = clearance_.nearestInTurn(tool, high, 1);
      return fail("there is no room to turn the head above the reference sphere{}",
                  hit ? fmt::format("; the {} is {} mm in the way", hit->still,
                                    figure(1 - hit->clearance, 1))
                      : "");
    }
    std::vector<Vec3> reached;
    for (int per_ring = settings_.per_ring; per_ring <= 2 * settings_.per_ring && reached.size() < kLeast;
         per_ring *= 2) { // closer together where stem or neighbours leave few
      reached.clear();
      for (const Vec3& d : directions(tool, per_ring))
        if (reaches(tool, d)) reached.push_back(d);
    }
    const Vec3 pole = at(tool, tool.shank, settings_.approach);
    const auto down = wayDown(tool, high, pole);
    if (reached.size() < kLeast)
      return fail("{} of the places on the reference sphere can be touched, {} are needed; {}",
                  reached.size(), kLeast, inTheWay(tool));
    if (!down) return fail("{}", onTheWay(tool, high, pole));
    turnTo(access, high);
    step(StepKind::Qualify, "Qualify " + nameOf(access), access);
    for (const Vec3& p : *down)
      go(MoveKind::Hop, p, access);
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
    for (auto p = down->rbegin(); p != down->rend(); ++p)
      go(MoveKind::Hop, *p, access);
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

  // From up there to the pole, the ends not included: along the line of the shaft as far out as the
  // height asks for or the travel allows, straight to there or above it first.
  std::optional<std::vector<Vec3>> wayDown(const Tool& tool, const Vec3& high,
                                           const Vec3& pole) const {
    for (const Vec3& above : linesEnds(tool, high, pole)) {
      if (clearance_.overrun(tool, above) ||
          !clearance_.clear(tool, above, pole, Margins{}.hop))
        continue;
      if (clearance_.clear(tool, high, above, Margins{}.hop)) return std::vector<Vec3>{above};
      const Vec3 over(above.x(), above.y(), high.z());
      if (!clearance_.overrun(tool, over) && clearance_.clear(tool, high, over, Margins{}.hop) &&
          clearance_.clear(tool, over, above, Margins{}.hop))
        return std::vector<Vec3>{over, above};
    }
    return {};
  }

  // Where the tip may leave the line of its shaft, the farthest first.
  static std::vector<Vec3> linesEnds(const Tool& tool, const Vec3& high, const Vec3& pole) {
    const double rise = high.z() - pole.z();
    const double along = tool.shank.z() > 0.3 ? std::min(rise / tool.shank.z(), 400.0) : 60;
    std::vector<Vec3> ends;
    for (const double out : {along, 0.6 * along, 0.35 * along, 60.0, 30.0, 15.0, 8.0})
      if (out <= along) ends.push_back(pole + out * tool.shank);
    return ends;
  }

  static std::string beyond(const Encounter& over) {
    return fmt::format("the {} would have to go {} mm beyond its travel", over.moving,
                       figure(-over.clearance, 1));
  }

  std::string inTheWay(const Tool& tool) const {
    for (const Vec3& d : directions(tool, settings_.per_ring)) {
      if (const auto over = clearance_.overrun(tool, at(tool, d, settings_.approach)))
        return beyond(*over);
      if (const auto hit = clearance_.nearest(tool, at(tool, d, settings_.approach), at(tool, d, 0),
                                              Margins{}.near, {nullptr, true}))
        return met(*hit, Margins{}.near);
    }
    return "the shaft stands in its own way";
  }

  static std::string met(const Encounter& hit, double margin) {
    return fmt::format("the {} meets the {}, {} mm too near", hit.moving, hit.still,
                       figure(margin - hit.clearance, 1));
  }

  std::string onTheWay(const Tool& tool, const Vec3& high, const Vec3& pole) const {
    const Vec3 above = linesEnds(tool, high, pole).front();
    if (const auto over = clearance_.overrun(tool, above))
      return "on the way to the reference sphere " + beyond(*over);
    for (const auto& [from, to] : {std::pair(above, pole), std::pair(high, above)})
      if (const auto hit = clearance_.nearest(tool, from, to, Margins{}.hop))
        return "on the way to the reference sphere " + met(*hit, Margins{}.hop);
    return "no way down to the reference sphere was found";
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

Result<QualifyWay> qualifyEach(const Plan& plan, const Obstacles& obstacles,
                               const std::vector<Access>& accesses,
                               const QualifySettings& settings) {
  if (!plan.bench.has_sphere)
    return fail("The bench {} has no reference sphere; add one to the bench file.",
                plan.bench.name);
  if (accesses.empty()) return fail("The routine touches with no tip yet.");
  return QualifyPlanner(plan, obstacles, settings).run(accesses);
}

Result<Way> qualifyWay(const Plan& plan, const Obstacles& obstacles,
                       const std::vector<Access>& accesses, const QualifySettings& settings) {
  auto each = qualifyEach(plan, obstacles, accesses, settings);
  if (!each) return pass(each.error());
  if (!each->left.empty())
    return fail("{} cannot be qualified: {}.", nameOf(plan, each->left.front().access),
                each->left.front().why);
  return std::move(each->way);
}

bool canQualify(const Plan& plan, const Obstacles& obstacles, const Access& access) {
  return !plan.bench.has_sphere ||
         QualifyPlanner(plan, obstacles, {}).run({access}).left.empty();
}

} // namespace alder
