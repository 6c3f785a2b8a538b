#include "route/router.h"

#include "plan/repeats/repeat.h"
#include "plan/steps/step_edit.h"
#include "route/hand_touches.h"
#include "route/qualify_way.h"
#include "route/way_builder.h"

#include <algorithm>
#include <map>
#include <memory>
#include <set>

namespace alder {
namespace {

// The steps of a routine, one after the other.
class PlanRouter : private WayBuilder {
 public:
  PlanRouter(const Plan& plan, const Obstacles& obstacles, const RouteStart* start)
      : WayBuilder(plan, obstacles)
      , start_(start)
      , done_(stepsDone(plan)) {}

  Result<Way> run(const Progress& progress) {
    if (!start_ || !start_->aligned) aligning_ = {plan_.alignment.begin(), plan_.alignment.end()};
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
      if (passed(i) && traitsOf(steps[i].body).of_way) {
        ++i;
        continue;
      }
      std::visit([&](const auto& body) { take(body, i); }, steps[i].body);
      i = measuredIn(steps[i].body).valid() ? endOf(steps, i) : i + 1;
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
    if (!step.clamp->empty()) setClamp(step.clamp, step.opens);
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

  void take(const ConstructStep& step, std::size_t index) {
    for (FeatureId id : touchedFor(plan_.spec, {step.feature}))
      if (!measured_.count(id) && !start_)
        way_.notes.push_back(
            {0, fmt::format("{} is constructed before {} is measured; move the step behind it",
                            plan_.nominal(step.feature).name, plan_.nominal(id).name)});
    beginStep(StepKind::Construct, describe(plan_, done_.steps[index]), {});
  }

  void take(const EvaluateStep& step, std::size_t index) {
    for (RequirementId id : step.requirements)
      checkMeasured(id);
    beginStep(StepKind::Evaluate, describe(plan_, done_.steps[index]), {});
  }
  void take(const BranchStep& step, std::size_t index) {
    checkMeasured(step.requirement);
    beginStep(StepKind::Branch, describe(plan_, done_.steps[index]), {});
  }
  void take(const OutputStep&, std::size_t index) {
    beginStep(StepKind::Output, describe(plan_, done_.steps[index]), {});
  }

  void checkMeasured(RequirementId requirement) {
    if (start_) return;
    const Requirement& r = plan_.spec.requirement(requirement);
    for (FeatureId id : featuresNeeded(plan_.spec, r))
      if (!measured_.count(id)) {
        way_.notes.push_back({0, fmt::format("requirement {} is judged before {} is measured; move "
                                             "the step behind it",
                                             r.balloon, plan_.nominal(id).name)});
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
    const auto each = qualifyEach(plan_, *obstacles_, tips);
    if (!each) {
      way_.notes.push_back({0, each.error().message});
      return;
    }
    for (const Unreached& u : each->left)
      way_.notes.push_back({0, nameOf(plan_, u.access) + " cannot be qualified: " + u.why});
    const Way* way = &each->way;
    if (way->positions.empty()) return;
    const Vec3 above = way->positions.front().ball;
    if (!way_.positions.empty()) reached();
    changeTo(way->positions.front().access, above);
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
    const FeatureId measured = measuredIn(step.body);
    beginStep(measured.valid() ? StepKind::Measure : StepKind::Note, describe(plan_, step),
              measured);
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
    const Vec3 place = lifted(way_.positions.back().ball, t, t);
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

  void alignByHand() {
    by_hand_done_ = true;
    const auto by_hand = handTouches(plan_, clearance_);
    for (const HandTouches& h : by_hand) {
      Feature feature = plan_.feature(h.feature);
      feature.access = h.access;
      addFeature(feature, h.touches, true);
    }
    if (by_hand.empty()) return;
    addFrame("Use rough part frame");
    way_.steps.back().rough = true;
  }

  void addTouches(FeatureId id, int from, int to) {
    if (!plan_.feature(id).covered()) return;
    const auto numbers = touchesOf(id, from, to);
    if (!numbers.empty()) addFeature(plan_.feature(id), numbers, false);
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

  void addFrame(const std::string& text) { beginStep(StepKind::UseFrame, text, {}); }

  const RouteStart* start_;
  std::vector<std::unique_ptr<Obstacles>> own_obstacles_;
  StepsDone done_;
  std::set<FeatureId> aligning_; // still to be measured for the part frame
  bool by_hand_done_ = false;
};

} // namespace

Result<Way> routePlan(const Plan& plan, const Obstacles& obstacles, const Progress& progress,
                      const RouteStart* start) {
  return PlanRouter(plan, obstacles, start).run(progress);
}

} // namespace alder
