#include "plan/steps/step_edit.h"
#include "run/simulated_run.h"
#include "support.h"
#include <map>

using namespace alder;

// Frames on the way of a run: found until they rest, taken from the fixture, and not missed by a
// run that was broken off.
class FrameRoundsTest : public QObject {
  Q_OBJECT

 private:
  // Stops a run before its n-th task.
  class Stopping : public WillingOperator {
   public:
    explicit Stopping(int after = 1 << 30)
        : left_(after) {}
    bool hold() override { return --left_ > 0; }

   private:
    int left_;
  };

  // The Heron with a frame of its own after its sixth step, on a machine without noise.
  static Plan withFrame(double until, int most, double noise = 0) {
    Plan plan = test::heronPlan();
    plan.bench.machine.probing_noise = noise;
    PartFrame f{"again", FrameFit::LeastSquares, {}, "", Vec3::Zero(), Vec3::Zero()};
    for (const char* name : {"Plane · 1", "Bore ø32", "Bore ø8 · 1"})
      f.stages.push_back({{test::named(plan, name)}, ""});
    plan.frames = {f};
    RoutineStep use;
    use.id = freeId(plan.steps);
    use.body = UseFrameStep{"again", until, most};
    plan.steps.insert(plan.steps.begin() + 6, use);
    return plan;
  }
  static Defects lyingOff(const Plan& plan, const Vec3& by) {
    Defects d;
    d.misplacement = smallMotion(Vec3(0, 0, 0.001), by, plan.placement.translation());
    return d;
  }
  struct Outcome {
    RunEnd end;
    std::vector<RunEvent> events;
    std::unique_ptr<RunSession> session;
    std::string trouble;
  };
  static Outcome conducted(const Plan& plan, const Defects& defects) {
    const auto way = routePlan(plan, obstaclesOf(plan));
    if (!way) qFatal("%s", way.error().message.c_str());
    const auto shared = std::make_shared<const Plan>(plan);
    Outcome out;
    out.session = std::make_unique<RunSession>(shared, std::make_shared<const Way>(*way));
    SimulatedController machine({shared, defects, 3, {}, Vec3::Zero(), {}});
    WillingOperator who;
    out.end = conduct(*out.session, machine, who, [&](const RunEvent& e) -> Done {
      out.events.push_back(e);
      return {};
    });
    out.trouble = who.trouble();
    return out;
  }
  static std::map<std::pair<int, int>, int> timesTouched(const RunSession& session) {
    std::map<std::pair<int, int>, int> times;
    for (const RawTouch& t : session.touches())
      ++times[{t.feature.value, t.touch}];
    return times;
  }
  static double off(const Frame& a, const Frame& b) {
    return (a.translation() - b.translation()).norm() + 100 * (a.linear() - b.linear()).norm();
  }

 private slots:
  // The second time the part hardly moves; every touch counts once, and a journal of it all brings
  // back the same.
  void untilItRests() {
    Plan plan = withFrame(0.05, 5);
    plan.alignment.clear(); // not found by hand
    const Defects d = lyingOff(plan, Vec3(0.4, -0.3, 0.2));
    const Outcome run = conducted(plan, d);
    QVERIFY2(run.end.finished, run.end.why.c_str());
    const auto& used = run.session->framesUsed();
    QCOMPARE(used.size(), std::size_t(2));
    QVERIFY(used[0].again && changeBetween(plan, used[0].before, used[0].after).distance > 0.3);
    QVERIFY(used[1].settled && !used[1].again);
    QVERIFY(changeBetween(plan, used[1].before, used[1].after).distance < 0.05);
    QVERIFY(off(run.session->frame(), d.misplacement * plan.placement) < 1e-3);
    QVERIFY(run.trouble.empty());
    const auto times = timesTouched(*run.session);
    for (const Feature& f : plan.features)
      for (int k = 0; f.covered() && k < static_cast<int>(f.touches.size()); ++k)
        QCOMPARE(times.at({f.id.value, k}), 1);
    const auto way = routePlan(plan, obstaclesOf(plan));
    VERIFY_OK(way);
    RunSession again(std::make_shared<const Plan>(plan), std::make_shared<const Way>(*way));
    for (const RunEvent& e : run.events)
      VERIFY_OK(again.take(e));
    QVERIFY(again.touches() == run.session->touches());
    QCOMPARE(again.touchesLeft(), 0);
  }
  // Never twice alike: it is given up after as often as it may, and told.
  void thatNeverRests() {
    const Plan plan = withFrame(1e-9, 3, 0.001);
    const Outcome run = conducted(plan, lyingOff(plan, Vec3(0.1, 0, 0)));
    QVERIFY(!run.end.finished); // this operator does not go on despite anything
    QCOMPARE(run.session->framesUsed().size(), std::size_t(3));
    QVERIFY(!run.session->framesUsed().back().settled);
    QVERIFY2(run.trouble.find("Frame again still moved") != std::string::npos, run.trouble.c_str());
  }
  // Once is enough where nothing else is asked for.
  void once() {
    const Plan plan = withFrame(0, 5);
    const Outcome run = conducted(plan, lyingOff(plan, Vec3(0.3, 0, 0)));
    QVERIFY2(run.end.finished, run.end.why.c_str());
    QCOMPARE(run.session->framesUsed().size(), std::size_t(1));
  }
  // Where the fixture tells where the part lies nobody touches it by hand; further off than a
  // little the way is made anew before anything moves.
  void keptWithTheFixture() {
    for (const double far : {0.2, 6.0}) {
      Plan plan = test::heronPlan();
      plan.bench.machine.probing_noise = 0;
      const Defects d = lyingOff(plan, Vec3(far, 0, 0));
      plan.bench.fixture.frames = {{"left seat", d.misplacement * plan.placement}};
      RoutineStep use;
      use.id = freeId(plan.steps);
      use.body = UseFrameStep{"left seat"};
      plan.steps.insert(plan.steps.begin(), use);
      const auto way = routePlan(plan, obstaclesOf(plan));
      VERIFY_OK(way);
      for (const Step& s : way->steps)
        QVERIFY(s.kind != StepKind::Manual);
      const Outcome run = conducted(plan, d);
      QVERIFY2(run.end.finished, run.end.why.c_str());
      QVERIFY(run.session->byHand().empty());
      QVERIFY(off(run.session->frame(), d.misplacement * plan.placement) < 1e-3);
      QCOMPARE(run.session->framesUsed().front().name, std::string("left seat"));
      QVERIFY(std::holds_alternative<Framed>(run.events[0]));
      const bool rerouted = std::holds_alternative<Rerouted>(run.events[1]);
      QCOMPARE(rerouted, far > 1);
    }
  }
  // Broken off between any two moves and begun again where the machine stands, frames are found as
  // if nothing had been.
  void brokenOffNearTheFrame() {
    const Plan plan = withFrame(0, 1);
    const Defects d = lyingOff(plan, Vec3(0.2, 0.1, 0));
    const Outcome whole = conducted(plan, d);
    QVERIFY2(whole.end.finished, whole.end.why.c_str());
    const auto way = routePlan(plan, obstaclesOf(plan));
    VERIFY_OK(way);
    const auto shared_way = std::make_shared<const Way>(*way);
    // The tasks about the step that uses the frame.
    int near = 0;
    for (const Step& s : way->steps) {
      if (s.kind == StepKind::UseFrame && s.frame == "again") break;
      near += s.last - s.first + 1;
    }
    for (int after = near - 24; after < near + 24; after += 3) {
      const auto shared = std::make_shared<const Plan>(plan);
      SimulatedController machine({shared, d, 3, {}, Vec3::Zero(), {}});
      std::vector<RunEvent> events;
      const auto keep = [&](const RunEvent& e) -> Done {
        events.push_back(e);
        return {};
      };
      {
        RunSession session(shared, shared_way);
        Stopping who(2 * after); // asked twice a task
        QVERIFY(!conduct(session, machine, who, keep).finished);
      }
      RunSession session(shared, shared_way);
      for (const RunEvent& e : std::vector<RunEvent>(events))
        VERIFY_OK(session.take(e));
      WillingOperator who;
      const RunEnd end = conduct(session, machine, who, keep);
      QVERIFY2(end.finished, end.why.c_str());
      QCOMPARE(session.framesUsed().size(), std::size_t(1));
      QVERIFY2(off(session.frame(), whole.session->frame()) < 2e-3,
               qPrintable(QString("stopped after %1").arg(after)));
    }
  }
};
ALDER_TEST(FrameRoundsTest)
#include "frame_rounds_test.moc"
