#include "rehearse/rehearsal.h"

#include <algorithm>
#include <atomic>
#include <map>
#include <memory>
#include <tbb/parallel_for.h>

namespace alder {
namespace {

constexpr double kWatched = 50; // clearances above this are not told apart

class Rehearser {
 public:
  Rehearser(const Plan& plan, const Obstacles& obstacles, const Way& way)
      : plan_(plan)
      , way_(way) {
    clearances_.emplace_back(plan, obstacles);
    for (std::size_t k = 1; k < way.states.size(); ++k) {
      own_obstacles_.push_back(std::make_unique<Obstacles>(obstaclesOf(plan, way.states[k])));
      clearances_.emplace_back(plan, *own_obstacles_.back());
    }
    for (const Position& p : way.positions) {
      const auto key = keyOf(p);
      if (!tools_.count(key))
        tools_.emplace(key,
                       p.bare ? bareToolOf(plan.bench, p.access) : toolOf(plan.bench, p.access));
    }
  }

  Result<Rehearsal> run(const Progress& progress, MoveMemory* memory) {
    Rehearsal r;
    r.times = timesOf(plan_.bench, way_);
    if (!r.times.empty()) r.seconds = r.times.back();
    const std::size_t count = way_.positions.size();
    std::vector<std::optional<Encounter>> nearest(count), overrun(count);
    std::atomic<std::size_t> done{0};
    tbb::parallel_for(std::size_t{0}, count, [&](std::size_t i) {
      if (progress.cancelled()) return;
      if (const auto* known = memory ? memory->find(moveKey(i)) : nullptr) {
        nearest[i] = known->nearest, overrun[i] = known->overrun;
      } else {
        nearest[i] = nearestOnMove(i);
        overrun[i] = clearance(i).overrun(tool(i), way_.positions[i].ball);
      }
      if (const auto n = ++done; n % 64 == 0)
        progress.step(static_cast<double>(n) / static_cast<double>(count), "Rehearsing");
    });
    if (progress.cancelled()) return cancelledError();
    if (memory) {
      std::vector<std::pair<MoveMemory::Key, MoveMemory::Answer>> answers;
      answers.reserve(count);
      for (std::size_t i = 0; i < count; ++i)
        answers.push_back({moveKey(i), {nearest[i], overrun[i]}});
      memory->keep(std::move(answers));
    }
    r.least_clearance = kWatched;
    for (std::size_t i = 0; i < count; ++i) {
      if (i > 0) r.path += (way_.positions[i].ball - way_.positions[i - 1].ball).norm();
      for (const auto* e : {&nearest[i], &overrun[i]}) {
        if (!*e) continue;
        const int index = static_cast<int>(i);
        if ((*e)->clearance < r.least_clearance && e == &nearest[i])
          r.least_clearance = (*e)->clearance, r.least_at = index;
        if ((*e)->clearance < 0) r.clashes.push_back(clashAt(r, index, **e));
      }
    }
    return r;
  }

 private:
  using ToolKey = std::tuple<int, int, double, double, bool>;
  static ToolKey keyOf(const Position& p) {
    return {p.access.stylus, p.access.tip, p.access.a, p.access.b, p.bare};
  }
  const Tool& tool(std::size_t i) const { return tools_.at(keyOf(way_.positions[i])); }

  std::size_t stateOf(std::size_t i) const {
    return static_cast<std::size_t>(
        way_.steps[static_cast<std::size_t>(way_.positions[i].step)].state);
  }
  const Clearance& clearance(std::size_t i) const { return clearances_[stateOf(i)]; }

  // All that the answer for a move depends on. A turn also depends on the tool before it.
  MoveMemory::Key moveKey(std::size_t i) const {
    const Position& to = way_.positions[i];
    const Position& from = i == 0 ? to : way_.positions[i - 1];
    const bool turns = to.kind == MoveKind::Turn || to.kind == MoveKind::Swap;
    const double touched = allowance(i).faces    ? to.feature.value + 0.5 * to.contact
                           : allowance(i).sphere ? -2
                                                 : -1;
    const auto tip = [](const Position& p) {
      return 1000.0 * p.access.stylus + p.access.tip + (p.bare ? 0.5 : 0);
    };
    return {from.ball.x(),
            from.ball.y(),
            from.ball.z(),
            to.ball.x(),
            to.ball.y(),
            to.ball.z(),
            to.access.a,
            to.access.b,
            tip(to),
            touched,
            turns ? 1 + from.access.a + 100 * tip(from) : 0,
            turns ? from.access.b : 0,
            static_cast<double>(stateOf(i))};
  }

  TouchAllowance allowance(std::size_t i) const {
    const Position& p = way_.positions[i];
    if (p.kind == MoveKind::Qualify)
      return {nullptr, p.contact || (i > 0 && way_.positions[i - 1].contact)};
    if (p.touch < 0 || !p.feature.valid()) return {};
    // The move to the contact and the one away from it; the way to the approach must be free.
    const bool leaves = i > 0 && way_.positions[i - 1].contact;
    return p.contact || leaves ? TouchAllowance{&plan_.nominal(p.feature).faces, false}
                               : TouchAllowance{};
  }

  // A stylus is put away or taken there, nothing turns.
  bool atRack(std::size_t i) const {
    return way_.positions[i].bare || (i > 0 && way_.positions[i - 1].bare);
  }

  std::optional<Encounter> nearestOnMove(std::size_t i) const {
    const Position& to = way_.positions[i];
    const Vec3 from = i == 0 ? to.ball : way_.positions[i - 1].ball;
    if (to.kind == MoveKind::Turn || (to.kind == MoveKind::Swap && !atRack(i)))
      return nearestInTurn(i);
    if (to.kind == MoveKind::Swap) return clearance(i).nearest(tool(i), to.ball, to.ball, kWatched);
    auto met = clearance(i).nearest(tool(i), from, to.ball, kWatched, allowance(i));
    if (!to.contact || !allowance(i).faces) return met;
    const Touch& touch = plan_.feature(to.feature).touches[static_cast<std::size_t>(to.touch)];
    const Vec3 end =
        to.ball - plan_.feature(to.feature).recipe.search * turn(plan_.placement, touch.normal);
    const auto sought = clearance(i).nearestInSearch(tool(i), to.ball, end, 0);
    return sought && (!met || sought->clearance < met->clearance) ? sought : met;
  }

  // Everything that turns stays in a ball about the pivot, before and after.
  std::optional<Encounter> nearestInTurn(std::size_t i) const {
    auto worst = clearance(i).nearestInTurn(tool(i), way_.positions[i].ball, kWatched);
    if (i == 0) return worst;
    const Vec3 pivot = way_.positions[i].ball + tool(i).ball_to_pivot;
    const Tool& before = tool(i - 1);
    const auto other = clearance(i).nearestInTurn(before, pivot - before.ball_to_pivot, kWatched);
    return other && (!worst || other->clearance < worst->clearance) ? other : worst;
  }

  // The moment at which the move first comes too near, by halving: each half is checked exactly.
  double contactShare(int index) const {
    const auto i = static_cast<std::size_t>(index);
    const Position& to = way_.positions[i];
    if (index == 0 || to.kind == MoveKind::Turn || to.kind == MoveKind::Swap) return 0;
    const Vec3 from = way_.positions[i - 1].ball, d = to.ball - from;
    double low = 0, high = 1;
    for (int k = 0; k < 24; ++k) {
      const double middle = (low + high) / 2;
      const auto e = clearance(i).nearest(tool(i), from, from + middle * d, 0, allowance(i));
      (e ? high : low) = middle;
    }
    return high;
  }

  Clash clashAt(const Rehearsal& r, int index, const Encounter& e) const {
    const bool travel = e.still == "end of travel";
    const double start = index > 0 ? r.times[static_cast<std::size_t>(index) - 1] : 0;
    const double end = r.times[static_cast<std::size_t>(index)];
    const double share = travel ? 1 : contactShare(index); // 1 where it is met only in the search
    return {way_.positions[static_cast<std::size_t>(index)].step,
            index,
            start + share * (end - start),
            e.moving,
            e.still,
            -e.clearance};
  }

  std::vector<std::unique_ptr<Obstacles>> own_obstacles_; // of the states but the first
  std::vector<Clearance> clearances_;                     // by state of the fixture
  const Plan& plan_;
  const Way& way_;
  std::map<ToolKey, Tool> tools_;
};

} // namespace

const MoveMemory::Answer* MoveMemory::find(const Key& key) const {
  const auto found = answers_.find(key);
  return found == answers_.end() ? nullptr : &found->second;
}

void MoveMemory::keep(std::vector<std::pair<Key, Answer>> answers) {
  answers_.clear();
  answers_.reserve(answers.size());
  for (auto& [key, answer] : answers)
    answers_.emplace(key, std::move(answer));
}

std::size_t MoveMemory::Hash::operator()(const Key& key) const {
  std::size_t h = 0;
  for (const double v : key)
    h = h * 0x9e3779b97f4a7c15ull + std::hash<double>()(v) + (h >> 29);
  return h;
}

Result<Rehearsal> rehearse(const Plan& plan, const Obstacles& obstacles, const Way& way,
                           const Progress& progress, MoveMemory* memory) {
  return Rehearser(plan, obstacles, way).run(progress, memory);
}

} // namespace alder
