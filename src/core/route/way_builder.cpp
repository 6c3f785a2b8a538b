#include "route/way_builder.h"

#include "base/units.h"
#include "route/clear_travel.h"
#include "route/feature_router.h"
#include "route/rack_swap.h"
#include "route/time_model.h"
#include <algorithm>

namespace alder {

WayBuilder::WayBuilder(const Plan& plan, const Obstacles& obstacles)
    : plan_(plan)
    , obstacles_(&obstacles)
    , clearance_(plan, obstacles) {
  way_.states = {plan.bench.fixture};
  for (FeatureId id : measuringOrder(plan.steps, false))
    if (!first_.valid() && plan.feature(id).covered()) first_ = plan.feature(id).access;
}

Vec3 WayBuilder::reached() {
  if (way_.positions.empty()) startAbove(obstacles_->solids.center());
  leave();
  return way_.positions.back().ball;
}

void WayBuilder::startAbove(const Vec3& place) {
  Access access = first_.valid() ? first_ : Access{0, 0, 0, 0};
  changeTo(access, place);
}

void WayBuilder::leave() {
  if (!way_out_) return;
  beginStep(StepKind::Hop, "Out again", {});
  addHop(*way_out_, {});
  way_out_.reset();
}

const Tool& WayBuilder::tool(const Access& access) {
  const auto key = std::tuple(access.stylus, access.tip, access.a, access.b);
  auto found = tools_.find(key);
  if (found == tools_.end()) found = tools_.emplace(key, toolOf(plan_.bench, access)).first;
  return found->second;
}

int WayBuilder::beginStep(StepKind kind, std::string text, FeatureId feature) {
  // What comes before the machine does anything is done with what it will begin with.
  const Access access = access_.valid() ? access_ : first_.valid() ? first_ : Access{0, 0, 0, 0};
  way_.steps.push_back({kind, std::move(text), feature, access,
                        static_cast<int>(way_.positions.size()),
                        static_cast<int>(way_.positions.size()) - 1});
  way_.steps.back().origin = origin_;
  way_.steps.back().does = does_;
  way_.steps.back().depth = depth_;
  way_.steps.back().state = static_cast<int>(way_.states.size()) - 1;
  return static_cast<int>(way_.steps.size()) - 1;
}

void WayBuilder::add(Position p) {
  p.step = static_cast<int>(way_.steps.size()) - 1;
  // Standing still is no move.
  if (p.kind == MoveKind::Hop && p.dwell == 0 && !way_.positions.empty() &&
      (way_.positions.back().ball - p.ball).norm() < 1e-9)
    return;
  way_.positions.push_back(p);
  way_.steps.back().last = static_cast<int>(way_.positions.size()) - 1;
}

std::vector<Position> WayBuilder::routed(const Feature& feature, const std::vector<Touch>& touches,
                                         const std::vector<int>& numbers) {
  const FeatureRouter router(clearance_, tool(feature.access), feature);
  std::string why;
  auto positions = router.route(touches, why);
  if (positions.empty()) { // the simple ways are not free
    std::string still;
    positions =
        FeatureRouter(clearance_, tool(feature.access), feature, true).route(touches, still);
  }
  if (positions.empty()) {
    way_.notes.push_back({0, plan_.nominal(feature.id).name + ": " + why +
                                 "; the way shown is not proved, choose other angles or touches"});
    positions = router.unproven(touches);
  }
  for (Position& p : positions)
    if (p.touch >= 0) p.touch = numbers[static_cast<std::size_t>(p.touch)];
  return positions;
}

void WayBuilder::addFeature(const Feature& feature, const std::vector<int>& numbers, bool by_hand) {
  const FeatureId id = feature.id;
  if (!way_.positions.empty()) leave();
  std::vector<Touch> touches;
  for (int n : numbers)
    touches.push_back(feature.touches[static_cast<std::size_t>(n)]);
  auto positions = routed(feature, touches, numbers);
  const bool stays = stays_ && !by_hand && !way_.positions.empty() && access_ == feature.access;
  stays_ = true;
  if (!by_hand) measured_.insert(id);
  if (stays && feature.entry == HopMode::Close) {
    stayInside(positions);
    const FeatureId before = way_.positions.back().feature;
    beginHop("Direct hop to ", id, HopMode::Close);
    if (before.valid()) addHop(besideFeature(before, way_.positions.back().ball), id);
    addHop(besideFeature(id, positions.front().ball), id);
  } else if (stays && feature.entry == HopMode::Led && !feature.waypoints.empty()) {
    stayInside(positions);
    beginHop("Led hop to ", id, HopMode::Led);
    for (const Vec3& p : feature.waypoints)
      addHop(plan_.placement * p, id);
  } else if (const auto near = stays && feature.entry == HopMode::Proposed
                                   ? closeWay(feature, positions)
                                   : std::nullopt) {
    stayInside(positions);
    beginHop("Direct hop to ", id, HopMode::Close);
    for (const Vec3& p : *near)
      addHop(p, id);
  } else {
    changeTo(feature.access, positions.front().ball);
    beginStep(StepKind::Hop, "Hop to " + plan_.nominal(id).name, id);
    hopOver(positions.front().ball, id);
  }
  const auto first_touch = std::find_if(positions.begin(), positions.end(), [](const Position& p) {
    return p.kind == MoveKind::Approach;
  });
  for (auto p = positions.begin(); p != first_touch; ++p)
    add(*p);
  beginStep(by_hand ? StepKind::Manual : StepKind::Measure,
            (by_hand ? "By hand: " : "") + plan_.nominal(id).name, id);
  for (auto p = first_touch; p != positions.end(); ++p) {
    if (by_hand && p->kind != MoveKind::Hop) p->kind = MoveKind::Manual;
    add(*p);
  }
}

void WayBuilder::beginHop(const std::string& text, FeatureId id, HopMode mode) {
  beginStep(StepKind::Hop, text + plan_.nominal(id).name, id);
  way_.steps.back().hop = mode;
}

void WayBuilder::addHop(const Vec3& ball, FeatureId id) {
  add({MoveKind::Hop, ball, access_, 0, id, -1, false});
}

void WayBuilder::stayInside(std::vector<Position>& positions) {
  // Steps that hold no positions may stand behind the last that does: a frame is used there.
  const auto firstOfLast = [&] {
    return way_.steps[static_cast<std::size_t>(way_.positions.back().step)].first;
  };
  while (!way_.positions.empty() && way_.positions.back().kind == MoveKind::Hop &&
         firstOfLast() < static_cast<int>(way_.positions.size()) - 1)
    dropLast();
  while (positions.front().kind == MoveKind::Hop)
    positions.erase(positions.begin());
}

double WayBuilder::seconds(const std::vector<Vec3>& places) const {
  double sum = 0;
  for (std::size_t i = 1; i < places.size(); ++i)
    sum += moveSeconds(plan_.bench.machine, places[i - 1], places[i]);
  return sum;
}

std::optional<std::vector<Vec3>> WayBuilder::closeWay(const Feature& feature,
                                                      const std::vector<Position>& positions) {
  auto last = static_cast<std::ptrdiff_t>(way_.positions.size()) - 1;
  std::vector<Vec3> over;
  while (last > 0 && way_.positions[static_cast<std::size_t>(last)].kind == MoveKind::Hop)
    over.push_back(way_.positions[static_cast<std::size_t>(last--)].ball);
  const Position& from = way_.positions[static_cast<std::size_t>(last)];
  if (from.kind != MoveKind::Retract || from.touch < 0) return {};
  over.push_back(from.ball);
  std::reverse(over.begin(), over.end());
  const ShellTravel travel(plan_, *obstacles_, tool(access_));
  for (const Vec3& p :
       travelPastBench(clearance_, tool(access_), travel, over.back(), positions.front().ball))
    over.push_back(p);
  const auto first = std::find_if(positions.begin(), positions.end(),
                                  [](const Position& p) { return p.kind == MoveKind::Approach; });
  for (auto p = positions.begin(); p <= first; ++p)
    over.push_back(p->ball);
  const auto normalOf = [&](const Position& p) {
    return turn(plan_.placement,
                plan_.feature(p.feature).touches[static_cast<std::size_t>(p.touch)].normal);
  };
  const FeatureRouter router(clearance_, tool(access_), feature);
  auto near = router.close(from.ball, normalOf(from), first->ball, normalOf(*first));
  if (!near) return {};
  std::vector<Vec3> straight{from.ball};
  straight.insert(straight.end(), near->begin(), near->end());
  straight.push_back(first->ball);
  if (seconds(straight) >= seconds(over)) return {};
  return near;
}

Vec3 WayBuilder::besideFeature(FeatureId id, const Vec3& ball) {
  const Tool& t = tool(access_);
  double lift = 0;
  for (FaceId face : plan_.nominal(id).faces) {
    const Box3 box = transformed(plan_.part->face(face).box, plan_.placement);
    for (int k = 0; k < 8; ++k)
      lift = std::max(lift, (box.corner(static_cast<Box3::CornerType>(k)) - ball).dot(t.shank));
  }
  return ball + (lift + t.ball_radius + 1) * t.shank;
}

void WayBuilder::dropLast() {
  const auto step = static_cast<std::size_t>(way_.positions.back().step);
  way_.positions.pop_back();
  --way_.steps[step].last;
  for (std::size_t s = step + 1; s < way_.steps.size(); ++s)
    --way_.steps[s].first, --way_.steps[s].last;
}

void WayBuilder::hopOver(const Vec3& to, FeatureId feature) {
  if (way_.positions.empty()) return;
  const ShellTravel travel(plan_, *obstacles_, tool(access_));
  for (const Vec3& p :
       travelPastBench(clearance_, tool(access_), travel, way_.positions.back().ball, to))
    add({MoveKind::Hop, p, access_, 0, feature, -1, false});
  add({MoveKind::Hop, to, access_, 0, feature, -1, false});
}

double WayBuilder::turningHeight(const Tool& before, const Tool& after) const {
  return shellBox(plan_, *obstacles_).max().z() + std::max(before.turn_radius, after.turn_radius) +
         2;
}

Vec3 WayBuilder::lifted(const Vec3& place, const Tool& before, const Tool& after) const {
  const double most = plan_.bench.machine.volume.max().z() - kRoomAtEnds;
  const double pivot = std::min(turningHeight(before, after), most);
  return {place.x(), place.y(), std::max(place.z(), pivot - before.ball_to_pivot.z())};
}

Vec3 WayBuilder::placeToTurn(const Tool& before, const Tool& after) {
  const Vec3 here = way_.positions.back().ball;
  const Vec3 high = lifted(here, before, after);
  const ShellTravel travel_before(plan_, *obstacles_, before),
      travel_after(plan_, *obstacles_, after);
  const auto room = [&](const Vec3& place) {
    const Vec3 ball_after = place + before.ball_to_pivot - after.ball_to_pivot;
    return travel_after.outside(ball_after) && clearance_.roomToTurn(before, place) &&
           clearance_.roomToTurn(after, ball_after) && !clearance_.overrun(before, place) &&
           !clearance_.overrun(after, ball_after);
  };
  constexpr int kSteps = 6;
  for (int k = 0; k < kSteps; ++k) {
    const Vec3 place = here + k * (high - here) / kSteps;
    if (travel_before.outside(here, place) && room(place)) return place;
  }
  if (room(high)) return high;
  // Beside, the nearest that a raster over the travel finds.
  constexpr int kCells = 12;
  const Box3& travel = plan_.bench.machine.volume;
  std::optional<Vec3> best;
  for (int i = 0; i <= kCells; ++i)
    for (int j = 0; j <= kCells; ++j)
      for (int k = 0; k <= kCells; ++k) {
        const Vec3 share = Vec3(i, j, k) / kCells;
        const Vec3 place = travel.min() + share.cwiseProduct(travel.sizes()) - before.ball_to_pivot;
        if (best && (*best - here).norm() <= (place - here).norm()) continue;
        if (travel_before.outside(place) && room(place)) best = place;
      }
  return best.value_or(high);
}

void WayBuilder::changeTo(const Access& access, const Vec3& next) {
  if (access_ == access) return;
  const Tool& after = tool(access);
  if (!access_.valid()) { // the routine starts above the first feature
    access_ = access;
    beginStep(StepKind::Hop, "Start", {});
    add({MoveKind::Hop, lifted(next, after, after), access_, 0, {}, -1, false});
    return;
  }
  const Tool& before = tool(access_);
  const bool swap = access.stylus != access_.stylus;
  if (swap && changeAtRack(access)) {
    if (access_ != access) changeTo(access, next); // turn
    return;
  }
  beginStep(StepKind::Hop, swap ? "Clear to swap the stylus" : "Clear to turn the head", {});
  const Vec3 place = placeToTurn(before, after);
  hopOver(place, {});
  const Vec3 pivot = place + before.ball_to_pivot;
  if (!clearance_.roomToTurn(before, place) ||
      !clearance_.roomToTurn(after, pivot - after.ball_to_pivot))
    way_.notes.push_back({0, "there is no room to turn the head above the shell; lower the part"});
  const auto& stylus = plan_.bench.styli[static_cast<std::size_t>(access.stylus)];
  access_ = access;
  beginStep(
      swap ? StepKind::Swap : StepKind::Turn,
      swap ? "Swap to " + stylus.name
           : fmt::format("Turn to A{:g} B{:g}", shownDegrees(access.a), shownDegrees(access.b)),
      {});
  add({swap ? MoveKind::Swap : MoveKind::Turn,
       pivot - after.ball_to_pivot,
       access_,
       0,
       {},
       -1,
       false});
}

bool WayBuilder::changeAtRack(const Access& access) {
  const Tool before = toolOf(plan_.bench, straightDown(access_)),
             after = toolOf(plan_.bench, straightDown(access));
  const double height = turningHeight(before, after);
  if (swapAtRack(plan_.bench, access_, access, Vec3::Zero(), height).empty()) return false;
  changeTo(straightDown(access_), Vec3::Zero());
  const Vec3 pivot = way_.positions.back().ball + tool(access_).ball_to_pivot;
  for (const SwapMove& m : swapAtRack(plan_.bench, access_, access, pivot, height)) {
    if (!m.text.empty()) {
      access_ = m.step == StepKind::Swap ? straightDown(access) : m.access; // what it is for
      beginStep(m.step, m.text, {});
    }
    access_ = m.access;
    Position p{m.kind, m.pivot - tool(m.access).ball_to_pivot, m.access};
    p.bare = m.bare;
    p.fixed = true;
    add(p);
  }
  return true;
}

void WayBuilder::finish() {
  if (way_.positions.empty()) return;
  const Tool& last = tool(access_);
  beginStep(StepKind::Hop, "Clear of the part", {});
  add({MoveKind::Hop, lifted(way_.positions.back().ball, last, last), access_, 0, {}, -1, false});
}

} // namespace alder
