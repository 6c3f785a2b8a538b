#include "run/driver.h"

#include "base/units.h"
#include "rehearse/rehearsal.h"
#include "route/clear_travel.h"
#include <algorithm>
#include <chrono>
#include <cmath>
#include <set>
#include <tuple>

namespace alder {
namespace {

constexpr double kOnTheWay = 0.5;   // mm
constexpr double kSameAngle = 1e-4; // rad

class Conductor {
 public:
  Conductor(RunSession& session, Controller& machine, Operator& who, const KeepEvent& keep)
      : session_(session)
      , machine_(machine)
      , who_(who)
      , keep_(keep)
      , frames_told_(session.framesUsed().size()) {}

  RunEnd run() {
    for (const RunTask& question : session_.questions())
      if (!ask(question)) return end();
    // Frames that are known without the machine: where it begins depends on them.
    while (session_.frameNext())
      if (!frame()) return end();
    if (!begin()) return end();
    while (true) {
      if (!who_.hold()) return stopped();
      if (session_.needsNewWay()) {
        if (!leavePart() || !routeFromHere()) return end();
        continue;
      }
      const auto task = session_.next();
      if (!task) return {true, session_.endedBy()};
      who_.doing(*task);
      if (!who_.hold()) return stopped(); // may have come meanwhile
      if (!perform(*task)) return end();
    }
  }

 private:
  // All of these: false where the run is to end, `why_` says why.

  bool perform(const RunTask& task) {
    using enum RunTask::Kind;
    if (task.kind == Ask) return ask(task);
    if (task.kind == Deed) return session_.frameNext() ? frame() : deed(task);
    if (task.kind == Wait) {
      if (!who_.proceed(task)) return stop();
      return take(Waited{task.does});
    }
    while (true) {
      Fault fault;
      if (command(task, fault)) return why_.empty();
      if (fault.kind == FaultKind::FeatureEnded && touchesOf(task.feature) > 0)
        return take(Skipped{task.feature, -1});
      const FaultChoice choice = who_.choose(fault, task);
      if (choice == FaultChoice::Stop) return stop();
      if (!recover(task)) return false;
      if (choice == FaultChoice::Skip) return skip(task);
      // What comes next may now be another: a machine that was moved begins elsewhere.
      const auto next = session_.next();
      if (!next || next->position != task.position) return true;
    }
  }

  // False with a fault; true when done, or the run is to end.
  bool command(const RunTask& task, Fault& fault) {
    using enum RunTask::Kind;
    const auto ok = [&](const auto& answer) {
      if (!answer) fault = answer.error();
      return answer.has_value();
    };
    if (task.kind == TakeStylus || task.kind == Turn) {
      if (session_.inHands() && session_.touchesDone() > 0 && !handedOver(task))
        return true; // the run ends
      if (!ok(equip(task.access))) return false;
      return moved(task);
    }
    if (!isEquipped(task.access) && !ok(equip(task.access))) return false;
    if (task.kind == Move) {
      if (!ok(machine_.goTo(task.ball))) return false;
      return moved(task);
    }
    if (task.kind == TouchSphere) {
      const auto ball = machine_.touch(task.touch);
      return ok(ball) && (touchedSphere(task, *ball), true);
    }
    const bool by_hand = task.kind == TouchByHand;
    const auto ball = by_hand ? machine_.touchByHand(task.touch) : machine_.touch(task.touch);
    if (!ok(ball)) return false;
    const Touched touched{session_.corrected(task.feature, task.touch_index, *ball, task.access),
                          by_hand};
    const double deviation = session_.deviation(touched.touch);
    if (take(touched)) who_.touched(touched, deviation);
    return true;
  }

  Answer<void> equip(const Access& access) {
    const Stylus& stylus = session_.plan().bench.styli[static_cast<std::size_t>(access.stylus)];
    const Tip& tip = stylus.tips[static_cast<std::size_t>(access.tip)];
    if (auto done = machine_.take(stylus.name, tip.name); !done) return done;
    if (auto done = machine_.turn(access.a, access.b); !done) return done;
    equipped_ = access;
    return {};
  }
  bool isEquipped(const Access& access) const { return equipped_ == access; }

  bool ask(const RunTask& task) {
    const auto value = who_.answer(task);
    if (!value) return stop();
    const StepBody* body = session_.bodyOf(task.does);
    const Question* ask = body ? questionIn(*body) : nullptr;
    return take(Answered{task.does, ask ? ask->what : task.text, *value,
                         ask ? ask->role : QuestionRole::Other});
  }

  bool touchedSphere(const RunTask& task, const Vec3& ball) {
    const auto now = std::chrono::system_clock::now().time_since_epoch();
    const bool known = session_.plan().qualified.find(task.access) != nullptr;
    const auto before = known ? *session_.plan().qualified.find(task.access) : QualifiedTip{};
    if (!take(SphereTouched{task.does, task.access, task.touch_index, ball,
                            std::chrono::duration_cast<std::chrono::seconds>(now).count()}))
      return false;
    const QualifiedTip* tip = session_.plan().qualified.find(task.access);
    if (!tip || (known && *tip == before)) return true; // it is not complete yet
    const std::string beyond = beyondLimits(*tip, session_.plan().bench);
    return beyond.empty() ||
           who_.goOnDespite(nameOf(session_.plan(), task.access) + ": " + beyond) || stop();
  }

  bool deed(const RunTask& task) {
    const StepBody* body = session_.bodyOf(task.does);
    if (const auto* e = body ? std::get_if<EvaluateStep>(body) : nullptr)
      who_.evaluated(session_.evaluate(e->requirements));
    if (const auto* d = body ? std::get_if<ConstructStep>(body) : nullptr)
      if (const auto shape = session_.constructed(d->feature);
          !shape && !who_.goOnDespite(task.text + ": " + shape.error().message))
        return stop();
    if (const auto* o = body ? std::get_if<OutputStep>(body) : nullptr)
      if (const auto written = who_.write(*o, session_);
          !written && !who_.goOnDespite(written.error().message))
        return stop();
    if (const auto seen = session_.branchAt(task.does)) return branch(task, *seen);
    return take(Waited{task.does});
  }

  // Of what was not touched no frame is found; the operator may go on without.
  bool frame() {
    const std::string which = *session_.frameNext();
    RunSession tried = session_;
    if (const auto found = tried.take(Framed{which}); !found) {
      if (!who_.goOnDespite(found.error().message)) return stop();
      return take(Framed{which, true});
    }
    return take(Framed{which});
  }

  bool branch(const RunTask& task, const BranchSeen& seen) {
    who_.evaluated(seen.evaluations);
    if (!take(Branched{task.does, seen.taken})) return false;
    if (!seen.taken) return true;
    if (!seen.warning.empty()) return who_.warned(seen.warning) || stop();
    // What is left out was on the way; from here it goes on to what comes next.
    return session_.kind() == RunKind::ByHand || session_.inHands() || routeFromHere();
  }

  bool moved(const RunTask& task) {
    session_.moved(task);
    return true;
  }

  // What is not as it should be with a frame that has just been found.
  bool framesTold() {
    while (frames_told_ < session_.framesUsed().size()) {
      const UsedFrame& f = session_.framesUsed()[frames_told_++];
      if (f.again || (f.settled && f.share <= 1)) continue;
      const double moved = changeBetween(session_.plan(), f.before, f.after).distance;
      if (!who_.goOnDespite(
              f.settled ? fmt::format("Frame {} leaves points outside their bands: {:.0f} % used.",
                                      f.name, 100 * f.share)
                        : fmt::format("Frame {} still moved the part by {:.3f} mm the {}. time.",
                                      f.name, moved, f.round)))
        return stop();
    }
    return true;
  }

  bool take(const RunEvent& event) {
    if (auto done = session_.take(event, keep_); !done) return failed(done.error().message);
    return framesTold();
  }

  long touchesOf(FeatureId feature) const {
    const auto in = [&](const std::vector<RawTouch>& all) {
      return std::count_if(all.begin(), all.end(),
                           [&](const RawTouch& t) { return t.feature == feature; });
    };
    return in(session_.inHands() && session_.kind() == RunKind::Automatic ? session_.byHand()
                                                                          : session_.touches());
  }

  // Connected, without faults and homed; asked before it moves for that.
  bool ready(const RunTask& during) {
    while (true) {
      auto begun = machine_.begin();
      if (!begun && begun.error().kind == FaultKind::NotHomed) {
        if (!who_.mayHome(begun.error().message)) return stop();
        begun = machine_.home();
      }
      if (begun) return true;
      if (who_.choose(begun.error(), during) != FaultChoice::Retry) return stop();
    }
  }

  // Every tip of the way under a name that the controller has.
  bool namesKnown() {
    std::vector<ToolWanted> wanted;
    std::set<std::tuple<int, int, double, double>> seen;
    for (const Position& p : session_.way().positions) {
      const Access& x = p.access;
      if (!x.valid() || !seen.insert({x.stylus, x.tip, x.a, x.b}).second) continue;
      const Stylus& stylus = session_.plan().bench.styli[static_cast<std::size_t>(x.stylus)];
      wanted.push_back(
          {stylus.name, stylus.tips[static_cast<std::size_t>(x.tip)].name, x.a, x.b, false});
    }
    for (const ToolWanted& tool : machine_.unknownTools(wanted)) {
      const auto name = who_.toolFor(tool, machine_.toolNames());
      if (!name) return stop();
      machine_.nameTool(tool, *name);
    }
    return true;
  }

  // Connects, and where the run has gone some way finds where on it the machine stands.
  bool begin() {
    if (!ready(session_.next().value_or(RunTask{})) || !namesKnown()) return false;
    if (session_.kind() == RunKind::ByHand || session_.needsNewWay()) return true;
    if (session_.touchesDone() == 0) return standClear();
    return session_.inHands() || standOnWay();
  }

  // Where the run begins, the way to its first place is free, or the operator makes it so.
  bool standClear() {
    const auto now = posture();
    if (!now) return false;
    const auto first = session_.next();
    if (!first || first->kind != RunTask::Kind::Move) return true;
    const Plan& plan = session_.plan();
    const Obstacles obstacles = obstaclesOf(plan);
    const bool clear =
        equipped_.valid() &&
        ShellTravel(plan, obstacles, toolOf(plan.bench, equipped_)).outside(now->ball, first->ball);
    equipped_ = {}; // as the routine asks for it, whatever it holds
    if (!clear && !fromOperator("The machine does not stand clear of the part.")) return false;
    return goToStart(*first, obstacles);
  }

  // With another stylus the machine comes from the rack: from there over the shell. A fault is met
  // again, and told, as the run goes on.
  bool goToStart(const RunTask& first, const Obstacles& obstacles) {
    if (!equip(first.access)) {
      equipped_ = {};
      return true;
    }
    const auto now = posture();
    if (!now) return false;
    equipped_ = first.access;
    const Plan& plan = session_.plan();
    const Tool tool = toolOf(plan.bench, first.access);
    const ShellTravel travel(plan, obstacles, tool);
    const Clearance clearance(plan, obstacles);
    constexpr double kMargin = 1; // mm
    if (travel.outside(now->ball, first.ball) &&
        clearance.clear(tool, now->ball, first.ball, kMargin))
      return true;
    Vec3 from = now->ball;
    std::vector<Vec3> way;
    if (const auto up = travel.exitDistance(from, Vec3::UnitZ()); up && *up > 0)
      way.push_back(from += *up * Vec3::UnitZ());
    for (const Vec3& p : travelPastBench(clearance, tool, travel, from, first.ball))
      way.push_back(p);
    const auto gone = follow(way);
    return gone || (why_.empty() && fromElsewhere(gone.error()));
  }

  // Along these places; else why not, with the machine ready again, or the run to end.
  tl::expected<void, std::string> follow(const std::vector<Vec3>& way) {
    for (const Vec3& p : way)
      if (const auto gone = machine_.goTo(p); !gone) {
        if (const auto ready = machine_.begin(); !ready) failed(ready.error().message);
        return tl::unexpected(gone.error().message);
      }
    return {};
  }

  // Where the machine stands; equipped as it says.
  std::optional<Posture> posture() {
    auto now = machine_.posture();
    if (!now) {
      failed(now.error().message);
      return {};
    }
    const auto& styli = session_.plan().bench.styli;
    equipped_ = {};
    for (std::size_t s = 0; s < styli.size(); ++s)
      for (std::size_t t = 0; t < styli[s].tips.size(); ++t)
        if (styli[s].name == now->stylus && styli[s].tips[t].name == now->tip)
          equipped_ = {static_cast<int>(s), static_cast<int>(t), now->a, now->b};
    return *now;
  }

  static bool alike(const Access& x, const Access& y) {
    return x.stylus == y.stylus && x.tip == y.tip && std::abs(x.a - y.a) < kSameAngle &&
           std::abs(x.b - y.b) < kSameAngle;
  }

  // Goes on along the move on which the machine stands; else from where the operator takes it.
  bool standOnWay() {
    const auto now = posture();
    if (!now) return false;
    const auto at = session_.moveAt(now->ball, kOnTheWay);
    if (at && alike(equipped_, session_.way().positions[*at].access)) {
      equipped_ = session_.way().positions[*at].access;
      session_.goOnAt(*at);
      return true;
    }
    return fromElsewhere("The machine does not stand on its way any more.");
  }

  bool fromElsewhere(const std::string& why) { return fromOperator(why) && routeFromHere(); }

  // Off the touch by which the part was found.
  bool leavePart() {
    if (!session_.atHandTouch()) return true;
    const auto off = machine_.goTo(session_.backOff());
    if (off) return true;
    const auto ready = machine_.begin();
    return ready ? fromOperator(off.error().message) : failed(ready.error().message);
  }
  // Between touches by hand the operator drives clear of the part; from there the machine goes by
  // itself to the place where the change has room, over the shell.
  bool handedOver(const RunTask& task) {
    const Plan& plan = session_.plan();
    const Obstacles obstacles = obstaclesOf(plan);
    std::string why = "The stylus or its angles change.";
    constexpr int kTries = 3;
    for (int tries = 0; tries < kTries; ++tries) {
      if (!fromOperator(why, true)) return false;
      const auto now = posture();
      if (!now) return false;
      if (!equipped_.valid()) return failed("The machine holds a stylus that the bench lacks.");
      const Tool tool = toolOf(plan.bench, equipped_);
      const ShellTravel travel(plan, obstacles, tool);
      why = "The stylus or its angles change, and the machine does not stand clear of the part.";
      if (!travel.outside(now->ball)) continue;
      const Vec3 pivot = task.ball + toolOf(plan.bench, task.access).ball_to_pivot;
      const Vec3 place =
          task.kind == RunTask::Kind::Turn ? Vec3(pivot - tool.ball_to_pivot) : Vec3(now->ball);
      auto way = travelPastBench(Clearance(plan, obstacles), tool, travel, now->ball, place);
      way.push_back(place);
      const auto gone = follow(way);
      if (gone) return true;
      if (!why_.empty()) return false;
      why = gone.error();
    }
    return failed(why);
  }
  bool fromOperator(const std::string& why, bool foreseen = false) {
    if (!who_.moveClear(why, foreseen)) return stop();
    const auto moved = machine_.clearByHand();
    return moved || failed(moved.error().message);
  }

  // The way made anew from where the machine stands, and proved.
  bool routeFromHere() {
    for (int tries = 0;; ++tries) {
      const auto now = posture();
      if (!now) return false;
      if (!equipped_.valid()) return failed("The machine holds a stylus that the bench lacks.");
      if (!take(Rerouted{now->ball, equipped_})) return false;
      if (session_.kind() == RunKind::ByHand) return true; // nothing moves by itself
      const Plan& plan = session_.plan();
      auto checked = rehearse(plan, obstaclesOf(plan), session_.way());
      if (!checked) return failed(checked.error().message);
      if (checked->clear()) return true;
      const Clash& clash = checked->clashes.front();
      const std::string words =
          fmt::format("{}: the {} would meet the {}, {:.2f} mm deep",
                      session_.way().steps[static_cast<std::size_t>(clash.step)].text, clash.moving,
                      clash.still, clash.depth);
      // The way out is the operator's, once; what else clashes is the place of the part.
      if (clash.position <= 2 && tries == 0) {
        if (!fromOperator(words)) return false;
        continue;
      }
      if (who_.goOnDespite("Where the part lies the way is not free: " + words)) return true;
      return stop();
    }
  }

  // After a fault: back to where the move began, which is known to be free.
  bool recover(const RunTask& task) {
    if (!ready(task)) return false;
    using enum RunTask::Kind;
    if (session_.inHands() || task.kind == TakeStylus || task.kind == Turn) {
      equipped_ = {};
      return true;
    }
    const auto now = posture();
    if (!now) return false;
    const auto at = session_.moveAt(now->ball, kOnTheWay);
    const bool first = task.position == 0;
    if (!first && (!at || !alike(equipped_, task.access)))
      return fromElsewhere("The machine does not stand on its way any more.");
    equipped_ = alike(equipped_, task.access) ? task.access : equipped_;
    if (first) return true;
    if (auto back = machine_.goTo(session_.placeOf(static_cast<std::size_t>(task.position) - 1));
        !back)
      return fromElsewhere(back.error().message);
    return true;
  }

  // The touch; or where the machine could not move, the feature that it was moving to.
  bool skip(const RunTask& task) {
    if (task.kind == RunTask::Kind::TouchSphere) return take(TipGivenUp{task.does, task.access});
    if (task.touch_index >= 0) return take(Skipped{task.feature, task.touch_index});
    if (!task.feature.valid()) {
      return moved(task);
    }
    if (!take(Skipped{task.feature, -1})) return false;
    return session_.inHands() || fromElsewhere("The way to the next feature begins anew.");
  }

  bool stop() { return failed("Stopped by the operator."); }
  bool failed(const std::string& why) {
    why_ = why;
    return false;
  }
  RunEnd end() const { return {false, why_}; }
  RunEnd stopped() {
    stop();
    return end();
  }

  RunSession& session_;
  Controller& machine_;
  Operator& who_;
  const KeepEvent& keep_;
  Access equipped_;
  std::size_t frames_told_;
  std::string why_;
};

} // namespace

std::string unknownTool(const ToolWanted& tool, const std::vector<std::string>& names) {
  std::string of = tool.stylus + "/" + tool.tip;
  if (tool.posture)
    of += fmt::format(" at A{:g} B{:g}", shownDegrees(tool.a), shownDegrees(tool.b));
  if (names.empty()) return fmt::format("The machine lists no tools, and {} is needed.", of);
  return fmt::format("The machine knows no tool for {}. It knows {}.", of, fmt::join(names, ", "));
}

RunEnd conduct(RunSession& session, Controller& machine, Operator& who, const KeepEvent& keep) {
  return Conductor(session, machine, who, keep).run();
}

} // namespace alder
