#include "route/router.h"

#include "base/units.h"
#include "plan/repeat.h"
#include "plan/step_edit.h"
#include "route/hand_touches.h"
#include "route/qualify_way.h"
#include "route/rack_swap.h"
#include "route/time_model.h"

#include <algorithm>
#include <array>
#include <map>
#include <memory>
#include <set>

namespace alder {
namespace {

class PlanRouter {
 public:
  PlanRouter(const Plan& plan, const Obstacles& obstacles, const RouteStart* start)
      : plan_(plan)
      , start_(start)
      , obstacles_(&obstacles)
      , clearance_(plan, obstacles)
      , done_(stepsDone(plan)) {
    way_.states = {plan.bench.fixture};
    for (FeatureId id : measuringOrder(plan.steps, false))
      if (!first_.valid() && plan.feature(id).covered()) first_ = plan.feature(id).access;
  }

  Result<Way> run(const Progress& progress) {
    if (!start_ || !start_->aligned)
      aligning_ = {plan_.alignment.begin(), plan_.alignment.end()};
    const Steps& steps = done_.steps;
    if (start_) beginHere();
    for (std::size_t i = 0; i < steps.size();) {
      if (progress.cancelled()) return cancelledError();
      progress.step(static_cast<double>(i) / static_cast<double>(steps.size()), "Routing");
      takeUp(i);
      depth_ = steps[i].depth;
      if (!steps[i].enabled || (start_ && start_->left_out.count(does_))) {
        leaveOut(steps[i]);
        i = endOf(steps, i);
        continue;
      }
      if (passed(i) && (std::holds_alternative<MoveStep>(steps[i].body) ||
                        std::holds_alternative<TurnStep>(steps[i].body) ||
                        std::holds_alternative<SwapStep>(steps[i].body))) {
        ++i;
        continue;
      }
      std::visit([&](const auto& body) { take(body, i); }, steps[i].body);
      i = std::holds_alternative<MeasureStep>(steps[i].body) ? endOf(steps, i) : i + 1;
    }
    origin_ = does_ = {};
    depth_ = 0;
    finish();
    return std::move(way_);
  }

 private:
  void takeUp(std::size_t index) {
    origin_ = done_.origin[index];
    does_ = done_.steps[index].id;
  }

  // A step each, by its kind.

  // With what comes in between, before the touch that it names.
  void take(const MeasureStep& step, std::size_t index) {
    if (!by_hand_done_) alignByHand();
    const FeatureId id = step.feature;
    const int touches = static_cast<int>(plan_.feature(id).touches.size());
    int from = 0;
    const std::size_t end = endOf(done_.steps, index);
    if (start_ && touchesOf(id, 0, touches).empty() && end == index + 1) return frameIfAligned(id);
    for (std::size_t k = nextActive(done_.steps, index + 1); k < end;
         k = nextActive(done_.steps, k + 1)) {
      const int before = std::clamp(done_.steps[k].before, from, touches);
      if (before > from) addTouches(id, from, before);
      from = before;
      takeUp(k);
      std::visit([&](const auto& body) { take(body, k); }, done_.steps[k].body);
      takeUp(index);
    }
    if (from < touches) addTouches(id, from, touches);
    frameIfAligned(id);
  }

  void frameIfAligned(FeatureId id) {
    if (aligning_.erase(id) && aligning_.empty()) addFrame("Use part frame " + alignmentName());
  }

  void take(const MoveStep& step, std::size_t index) {
    const Vec3 to = placeOf(step);
    if (way_.positions.empty()) startAbove(to);
    const ShellTravel travel(plan_, *obstacles_, tool(access_));
    const auto distance = travel.exitDistance(to, tool(access_).shank);
    const Vec3 above = to + distance.value_or(0) * tool(access_).shank;
    const bool straight = way_out_ && !travel.outside(to); // from one place inside to the next
    if (!straight) leave();
    beginStep(StepKind::Move, describe(plan_, done_.steps[index]), {});
    if (!straight) hopOver(above, {});
    addHop(to, {});
    way_.positions.back().fixed = step.from == CountFrom::Machine;
    way_out_ = travel.outside(to) ? std::nullopt : std::optional(above);
    stays_ = false;
  }

  void take(const TurnStep& step, std::size_t) {
    const Head& head = plan_.bench.head;
    const Vec3 here = reached();
    changeTo({access_.stylus, access_.tip, head.a.nearest(step.a), head.b.nearest(step.b)}, here);
    stays_ = false;
  }

  void take(const SwapStep& step, std::size_t) {
    for (std::size_t s = 0; s < plan_.bench.styli.size(); ++s) {
      const Stylus& stylus = plan_.bench.styli[s];
      if (stylus.name != step.stylus) continue;
      int tip = 0;
      for (std::size_t t = 0; t < stylus.tips.size(); ++t)
        if (stylus.tips[t].name == step.tip) tip = static_cast<int>(t);
      const Vec3 here = reached();
      changeTo({static_cast<int>(s), tip, 0, 0}, here);
      stays_ = false;
      return;
    }
    way_.notes.push_back(
        {0, fmt::format("the bench has no stylus \"{}\"; the step that takes it does nothing",
                        step.stylus)});
  }

  void take(const WaitStep& step, std::size_t index) {
    if (!isDone(done_.steps[index]))
      stand(StepKind::Wait, describe(plan_, done_.steps[index]), step.seconds);
    if (!step.clamp.empty()) setClamp(step.clamp, step.opens);
  }

  void take(const AskStep&, std::size_t index) {
    if (isDone(done_.steps[index])) return;
    constexpr double kSeconds = 10;
    stand(StepKind::Ask, describe(plan_, done_.steps[index]), kSeconds);
  }

  void take(const UseFrameStep& step, std::size_t index) {
    if (isDone(done_.steps[index])) return;
    if (!plan_.frame(step.frame) && plan_.bench.fixture.frame(step.frame)) {
      by_hand_done_ = true; // it is known where the part lies
      addFrame(describe(plan_, done_.steps[index]));
      way_.steps.back().frame = step.frame;
      return;
    }
    if (!plan_.frame(step.frame)) {
      way_.notes.push_back(
          {0, fmt::format("there is no frame \"{}\"; the step that uses it does nothing",
                          step.frame)});
      return;
    }
    for (const FrameStage& stage : plan_.frame(step.frame)->stages)
      for (FeatureId id : stage.features)
        if (!measured_.count(id) && !start_)
          way_.notes.push_back({0, fmt::format("frame {} is used before {} is measured; move the "
                                               "step behind it",
                                               step.frame, plan_.nominal(id).name)});
    addFrame(describe(plan_, done_.steps[index]));
    way_.steps.back().frame = step.frame;
  }

  void take(const DeriveStep& step, std::size_t index) {
    for (FeatureId id : touchedFor(plan_.spec, {step.feature}))
      if (!measured_.count(id) && !start_)
        way_.notes.push_back(
            {0, fmt::format("{} is derived before {} is measured; move the step behind it",
                            plan_.nominal(step.feature).name, plan_.nominal(id).name)});
    beginStep(StepKind::Derive, describe(plan_, done_.steps[index]), {});
  }

  void take(const EvaluateStep& step, std::size_t index) {
    for (const int balloon : step.balloons)
      checkMeasured(balloon);
    beginStep(StepKind::Evaluate, describe(plan_, done_.steps[index]), {});
  }
  void take(const BranchStep& step, std::size_t index) {
    checkMeasured(step.balloon);
    beginStep(StepKind::Branch, describe(plan_, done_.steps[index]), {});
  }
  void take(const OutputStep&, std::size_t index) {
    beginStep(StepKind::Output, describe(plan_, done_.steps[index]), {});
  }

  void checkMeasured(int balloon) {
    if (start_) return;
    const auto& all = plan_.spec.requirements;
    const auto r = std::find_if(all.begin(), all.end(),
                                [&](const Requirement& x) { return x.balloon == balloon; });
    if (r == all.end()) {
      way_.notes.push_back(
          {0, fmt::format("a step asks for requirement {}, which is not there", balloon)});
      return;
    }
    for (FeatureId id : featuresNeeded(plan_.spec, *r))
      if (!measured_.count(id)) {
        way_.notes.push_back({0, fmt::format("requirement {} is judged before {} is measured; move "
                                             "the step behind it",
                                             balloon, plan_.nominal(id).name)});
        return;
      }
  }

  // To the reference sphere and back outside; all places there are the machine's.
  void take(const QualifyStep& step, std::size_t index) {
    if (isDone(done_.steps[index])) return;
    std::vector<Access> tips;
    for (const Access& a : accessesUsed(plan_))
      if (step.all || step.sphere_moved || needsQualifying(plan_.qualified, a, plan_.bench))
        tips.push_back(a);
    if (tips.empty()) {
      beginStep(StepKind::Note, describe(plan_, done_.steps[index]) + ": none does", {});
      return;
    }
    auto way = qualifyWay(plan_, *obstacles_, tips);
    if (!way) {
      way_.notes.push_back({0, way.error().message});
      return;
    }
    const Vec3 above = way->positions.front().ball;
    if (!way_.positions.empty()) reached();
    changeTo(tips.front(), above);
    beginStep(StepKind::Hop, "To the reference sphere", {});
    hopOver(above, {});
    way_.positions.back().fixed = true;
    int sphere_touch = 0;
    for (std::size_t s = 1; s < way->steps.size(); ++s) {
      const Step& of = way->steps[s];
      access_ = of.access;
      beginStep(of.kind, of.text, {});
      for (int i = of.first; i <= of.last; ++i) {
        Position p = way->positions[static_cast<std::size_t>(i)];
        access_ = p.access;
        p.fixed = true;
        if (p.contact) p.touch = sphere_touch++;
        add(p);
      }
    }
    stays_ = false;
  }

  void take(const NoteStep&, std::size_t index) {
    beginStep(StepKind::Note, describe(plan_, done_.steps[index]), {});
  }
  void take(const GroupStep& step, std::size_t) { beginStep(StepKind::Group, step.name, {}); }
  void take(const RepeatStep& step, std::size_t index) {
    beginStep(StepKind::Repeat, describe(plan_, done_.steps[index]), {});
    const Steps& steps = plan_.steps;
    const std::size_t at = indexOf(steps, origin_);
    for (FeatureId original : originalsOf(steps, at))
      for (std::size_t k = 0; k < step.copies.size(); ++k)
        if (!step.copies[k].skipped && !step.copies[k].of(original).valid())
          way_.notes.push_back(
              {0, fmt::format("{}: place {} has no {}: {}", step.name, k + 2,
                              plan_.nominal(original).name, whyNoCopy(plan_, at, k, original))});
  }

  void leaveOut(const RoutineStep& step) {
    const auto* measure = std::get_if<MeasureStep>(&step.body);
    beginStep(measure ? StepKind::Measure : StepKind::Note, describe(plan_, step),
              measure ? measure->feature : FeatureId{});
    way_.steps.back().left_out = true;
  }

  bool isDone(const RoutineStep& step) const { return start_ && start_->steps_done.count(step.id); }

  // Goes on from where the machine stands; what was done of the steps before is not done again.
  void beginHere() {
    by_hand_done_ = true;
    access_ = start_->access;
    beginStep(StepKind::Hop, "From where the machine stands", {});
    add({MoveKind::Hop, start_->ball, access_});
    way_.positions.back().fixed = true;
    const ShellTravel travel(plan_, *obstacles_, tool(access_));
    stays_ = false;
    if (travel.outside(start_->ball)) return;
    const Vec3& shank = tool(access_).shank;
    const Feature none{};
    const auto out = FeatureRouter(clearance_, tool(access_), none, true).exit(start_->ball, shank);
    if (out)
      for (const Vec3& p : *out)
        addHop(p, {});
    else // as it then is shown to clash
      way_out_ = start_->ball + travel.exitDistance(start_->ball, shank).value_or(0) * shank;
  }

  // Has been done, or passed over, before the way goes on? Such steps of the machine are not undone
  // and done again; clamps stay as they were put.
  bool passed(std::size_t index) const {
    return start_ && start_->from.valid() && index < indexOf(done_.steps, start_->from);
  }

  // Clear of the part, where the operator has room.
  void stand(StepKind kind, const std::string& text, double seconds) {
    reached();
    const Tool& t = tool(access_);
    Vec3 place = way_.positions.back().ball;
    place.z() = std::max(place.z(), turningHeight(t, t) - t.ball_to_pivot.z());
    if ((place - way_.positions.back().ball).norm() > 1e-9) {
      beginStep(StepKind::Hop, "Clear for the operator", {});
      addHop(place, {});
    }
    beginStep(kind, text, {});
    Position waits{MoveKind::Hop, place, access_};
    waits.dwell = seconds;
    add(waits);
    stays_ = false;
  }

  // From here on among the fixture as it then stands.
  void setClamp(const std::string& body, bool open) {
    Fixture fixture = way_.states.back();
    setOpen(fixture, body, open);
    own_obstacles_.push_back(std::make_unique<Obstacles>(obstaclesOf(plan_, fixture)));
    obstacles_ = own_obstacles_.back().get();
    clearance_ = Clearance(plan_, *obstacles_);
    way_.states.push_back(std::move(fixture));
  }

  Vec3 placeOf(const MoveStep& step) const {
    if (step.from == CountFrom::Machine) return step.place;
    if (step.from == CountFrom::Part) return plan_.placement * step.place;
    return plan_.placement * (placesFrame(plan_, step.feature) * step.place);
  }

  // The machine stands somewhere, outside the shell; where it has not begun, it begins above.
  Vec3 reached() {
    if (way_.positions.empty()) startAbove(obstacles_->solids.center());
    leave();
    return way_.positions.back().ball;
  }

  void startAbove(const Vec3& place) {
    Access access = first_.valid() ? first_ : Access{0, 0, 0, 0};
    changeTo(access, place);
  }

  // Out of where a step went inside the shell.
  void leave() {
    if (!way_out_) return;
    beginStep(StepKind::Hop, "Out again", {});
    addHop(*way_out_, {});
    way_out_.reset();
  }

  void alignByHand() {
    by_hand_done_ = true;
    bool any = false;
    for (FeatureId id : plan_.alignment)
      if (plan_.feature(id).covered())
        addFeature(id, handTouches(plan_, id, id == plan_.alignment.front()), true), any = true;
    if (!any) return;
    addFrame("Use rough part frame");
    way_.steps.back().rough = true;
  }

  void addTouches(FeatureId id, int from, int to) {
    if (!plan_.feature(id).covered()) return;
    const auto numbers = touchesOf(id, from, to);
    if (!numbers.empty()) addFeature(id, numbers, false);
  }

  std::vector<int> touchesOf(FeatureId id, int from, int to) const {
    std::vector<int> numbers;
    for (int k = from; k < to; ++k)
      if (!start_ || !start_->done.count({id, k})) numbers.push_back(k);
    return numbers;
  }

  std::string alignmentName() const {
    std::string text;
    for (FeatureId id : plan_.alignment)
      for (const Datum& d : plan_.spec.datums)
        if (std::find(d.features.begin(), d.features.end(), id) != d.features.end() &&
            text.find(d.letter) == std::string::npos)
          text += (text.empty() ? "" : "|") + d.letter;
    return text;
  }

  const Tool& tool(const Access& access) {
    const auto key = std::tuple(access.stylus, access.tip, access.a, access.b);
    auto found = tools_.find(key);
    if (found == tools_.end()) found = tools_.emplace(key, toolOf(plan_.bench, access)).first;
    return found->second;
  }

  int beginStep(StepKind kind, std::string text, FeatureId feature) {
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

  void add(Position p) {
    p.step = static_cast<int>(way_.steps.size()) - 1;
    // Standing still is no move.
    if (p.kind == MoveKind::Hop && p.dwell == 0 && !way_.positions.empty() &&
        (way_.positions.back().ball - p.ball).norm() < 1e-9)
      return;
    way_.positions.push_back(p);
    way_.steps.back().last = static_cast<int>(way_.positions.size()) - 1;
  }

  void addFrame(const std::string& text) { beginStep(StepKind::UseFrame, text, {}); }

  std::vector<Position> routed(const Feature& feature, const std::vector<Touch>& touches,
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
      way_.notes.push_back(
          {0, plan_.nominal(feature.id).name + ": " + why +
                  "; the way shown is not proved, choose other angles or touches"});
      positions = router.unproven(touches);
    }
    for (Position& p : positions)
      if (p.touch >= 0) p.touch = numbers[static_cast<std::size_t>(p.touch)];
    return positions;
  }

  void addFeature(FeatureId id, const std::vector<int>& numbers, bool by_hand) {
    const Feature& feature = plan_.feature(id);
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
      beginHop("Close hop to ", id, HopMode::Close);
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
      beginHop("Close hop to ", id, HopMode::Close);
      for (const Vec3& p : *near)
        addHop(p, id);
    } else {
      changeTo(feature.access, positions.front().ball);
      beginStep(StepKind::Hop, "Hop to " + plan_.nominal(id).name, id);
      hopOver(positions.front().ball, id);
    }
    const auto first_touch =
        std::find_if(positions.begin(), positions.end(),
                     [](const Position& p) { return p.kind == MoveKind::Approach; });
    for (auto p = positions.begin(); p != first_touch; ++p)
      add(*p);
    beginStep(by_hand ? StepKind::Manual : StepKind::Measure,
              (by_hand ? "By hand: " : "") + plan_.nominal(id).name, id);
    for (auto p = first_touch; p != positions.end(); ++p) {
      if (by_hand && p->kind != MoveKind::Hop) p->kind = MoveKind::Manual;
      add(*p);
    }
  }

  void beginHop(const std::string& text, FeatureId id, HopMode mode) {
    beginStep(StepKind::Hop, text + plan_.nominal(id).name, id);
    way_.steps.back().hop = mode;
  }
  void addHop(const Vec3& ball, FeatureId id) {
    add({MoveKind::Hop, ball, access_, 0, id, -1, false});
  }

  // Leaves out the way from the last feature out of the shell and the one into this feature.
  void stayInside(std::vector<Position>& positions) {
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

  double seconds(const std::vector<Vec3>& places) const {
    double sum = 0;
    for (std::size_t i = 1; i < places.size(); ++i)
      sum += moveSeconds(plan_.bench.machine, places[i - 1], places[i]);
    return sum;
  }

  // From the last touch of the feature before to the first of this one, where that is proved free
  // and takes less time than the way over the shell.
  std::optional<std::vector<Vec3>> closeWay(const Feature& feature,
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
    for (const Vec3& p : travel.travel(over.back(), positions.front().ball))
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

  // From a place at the feature back along the shank until the ball is just outside of it.
  Vec3 besideFeature(FeatureId id, const Vec3& ball) {
    const Tool& t = tool(access_);
    double lift = 0;
    for (FaceId face : plan_.nominal(id).faces) {
      const Box3 box = transformed(plan_.part->face(face).box, plan_.placement);
      for (int k = 0; k < 8; ++k)
        lift = std::max(lift, (box.corner(static_cast<Box3::CornerType>(k)) - ball).dot(t.shank));
    }
    return ball + (lift + t.ball_radius + 1) * t.shank;
  }

  void dropLast() {
    const auto step = static_cast<std::size_t>(way_.positions.back().step);
    way_.positions.pop_back();
    --way_.steps[step].last;
    for (std::size_t s = step + 1; s < way_.steps.size(); ++s)
      --way_.steps[s].first, --way_.steps[s].last;
  }

  void hopOver(const Vec3& to, FeatureId feature) {
    if (way_.positions.empty()) return;
    const ShellTravel travel(plan_, *obstacles_, tool(access_));
    for (const Vec3& p : travel.travel(way_.positions.back().ball, to))
      add({MoveKind::Hop, p, access_, 0, feature, -1, false});
    add({MoveKind::Hop, to, access_, 0, feature, -1, false});
  }

  // Height of the pivot at which everything that turns stays above the shell.
  double turningHeight(const Tool& before, const Tool& after) const {
    return shellBox(plan_, *obstacles_).max().z() +
           std::max(before.turn_radius, after.turn_radius) + 2;
  }

  // Where the head turns: as low as there is proved room for all that turns, here or above.
  Vec3 placeToTurn(const Tool& before, const Tool& after) {
    const Vec3 here = way_.positions.back().ball;
    Vec3 high = here;
    high.z() = std::max(here.z(), turningHeight(before, after) - before.ball_to_pivot.z());
    const ShellTravel travel_before(plan_, *obstacles_, before),
        travel_after(plan_, *obstacles_, after);
    constexpr int kSteps = 6;
    for (int k = 0; k < kSteps; ++k) {
      const Vec3 place = here + k * (high - here) / kSteps;
      const Vec3 ball_after = place + before.ball_to_pivot - after.ball_to_pivot;
      if (travel_before.outside(here, place) && travel_after.outside(ball_after) &&
          clearance_.roomToTurn(before, place) && clearance_.roomToTurn(after, ball_after) &&
          !clearance_.overrun(before, place) && !clearance_.overrun(after, ball_after))
        return place;
    }
    return high;
  }

  // Changes stylus or angles outside the shell where the whole stylus has room.
  void changeTo(const Access& access, const Vec3& next) {
    if (access_ == access) return;
    const Tool& after = tool(access);
    if (!access_.valid()) { // the routine starts above the first feature
      access_ = access;
      beginStep(StepKind::Hop, "Start", {});
      Vec3 start = next;
      start.z() = std::max(next.z(), turningHeight(after, after) - after.ball_to_pivot.z());
      add({MoveKind::Hop, start, access_, 0, {}, -1, false});
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
    add({MoveKind::Hop, place, access_, 0, {}, -1, false});
    const Vec3 pivot = place + before.ball_to_pivot;
    if (!clearance_.roomToTurn(before, place) ||
        !clearance_.roomToTurn(after, pivot - after.ball_to_pivot))
      way_.notes.push_back(
          {0, "there is no room to turn the head above the shell; lower the part"});
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

  // False where the bench has no ports for both.
  bool changeAtRack(const Access& access) {
    const Tool before = toolOf(plan_.bench, straightDown(access_)),
               after = toolOf(plan_.bench, straightDown(access));
    const double height = turningHeight(before, after);
    if (swapAtRack(plan_.bench, access_, access, Vec3::Zero(), height).empty()) return false;
    changeTo(straightDown(access_), {});
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

  void finish() {
    if (way_.positions.empty()) return;
    const Tool& last = tool(access_);
    beginStep(StepKind::Hop, "Clear of the part", {});
    Vec3 place = way_.positions.back().ball;
    place.z() = std::max(place.z(), turningHeight(last, last) - last.ball_to_pivot.z());
    add({MoveKind::Hop, place, access_, 0, {}, -1, false});
  }

  const Plan& plan_;
  const RouteStart* start_;
  const Obstacles* obstacles_; // as the fixture stands now
  std::vector<std::unique_ptr<Obstacles>> own_obstacles_;
  Clearance clearance_;
  Way way_;
  StepsDone done_;
  StepId origin_, does_; // of what is being routed, see Step
  int depth_ = 0;
  Access first_;                 // that the routine begins with
  std::set<FeatureId> measured_; // so far
  std::set<FeatureId> aligning_; // still to be measured for the part frame
  std::optional<Vec3> way_out_;  // from where a step went inside the shell
  bool by_hand_done_ = false;
  bool stays_ = true; // by the part since the last feature
  Access access_;
  std::map<std::tuple<int, int, double, double>, Tool> tools_;
};

} // namespace

Result<Way> routePlan(const Plan& plan, const Obstacles& obstacles, const Progress& progress,
                      const RouteStart* start) {
  return PlanRouter(plan, obstacles, start).run(progress);
}

} // namespace alder
