#include "run/session.h"

#include "run/as_found.h"

#include "geometry/distance.h"
#include "plan/qualification_fit.h"
#include <algorithm>
#include <array>
#include <limits>

namespace alder {
namespace {

// The part counts as lying elsewhere when a place of it is off by more than this, mm.
constexpr double kElsewhere = 1.0;

} // namespace

std::string_view name(FaultKind kind) {
  static constexpr std::array<std::string_view, 7> kNames{
      "missed touch", "unexpected touch", "lost connection", "emergency stop",
      "refused",      "not homed",        "feature ended"};
  return kNames[static_cast<std::size_t>(kind)];
}

std::string_view name(RunKind kind) {
  return kind == RunKind::Automatic ? "automatic" : "by hand";
}

RunSession::RunSession(std::shared_ptr<const Plan> plan, std::shared_ptr<const Way> way,
                       RunKind kind)
    : plan_(std::move(plan))
    , way_(std::move(way))
    , steps_(std::make_shared<const StepsDone>(stepsDone(*plan_)))
    , kind_(kind)
    , frame_(plan_->placement) {
  findHandTouches();
  (void)settle(); // nothing is touched yet, so no frame is used
}

const StepBody* RunSession::bodyOf(StepId does) const {
  const std::size_t i = indexOf(steps_->steps, does);
  return i < steps_->steps.size() ? &steps_->steps[i].body : nullptr;
}

Vec3 RunSession::placeOf(std::size_t position) const {
  const Position& p = way_->positions[position];
  return p.fixed ? p.ball : frame_ * (plan_->placement.inverse() * p.ball);
}

RawTouch RunSession::corrected(FeatureId feature, int touch, const Vec3& ball,
                               const Access& access) const {
  RawTouch raw{feature, touch, ball, plan_->tip(access).ball_diameter / 2};
  if (const QualifiedTip* known = plan_->qualified.find(access)) {
    raw.ball += known->offset;
    raw.radius = known->diameter / 2;
  }
  return raw;
}

double RunSession::deviation(const RawTouch& raw) const {
  const Touch& t = plan_->feature(raw.feature).touches[static_cast<std::size_t>(raw.touch)];
  return (frame_.inverse() * raw.ball - t.point).dot(t.normal) - raw.radius;
}

std::optional<RunTask> RunSession::sphereTask(RunTask task, std::size_t index) const {
  const Position& p = way_->positions[index];
  if (sphere_touches_.count(p.touch) || sphere_given_up_.count(p.touch)) return {};
  const ReferenceSphere& sphere = plan_->bench.sphere;
  task.kind = RunTask::Kind::TouchSphere;
  task.touch_index = p.touch;
  task.touch.normal = (p.ball - sphere.centre).normalized();
  task.touch.surface = sphere.centre + sphere.diameter / 2 * task.touch.normal;
  task.touch.approach = (way_->positions[index - 1].ball - p.ball).norm();
  task.touch.search = task.touch.approach;
  return task;
}

std::optional<RunTask> RunSession::taskAt(std::size_t index) const {
  const Position& p = way_->positions[index];
  const Step& step = way_->steps[static_cast<std::size_t>(p.step)];
  if (leftOut(step.does)) return {};
  const bool on_sphere = step.kind == StepKind::Qualify;
  if (on_sphere && kind_ == RunKind::ByHand) return {}; // it is the machine's
  RunTask task;
  task.step = p.step;
  task.position = static_cast<int>(index);
  task.access = p.access;
  task.feature = p.feature;
  task.does = step.does;
  task.text = step.text;
  using enum RunTask::Kind;
  if (step.kind == StepKind::Wait || step.kind == StepKind::Ask) {
    if (p.dwell <= 0 || steps_done_.count(step.does)) return {};
    task.kind = step.kind == StepKind::Wait ? Wait : Ask;
    return task;
  }
  task.ball = placeOf(index);
  if (p.kind == MoveKind::Swap) {
    // In the rack the machine does all between the two; it takes what comes after.
    if (!p.bare) {
      task.kind = TakeStylus;
      return task;
    }
    return {};
  }
  if (p.bare) return {};
  if (p.kind == MoveKind::Turn) {
    task.kind = Turn;
    return task;
  }
  if (on_sphere && p.contact) return sphereTask(std::move(task), index);
  const bool by_hand = p.kind == MoveKind::Manual || kind_ == RunKind::ByHand;
  if (!p.contact) {
    // Before the part is found the operator moves the machine; off it again it goes by itself.
    if (kind_ == RunKind::ByHand || (inHands() && (p.feature.valid() || index > 0))) return {};
    return task;
  }
  const bool rough = p.kind == MoveKind::Manual;
  if (rough ? hand_done_.count({p.feature, p.touch}) > 0 : gone(p.feature, p.touch)) return {};
  const Feature& feature = plan_->feature(p.feature);
  const alder::Touch& t = feature.touches[static_cast<std::size_t>(p.touch)];
  task.kind = by_hand ? TouchByHand : Touch;
  task.touch_index = p.touch;
  task.touch.surface = frame_ * t.point;
  task.touch.normal = turn(frame_, t.normal);
  const Position& before = way_->positions[index > 0 ? index - 1 : 0];
  task.touch.approach = before.contact ? 1.0 : (before.ball - p.ball).norm();
  task.touch.search = feature.recipe.search;
  task.touch.speed = p.speed;
  return task;
}

bool RunSession::inHands() const {
  return kind_ == RunKind::ByHand || (last_by_hand_ && position_ <= *last_by_hand_);
}

void RunSession::findHandTouches() {
  last_by_hand_.reset();
  for (std::size_t i = 0; i < way_->positions.size(); ++i)
    if (way_->positions[i].contact && way_->positions[i].kind == MoveKind::Manual)
      last_by_hand_ = i;
}

std::optional<RunTask> RunSession::next() const {
  if (needsNewWay()) return {};
  if (deed_) {
    const Step& step = way_->steps[step_];
    RunTask task;
    task.kind = RunTask::Kind::Deed;
    task.step = static_cast<int>(step_);
    task.position = static_cast<int>(position_);
    task.access = step.access;
    task.does = step.does;
    task.text = step.text;
    return task;
  }
  if (position_ >= way_->positions.size()) return {};
  return taskAt(position_);
}

std::vector<RunTask> RunSession::questions() const {
  std::vector<RunTask> result;
  if (!raw_.empty() || !hand_.empty()) return result;
  for (std::size_t i = 0; i < way_->positions.size() && !way_->positions[i].contact; ++i)
    if (auto task = taskAt(i); task && task->kind == RunTask::Kind::Ask) result.push_back(*task);
  return result;
}

bool RunSession::isOpen(std::size_t index) const {
  const Position& p = way_->positions[index];
  if (!p.contact) return false;
  const bool rough = p.kind == MoveKind::Manual;
  return rough ? hand_done_.count({p.feature, p.touch}) == 0 : !gone(p.feature, p.touch);
}

// Asked for with each move: what was counted before is kept, less what has been passed since.
int RunSession::touchesLeft() const {
  Left& left = left_;
  const bool stands = left.way == way_ && left.skipped == skipped_.size() && left.from <= position_;
  if (!stands) {
    left = {way_, skipped_.size(), position_, 0, std::vector<bool>(way_->positions.size(), false)};
    for (std::size_t i = position_; i < way_->positions.size(); ++i)
      if (isOpen(i)) left.open[i] = true, ++left.count;
  }
  for (; left.from < position_; ++left.from)
    left.count -= left.open[left.from];
  return left.count;
}

Vec3 RunSession::backOff() const {
  const RawTouch& last = hand_.back();
  const Feature& feature = plan_->feature(last.feature);
  return last.ball +
         (feature.recipe.retract > 0 ? feature.recipe.retract : feature.recipe.approach) *
             turn(frame_, feature.touches[static_cast<std::size_t>(last.touch)].normal);
}

// Still to be done, where the machine then stands.
bool RunSession::isDeed(const Step& step) const {
  using enum StepKind;
  if (step.left_out || leftOut(step.does)) return false;
  if (step.kind == UseFrame)
    return !step.rough && !(step.frame.empty() ? aligned_ : steps_done_.count(step.does) > 0);
  return (step.kind == Construct || step.kind == Evaluate || step.kind == Branch ||
          step.kind == Output) &&
         !steps_done_.count(step.does);
}

std::optional<std::string> RunSession::frameNext() const {
  if (needsNewWay() || !deed_ || way_->steps[step_].kind != StepKind::UseFrame) return {};
  return way_->steps[step_].frame;
}

// Past what nobody has to do any more; the rough frame comes by itself.
Done RunSession::settle() {
  deed_ = false;
  while (step_ < way_->steps.size()) {
    const Step& step = way_->steps[step_];
    // The rough frame comes with the last touch by hand, so that the machine leaves the part well.
    if (last_by_hand_ && position_ > *last_by_hand_ && !rough_used_) {
      if (auto done = useFrame("The rough part frame", true); !done) return done;
      rough_used_ = true;
      if (elsewhere_) return {};
    }
    if (step.last < step.first) {
      if (isDeed(step)) {
        deed_ = true;
        return {};
      }
      ++step_;
      continue;
    }
    if (position_ > static_cast<std::size_t>(step.last)) {
      ++step_;
      continue;
    }
    position_ = std::max(position_, static_cast<std::size_t>(step.first));
    if (taskAt(position_)) return {};
    ++position_;
  }
  position_ = way_->positions.size();
  return {};
}

Done RunSession::useFrame(const std::string& what, bool rough) {
  // Of some of its features alone a frame would be loose: the one known stays, by hand that of the
  // places.
  const auto& touches = rough ? hand_ : raw_;
  const bool whole =
      std::all_of(plan_->alignment.begin(), plan_->alignment.end(), [&](FeatureId id) {
        return !plan_->feature(id).covered() ||
               std::any_of(touches.begin(), touches.end(),
                           [&](const RawTouch& t) { return t.feature == id; });
      });
  if (!rough) aligned_ = true;
  if (!whole && !rough) return {};
  const Frame start = rough ? frameByPlaces(*plan_, hand_).value_or(frame_) : frame_;
  const auto found = !whole  ? Result<Frame>(start)
                     : rough ? frameByHand(*plan_, touches, start)
                             : alignedFrame(*plan_, touches, start);
  if (!found) return fail("{}: {}; touch its features again.", what, found.error().message);
  frame_ = *found;
  // By hand nothing moves by itself, so no way has to be proved.
  elsewhere_ = at_hand_touch_ =
      kind_ == RunKind::Automatic && rough &&
      changeBetween(*plan_, plan_->placement, frame_).distance > kElsewhere;
  return {};
}

Done RunSession::framed(const Framed& framed) {
  const auto next =
      std::find_if(way_->steps.begin() + static_cast<std::ptrdiff_t>(step_), way_->steps.end(),
                   [&](const Step& s) { return s.kind == StepKind::UseFrame && isDeed(s); });
  if (next == way_->steps.end() || next->frame != framed.frame)
    return fail("The journal uses a frame that this routine does not come to.");
  const Step step = *next;
  step_ = static_cast<std::size_t>(next - way_->steps.begin()) + 1;
  position_ = std::max(position_, static_cast<std::size_t>(step.first));
  if (framed.given_up) {
    if (step.frame.empty())
      aligned_ = true;
    else
      steps_done_.insert(step.does);
    return {};
  }
  if (step.frame.empty()) return useFrame(step.text, false);
  if (const PartFrame* frame = plan_->frame(step.frame)) return useNamedFrame(*frame, step.does);
  if (const KeptFrame* kept = plan_->bench.fixture.frame(step.frame))
    useKeptFrame(*kept, step.does);
  steps_done_.insert(step.does);
  return {};
}

Done RunSession::useNamedFrame(const PartFrame& frame, StepId does) {
  const auto found = findFrame(*plan_, frame, framePoints(*plan_, raw_), frame_);
  if (!found)
    return fail("Frame {}: {}; measure it before the frame is used.", frame.name,
                found.error().message);
  const StepBody* body = bodyOf(does);
  const auto* use = body ? useFrameIn(*body) : nullptr;
  UsedFrame used{frame.name, frame_, found->placement, found->worst, found->share};
  used.round = ++rounds_[does];
  const bool loose = use && use->until > 0 &&
                     changeBetween(*plan_, frame_, found->placement).distance >= use->until;
  used.again = loose && used.round < use->most;
  used.settled = !loose;
  frames_used_.push_back(used);
  frame_ = found->placement;
  if (used.again)
    measureAgain(frame);
  else
    steps_done_.insert(does);
  return {};
}

void RunSession::useKeptFrame(const KeptFrame& kept, StepId does) {
  frames_used_.push_back({kept.name, frame_, kept.placement});
  frame_ = kept.placement;
  steps_done_.insert(does);
  elsewhere_ = kind_ == RunKind::Automatic &&
               changeBetween(*plan_, plan_->placement, frame_).distance > kElsewhere;
}

void RunSession::measureAgain(const PartFrame& frame) {
  for (const FrameStage& stage : frame.stages)
    for (FeatureId id : stage.features) {
      std::erase_if(raw_, [&](const RawTouch& t) { return t.feature == id; });
      std::erase_if(done_, [&](const auto& key) { return key.first == id; });
    }
  left_ = {};
  again_ = true;
  elsewhere_ = kind_ == RunKind::Automatic &&
               changeBetween(*plan_, plan_->placement, frame_).distance > kElsewhere;
}

void RunSession::moved(const RunTask& task) {
  position_ = static_cast<std::size_t>(task.position) + 1;
  (void)settle(); // no touch by hand has come, so that no frame follows from it
}

std::optional<std::size_t> RunSession::contactOf(FeatureId feature, int touch) const {
  for (std::size_t i = position_; i < way_->positions.size(); ++i) {
    const Position& p = way_->positions[i];
    if (p.contact && p.feature == feature && p.touch == touch) return i;
  }
  return {};
}

std::string answerFor(QuestionRole role, const std::vector<Answered>& answers) {
  std::string value;
  for (const Answered& a : answers)
    if (a.role == role) value = a.value;
  return value;
}

// Those of which it is known beforehand whether they can be taken. Behind the last touch by hand
// the rough frame follows, which may fail; until it stands few touches have come.
bool RunSession::isPlain(const RunEvent& event) const {
  const bool frame_may_follow = last_by_hand_ && !rough_used_;
  return !frame_may_follow &&
         (std::holds_alternative<Touched>(event) || std::holds_alternative<Skipped>(event) ||
          std::holds_alternative<Answered>(event) || std::holds_alternative<Waited>(event));
}

Done RunSession::take(const RunEvent& event, const Keep& keep) {
  const auto kept = [&] { return keep ? keep(event) : Done{}; };
  if (isPlain(event)) {
    if (auto valid = check(event); !valid) return valid;
    if (auto done = kept(); !done) return done;
    (void)apply(event);
    return settle(); // no frame follows, so that it goes on
  }
  RunSession after = *this;
  if (auto done = after.apply(event); !done) return done;
  if (auto done = after.settle(); !done) return done;
  if (auto done = kept(); !done) return done;
  *this = std::move(after);
  return {};
}

// Whether a touch, or one that is given up, belongs to this routine here.
Done RunSession::check(const RunEvent& event) const {
  const auto known = [&](FeatureId f, int touch) {
    const Feature* feature = plan_->features.find(f);
    return feature && touch < static_cast<int>(feature->touches.size());
  };
  if (const auto* t = std::get_if<Touched>(&event)) {
    const auto at = known(t->touch.feature, t->touch.touch)
                        ? contactOf(t->touch.feature, t->touch.touch)
                        : std::nullopt;
    if (!at) return fail("The journal holds a touch that this routine does not come to.");
    const auto& done = way_->positions[*at].kind == MoveKind::Manual ? hand_done_ : done_;
    if (done.count({t->touch.feature, t->touch.touch}))
      return fail("The journal holds a touch twice.");
  }
  const auto* s = std::get_if<Skipped>(&event);
  if (s && !known(s->feature, s->touch))
    return fail("The journal leaves out a touch that this routine does not have.");
  return {};
}

void RunSession::touched(const Touched& touched) {
  const std::size_t at = *contactOf(touched.touch.feature, touched.touch.touch);
  const bool rough = way_->positions[at].kind == MoveKind::Manual;
  (rough ? hand_done_ : done_).insert({touched.touch.feature, touched.touch.touch});
  (rough ? hand_ : raw_).push_back(touched.touch);
  position_ = since_ = at + 1;
  step_ = static_cast<std::size_t>(way_->positions[at].step);
}

void RunSession::skipped(const Skipped& s) {
  const int count = static_cast<int>(plan_->feature(s.feature).touches.size());
  for (int k = std::max(s.touch, 0); k < (s.touch < 0 ? count : s.touch + 1); ++k) {
    // What is given up while the part is found by hand can still be touched by program.
    if (kind_ == RunKind::ByHand || !inHands()) done_.insert({s.feature, k});
    hand_done_.insert({s.feature, k});
  }
  skipped_.push_back(s);
}

Done RunSession::apply(const RunEvent& event) {
  if (auto valid = check(event); !valid) return valid;
  if (const auto* t = std::get_if<Touched>(&event)) {
    touched(*t);
  } else if (const auto* s = std::get_if<Skipped>(&event)) {
    skipped(*s);
  } else if (const auto* a = std::get_if<Answered>(&event)) {
    steps_done_.insert(a->step);
    answers_.push_back(*a);
  } else if (const auto* w = std::get_if<Waited>(&event)) {
    steps_done_.insert(w->step);
  } else if (const auto* sphere = std::get_if<SphereTouched>(&event)) {
    return touchedSphere(*sphere);
  } else if (const auto* branch = std::get_if<Branched>(&event)) {
    return branched(*branch);
  } else if (const auto* frame = std::get_if<Framed>(&event)) {
    return framed(*frame);
  } else if (const auto* tip = std::get_if<TipGivenUp>(&event)) {
    return tipGivenUp(*tip);
  } else {
    return reroute(std::get<Rerouted>(event));
  }
  return {};
}

std::vector<std::size_t> RunSession::sphereContacts(StepId step) const {
  std::vector<std::size_t> contacts;
  for (std::size_t i = position_; i < way_->positions.size(); ++i) {
    const Position& p = way_->positions[i];
    const Step& of = way_->steps[static_cast<std::size_t>(p.step)];
    if (p.contact && of.kind == StepKind::Qualify && of.does == step) contacts.push_back(i);
  }
  return contacts;
}

Done RunSession::tipGivenUp(const TipGivenUp& given_up) {
  bool any = false, more = false;
  for (const std::size_t i : sphereContacts(given_up.step)) {
    const Position& p = way_->positions[i];
    if (p.access == given_up.access)
      sphere_given_up_.insert(p.touch), any = true;
    else
      more = true;
  }
  if (!any) return fail("The journal gives up a tip that this routine does not come to.");
  sphere_touches_.clear();
  if (!more) steps_done_.insert(given_up.step);
  return {};
}

// With the last touch of a tip it is known, and counts from here on.
Done RunSession::touchedSphere(const SphereTouched& touched) {
  const auto* body = bodyOf(touched.step);
  const auto* step = body ? std::get_if<QualifyStep>(body) : nullptr;
  std::optional<std::size_t> at;
  bool last_of_tip = true, last = true;
  for (const std::size_t i : sphereContacts(touched.step)) {
    const Position& p = way_->positions[i];
    if (!at) {
      if (p.touch == touched.touch && p.access == touched.access) at = i;
      continue;
    }
    last = false;
    if (p.access == touched.access) last_of_tip = false;
  }
  if (!step || !at || !sphere_touches_.emplace(touched.touch, touched.ball).second)
    return fail("The journal holds a touch of the sphere that this routine does not come to.");
  position_ = since_ = *at + 1;
  step_ = static_cast<std::size_t>(way_->positions[*at].step);
  if (!last_of_tip) return {};
  Points centres;
  for (const auto& [number, ball] : sphere_touches_)
    centres.push_back(ball);
  sphere_touches_.clear();
  Qualification known = plan_->qualified;
  if (step->sphere_moved && sphere_found_.insert(touched.step).second) known = {};
  auto more =
      withTip(std::move(known), plan_->bench.sphere, touched.access, centres, touched.seconds);
  if (!more)
    return fail("{}: {}; clean ball and sphere and begin the run anew.",
                nameOf(*plan_, touched.access), more.error().message);
  auto plan = std::make_shared<Plan>(*plan_);
  plan->qualified = std::move(*more);
  plan_ = std::move(plan);
  if (last) steps_done_.insert(touched.step);
  return {};
}

std::optional<BranchSeen> RunSession::branchAt(StepId does) const {
  const auto* body = bodyOf(does);
  const auto* branch = body ? std::get_if<BranchStep>(body) : nullptr;
  if (!branch) return {};
  BranchSeen seen{evaluate({branch->requirement})};
  const Verdict verdict =
      seen.evaluations.empty() ? Verdict::Unmeasured : seen.evaluations.front().verdict;
  const bool outside = verdict == Verdict::Outside,
             near = verdict == Verdict::Near || verdict == Verdict::NotProved;
  seen.taken = branch->when == BranchWhen::Within    ? verdict == Verdict::Within
               : branch->when == BranchWhen::Outside ? outside
                                                     : outside || near;
  if (branch->does == BranchDoes::Warn)
    seen.warning =
        fmt::format("Requirement {} is {}.", plan_->spec.requirement(branch->requirement).balloon,
                    words(verdict));
  return seen;
}

Done RunSession::branched(const Branched& branched) {
  const auto* body = bodyOf(branched.step);
  const auto* branch = body ? std::get_if<BranchStep>(body) : nullptr;
  if (!branch) return fail("The journal names a branch that this routine does not have.");
  steps_done_.insert(branched.step);
  if (!branched.taken || branch->does == BranchDoes::Warn) return {};
  const Steps& steps = steps_->steps;
  const std::size_t at = indexOf(steps, branched.step);
  const bool all = branch->does == BranchDoes::Stop;
  for (std::size_t i = at + 1; i < steps.size() && (all || steps[i].depth >= steps[at].depth); ++i)
    left_out_.insert(steps[i].id);
  if (all)
    ended_by_ =
        fmt::format("Requirement {} is {}: the routine ends here.",
                    plan_->spec.requirement(branch->requirement).balloon, name(branch->when));
  return {};
}

Done RunSession::reroute(const Rerouted& from) {
  const auto& styli = plan_->bench.styli;
  const auto stylus = static_cast<std::size_t>(from.access.stylus);
  if (from.access.stylus < 0 || stylus >= styli.size() || from.access.tip < 0 ||
      static_cast<std::size_t>(from.access.tip) >= styli[stylus].tips.size())
    return fail("The journal names a stylus that the bench does not have.");
  RouteStart start{from.ball, from.access, {}, done_, steps_done_, left_out_, aligned_};
  sphere_touches_.clear(); // a tip whose touches are not complete begins anew
  sphere_given_up_.clear();
  // What the router put in has no step of the routine; behind the last one all have been done.
  start.from = StepId{std::numeric_limits<int>::max()};
  for (std::size_t i = way_->steps.size(); i-- > step_;)
    if (way_->steps[i].does.valid()) start.from = way_->steps[i].does;
  auto plan = std::make_shared<const Plan>(elsewhere_ ? planAsFound(*plan_, frame_) : *plan_);
  const Obstacles obstacles = obstaclesOf(*plan);
  // The way from here is of the part as it lies, so that no motion is to be added again.
  auto way = routePlan(*plan, obstacles, {}, &start);
  if (!way) return pass(way.error());
  plan_ = std::move(plan);
  way_ = std::make_shared<const Way>(std::move(*way));
  step_ = position_ = since_ = 0;
  findHandTouches();
  elsewhere_ = again_ = at_hand_touch_ = false;
  return {};
}

std::optional<std::size_t> RunSession::moveAt(const Vec3& ball, double near) const {
  std::size_t last = position_;
  while (last + 1 < way_->positions.size() && !(way_->positions[last].contact && taskAt(last)))
    ++last;
  std::optional<std::pair<double, std::size_t>> best;
  for (std::size_t i = std::max<std::size_t>(since_, 1); i <= last && i < way_->positions.size();
       ++i) {
    const Vec3 from = placeOf(i - 1);
    Vec3 to = placeOf(i);
    const Position& p = way_->positions[i];
    // Of a touch also the search beyond.
    if (p.contact && p.feature.valid())
      to -=
          plan_->feature(p.feature).recipe.search *
          turn(frame_, plan_->feature(p.feature).touches[static_cast<std::size_t>(p.touch)].normal);
    const double d = (closestOnSegment(ball, {from, to}) - ball).norm();
    if (d <= near && (!best || d < best->first - 1e-9)) best = {d, i};
  }
  return best ? std::optional(best->second) : std::nullopt;
}

// From the step where the last event left it, so that deeds in between are not missed.
void RunSession::goOnAt(std::size_t position) {
  position_ = position;
  step_ = std::min(step_, static_cast<std::size_t>(way_->positions[position].step));
  (void)settle(); // as in moved()
}

} // namespace alder
