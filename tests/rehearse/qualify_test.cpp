#include "base/random.h"
#include "base/units.h"
#include "rehearse/qualify.h"
#include "rehearse/rehearsal.h"
#include "run/simulated_run.h"
#include "support.h"

using namespace alder;

class QualifyTest : public QObject {
  Q_OBJECT

  static Way way(const Plan& plan) {
    const auto way = qualifyWay(plan, test::heronObstacles(), accessesUsed(plan));
    if (!way) qFatal("%s", way.error().message.c_str());
    return *way;
  }

 private slots:
  // Free from above the sphere and back, each tip in a step of its own, round its own pole.
  void theWayIsFree() {
    const Plan& plan = test::heronPlan();
    const Way w = way(plan);
    const auto r = rehearse(plan, test::heronObstacles(), w);
    VERIFY_OK(r);
    for (const Clash& c : r->clashes)
      qWarning("%s meets %s by %g in %s", c.moving.c_str(), c.still.c_str(), c.depth,
               w.steps[static_cast<std::size_t>(c.step)].text.c_str());
    QVERIFY(r->clear());
    std::size_t tips = 0;
    const ReferenceSphere& sphere = plan.bench.sphere;
    for (const Step& s : w.steps) {
      if (s.kind != StepKind::Qualify) continue;
      ++tips;
      int touches = 0;
      for (int i = s.first; i <= s.last; ++i) {
        const Position& p = w.positions[static_cast<std::size_t>(i)];
        QVERIFY(p.access == s.access);
        if (!p.contact) continue;
        ++touches;
        const double radius = plan.tip(p.access).ball_diameter / 2;
        NEAR((p.ball - sphere.centre).norm(), sphere.diameter / 2 + radius, 1e-9);
        const Vec3 before = w.positions[static_cast<std::size_t>(i) - 1].ball;
        NEAR((before - p.ball).normalized().dot((p.ball - sphere.centre).normalized()), 1.0, 1e-9);
      }
      QVERIFY(touches >= 5 && touches <= 9);
    }
    QCOMPARE(tips, accessesUsed(plan).size());
    // Head turns happen where everything has room, swaps at the ports of the rack.
    const Clearance clearance(plan, test::heronObstacles());
    int swaps = 0;
    for (const Position& p : w.positions) {
      if (p.kind == MoveKind::Turn)
        QVERIFY(clearance.roomToTurn(toolOf(plan.bench, p.access), p.ball));
      if (p.kind != MoveKind::Swap) continue;
      ++swaps;
      const Stylus& stylus = plan.bench.styli[static_cast<std::size_t>(p.access.stylus)];
      const RackPort* port = plan.bench.rack->portOf(stylus.name);
      QVERIFY(port);
      const Vec3 pivot = p.ball + toolOf(plan.bench, p.access).ball_to_pivot;
      NEAR((pivot - pivotAtPort(stylus, *port)).norm(), 0.0, 1e-9);
    }
    QVERIFY(swaps >= 2 && swaps % 2 == 0); // each puts one away and takes one
    // Without a rack they are swapped by hand, up there.
    Plan by_hand = plan;
    by_hand.bench.rack.reset();
    const Obstacles bare = obstaclesOf(by_hand);
    const auto other = qualifyWay(by_hand, bare, accessesUsed(by_hand));
    VERIFY_OK(other);
    for (const Position& p : other->positions)
      if (p.kind == MoveKind::Swap)
        QVERIFY(Clearance(by_hand, bare).roomToTurn(toolOf(by_hand.bench, p.access), p.ball));
  }
  // What was made wrong is found: offsets against the reference tip, effective diameters.
  void theTruthIsFound() {
    Plan plan = test::heronPlan();
    plan.bench.machine.probing_noise = 0;
    const Way w = way(plan);
    const auto q = qualifyOnSimulatedMachine(plan, w, {}, {1, 1000, false, Vec3::Zero()});
    VERIFY_OK(q);
    const auto used = accessesUsed(plan);
    QCOMPARE(q->tips.size(), used.size());
    const TipTruth reference = truthOf(plan.bench, used[0]);
    for (const Access& a : used) {
      const QualifiedTip* t = q->find(a);
      QVERIFY(t);
      const TipTruth truth = truthOf(plan.bench, a);
      NEAR((t->offset - (truth.offset - reference.offset)).norm(), 0.0, 1e-6);
      NEAR(t->diameter, truth.diameter, 1e-6);
      QVERIFY(t->form < 1e-6);
      QVERIFY(stateOf(*q, a, plan.bench, 1000) == TipState::Qualified);
      QVERIFY(stateOf(*q, a, plan.bench, 1000 + 25 * 3600) == TipState::Stale);
    }
    QVERIFY(stateOf(*q, {0, 0, radians(35), 0}, plan.bench, 1000) == TipState::Unqualified);
  }
  // A sphere that stayed keeps later tips tied to the first reference; one that was moved is found
  // again, and what was known before is gone.
  void theSphereMovedOrNot() {
    Plan plan = test::heronPlan();
    plan.bench.machine.probing_noise = 0;
    const auto used = accessesUsed(plan);
    const std::vector<Access> others(used.begin() + 1, used.end());
    const auto w = qualifyWay(plan, test::heronObstacles(), {used[0]});
    VERIFY_OK(w);
    const auto first = qualifyOnSimulatedMachine(plan, *w, {}, {1, 10, false, Vec3::Zero()});
    VERIFY_OK(first);
    const auto w2 = qualifyWay(plan, test::heronObstacles(), others);
    VERIFY_OK(w2);
    const auto rest = qualifyOnSimulatedMachine(plan, *w2, *first, {1, 20, false, Vec3::Zero()});
    VERIFY_OK(rest);
    QCOMPARE(rest->tips.size(), used.size());
    const Vec3 reference = truthOf(plan.bench, used[0]).offset;
    for (const Access& a : others)
      NEAR((rest->find(a)->offset - (truthOf(plan.bench, a).offset - reference)).norm(), 0.0, 1e-6);
    const Vec3 moved(0.8, -0.5, 0.3);
    const auto again = qualifyOnSimulatedMachine(plan, way(plan), *rest, {1, 30, true, moved});
    VERIFY_OK(again);
    NEAR((again->sphere - first->sphere - moved).norm(), 0.0, 1e-5);
    for (const Access& a : others)
      NEAR((again->find(a)->offset - (truthOf(plan.bench, a).offset - reference)).norm(), 0.0,
           1e-5);
    const auto one = qualifyOnSimulatedMachine(plan, *w, *rest, {1, 40, true, moved});
    QCOMPARE(one->tips.size(), std::size_t(1));
  }
  void noiseGoesIntoFormAndSigma() {
    Plan plan = test::heronPlan();
    plan.bench.machine.probing_noise = 0.001;
    const auto q = qualifyOnSimulatedMachine(plan, way(plan), {}, {3, 0, false, Vec3::Zero()});
    VERIFY_OK(q);
    double sum = 0;
    for (const QualifiedTip& t : q->tips)
      sum += t.sigma / static_cast<double>(q->tips.size());
    QVERIFY2(sum > 0.0005 && sum < 0.0016, qPrintable(QString::number(sum)));
    QualifiedTip bad = q->tips[0];
    bad.form = 0.02;
    QVERIFY(beyondLimits(bad, plan.bench).find("clean ball and sphere") != std::string::npos);
    bad = q->tips[0];
    bad.diameter += 1;
    QVERIFY(beyondLimits(bad, plan.bench).find("right stylus") != std::string::npos);
    Qualification out{Vec3::Zero(), {bad}};
    QVERIFY(stateOf(out, bad.access, plan.bench, 0) == TipState::OutOfLimits);
  }
  // A run with all tips qualified measures what a perfect bench does; one that leaves a tip out is
  // off by what that tip is off.
  void runsUseWhatIsKnown() {
    Plan plan = test::heronPlan();
    plan.bench.machine.probing_noise = 0;
    const auto largest = [&](const Plan& p) {
      const auto run = runOnSimulatedMachine(p, test::heronWay(), {}, 1);
      double worst = 0;
      for (const MeasuredPoint& m : run->points)
        worst = std::max(worst, std::abs((m.surface - m.nominal).dot(m.normal)));
      return worst;
    };
    const double perfect = largest(plan);
    plan.qualified = *qualifyOnSimulatedMachine(plan, way(plan), {}, {1, 0, false, Vec3::Zero()});
    const double qualified = largest(plan);
    NEAR(qualified, perfect, 2e-4);
    plan.qualified.tips.pop_back();
    QVERIFY(largest(plan) > perfect + 2e-3);
  }
  void badBenches() {
    Plan plan = test::heronPlan();
    plan.bench.has_sphere = false;
    const auto none = qualifyWay(plan, test::heronObstacles(), accessesUsed(plan));
    QVERIFY(!none && none.error().message.find("no reference sphere") != std::string::npos);
    plan = test::heronPlan();
    plan.bench.sphere.centre = plan.placement * Vec3(0, 0, 30); // in the middle of the part
    const auto inside = qualifyWay(plan, test::heronObstacles(), accessesUsed(plan));
    QVERIFY(!inside);
    QVERIFY2(inside.error().message.find("can be touched") != std::string::npos ||
                 inside.error().message.find("no room") != std::string::npos,
             inside.error().message.c_str());
    QVERIFY(!qualifyWay(test::heronPlan(), test::heronObstacles(), {}));
  }
};
ALDER_TEST(QualifyTest)
#include "qualify_test.moc"
