#include "base/units.h"
#include "judge/judge.h"
#include "part/step_import.h"
#include "random_parts.h"
#include "rehearse/rehearsal.h"
#include "route/draft.h"
#include "route/touch_leverage.h"
#include "run/simulated_run.h"
#include "support.h"
#include <map>

using namespace alder;

// What one standing does not reach: set-ups that the draft makes, and touches shared among angles.
class DraftSetupsTest : public QObject {
  Q_OBJECT

  static const Plan& drafted(unsigned seed) {
    static std::map<unsigned, Plan> kept;
    if (const auto found = kept.find(seed); found != kept.end()) return found->second;
    const auto random = test::randomPart(seed);
    const auto part = importStep(random->step, random->name);
    auto plan = draftPlan(*part, *defaultBench());
    return kept.emplace(seed, std::move(*plan)).first->second;
  }
  static Touch touch(const Vec3& at, const Vec3& normal) { return {at, normal, FaceId{0}, 0}; }
  static std::vector<Touch> rings(double height, int count, double turn) {
    std::vector<Touch> all;
    for (double z : {0.0, height})
      for (int k = 0; k < count; ++k) {
        const Vec3 n(std::cos(turn * k / count), std::sin(turn * k / count), 0);
        all.push_back(touch(10 * n + Vec3(0, 0, z), n));
      }
    return all;
  }

 private slots:
  // Worked out by hand: four corners of a square bear a plane with 3/4 each; two rings of six a
  // cylinder, five unknowns on twelve touches, with 5/12.
  void leverageOfWholePatterns() {
    Ideal plane;
    plane.type = SurfaceType::Plane;
    std::vector<Touch> corners;
    for (double x : {0.0, 40.0})
      for (double y : {0.0, 40.0})
        corners.push_back(touch(Vec3(x, y, 5), Vec3::UnitZ()));
    NEAR(leverageAt(plane, corners, corners), std::sqrt(0.75), 1e-9);
    Ideal bore;
    bore.type = SurfaceType::Cylinder;
    bore.direction = Vec3::UnitZ();
    const auto whole = rings(30, 6, 2 * kPi);
    NEAR(leverageAt(bore, whole, whole), std::sqrt(5.0 / 12), 1e-9);
  }
  // One ring says nothing of the axis, a sixth of a turn little, three corners all.
  void leverageOfParts() {
    Ideal bore;
    bore.type = SurfaceType::Cylinder;
    bore.direction = Vec3::UnitZ();
    const auto whole = rings(30, 6, 2 * kPi);
    QVERIFY(std::isinf(leverageAt(bore, {whole.begin(), whole.begin() + 6}, whole)));
    QVERIFY(leverageAt(bore, rings(30, 6, kPi / 3), whole) > kMostLeverage);
    QVERIFY(leverageAt(bore, rings(30, 6, 1.4 * kPi), whole) < kMostLeverage);
    // Where the part lies and how large it is does not count.
    auto far = whole, some = rings(30, 6, kPi / 2);
    const double here = leverageAt(bore, some, whole);
    for (auto* all : {&far, &some})
      for (Touch& t : *all)
        t.point = 25.4 * t.point + Vec3(3000, -2000, 500);
    NEAR(leverageAt(bore, some, far), here, 1e-6);
    Ideal freeform;
    QVERIFY(leverageAt(freeform, some, far) == 1);
  }

  void twoSetups_data() {
    QTest::addColumn<unsigned>("seed");
    QTest::newRow("both sides") << 1007u;
    QTest::newRow("block") << 1004u;
  }
  // Each feature is touched in one set-up, joined by what was measured before; both ways are clear.
  void twoSetups() {
    QFETCH(unsigned, seed);
    const Plan& plan = drafted(seed);
    QCOMPARE(plan.setups.size(), std::size_t(2));
    std::map<FeatureId, int> times;
    for (const Setup& setup : setupsOf(plan)) {
      const Plan one = inSetup(plan, setup.id);
      for (FeatureId id : measuringOrder(one.steps)) {
        ++times[id];
        QVERIFY(one.feature(id).setup == setup.id);
      }
      for (FeatureId id : one.alignment)
        QVERIFY(one.feature(id).setup == setup.id);
      QVERIFY(!setup.supports.empty());
      const auto rehearsal = test::rehearsed(one);
      QVERIFY(rehearsal.clear());
    }
    for (const Feature& f : plan.features) {
      QCOMPARE(times[f.id], 1);
      const auto& portion = plan.nominal(f.id).portion;
      if (portion && portion->joins) {
        QVERIFY(f.setup != firstSetup(plan));
        QVERIFY(plan.feature(portion->of).setup == firstSetup(plan));
      }
    }
    QVERIFY(joiningIn(plan, plan.setups[1].id).size() >= 3);
    for (const Requirement& r : plan.spec.requirements)
      QVERIFY2(isCovered(plan, r), whyNotCovered(plan, r).c_str());
  }
  // A hole of the second set-up that lies off, by datums of the first: what was made comes out.
  void acrossBoth() {
    const Plan& plan = drafted(1007);
    const auto ways = setupWays(plan);
    VERIFY_OK(ways);
    const Requirement* position = nullptr;
    for (const Requirement& r : plan.spec.requirements)
      if (r.kind == Characteristic::Position && r.datums.size() == 3 && r.features.size() == 1 &&
          plan.feature(r.features[0]).setup != firstSetup(plan) &&
          plan.nominal(r.features[0]).ideal.type == SurfaceType::Cylinder)
        position = &r;
    QVERIFY(position);
    const Vec3 move = 0.15 * anyPerpendicular(plan.nominal(position->features[0]).ideal.direction);
    Defects defects;
    FeatureDefect d;
    d.move = move;
    defects.features.emplace_back(position->features[0], d);
    std::vector<double> actuals;
    for (std::uint64_t seed = 1; seed <= 5; ++seed) {
      const auto run = runEverySetup(*ways, defects, seed);
      VERIFY_OK(run);
      const Evaluation e = judge(plan, *position, measurementsOf(*run));
      QVERIFY2(e.actual, e.how.c_str());
      QVERIFY(e.how.find("joined with a misfit") != std::string::npos);
      actuals.push_back(*e.actual);
    }
    std::sort(actuals.begin(), actuals.end());
    NEAR(actuals[2], 0.3, 0.01);
  }
  // The same part and bench, the same routine.
  void theSameAgain() {
    const auto random = test::randomPart(1007);
    const auto part = importStep(random->step, random->name);
    const auto again = draftPlan(*part, *defaultBench());
    VERIFY_OK(again);
    QVERIFY(setupsOf(*again) == setupsOf(drafted(1007)));
    for (const Feature& f : again->features)
      QVERIFY(f.touches == drafted(1007).feature(f.id).touches);
  }
  // A boss that no one angle reaches well is touched from several sides, and judged as one.
  void touchesAreShared() {
    const Plan& plan = drafted(1001);
    const auto shared =
        std::find_if(plan.spec.features.begin(), plan.spec.features.end(),
                     [](const NominalFeature& n) { return n.portion && !n.portion->joins; });
    QVERIFY(shared != plan.spec.features.end());
    const FeatureId whole = shared->portion->of;
    const Feature &a = plan.feature(whole), &b = plan.feature(shared->id);
    QVERIFY(a.covered() && b.covered() && !(a.access == b.access));
    for (const Touch& t : b.touches)
      QVERIFY(std::none_of(a.touches.begin(), a.touches.end(), [&](const Touch& other) {
        return (other.point - t.point).norm() < 1e-9;
      }));
    const auto run = runOnSimulatedMachine(plan, setupWays(plan)->front().way, {}, 4);
    VERIFY_OK(run);
    for (const Evaluation& e : judgeAll(plan, measurementsOf(*run)))
      QVERIFY2(e.verdict == Verdict::Within, e.how.c_str());
  }
};
ALDER_TEST(DraftSetupsTest)
#include "draft_setups_test.moc"
