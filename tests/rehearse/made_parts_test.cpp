#include "judge/judge.h"
#include "made_parts.h"

#include "base/units.h"
#include "exchange/points/points_file.h"
#include "judge/verdict.h"
#include "rehearse/rehearsal.h"
#include "run/simulated_run.h"
#include "support.h"

using namespace alder;

// The whole job on parts that the program has not been built round: other units, turned, far from
// the origin, large and small, with planes or with axes as primary datum.
class MadePartsTest : public QObject {
  Q_OBJECT

  static Result<test::Job> job(const QString& name, const QString& unit, int motion) {
    auto step = name == "bracket" ? test::bracketStep(unit.toStdString(), motion)
                                  : test::shaftStep(unit.toStdString(), motion);
    if (!step) return pass(step.error());
    return test::jobFor(*step);
  }
  static void rows() {
    QTest::addColumn<QString>("part");
    QTest::addColumn<QString>("unit");
    QTest::addColumn<int>("motion");
    QTest::newRow("bracket mm") << "bracket"
                                << "MM" << 0;
    QTest::newRow("bracket inch, turned") << "bracket"
                                          << "INCH" << 1;
    QTest::newRow("bracket metre, turned") << "bracket"
                                           << "M" << 2;
    QTest::newRow("shaft mm") << "shaft"
                              << "MM" << 0;
    QTest::newRow("shaft inch, turned") << "shaft"
                                        << "INCH" << 2;
  }

 private slots:
  void cleanRunIsWithin_data() { rows(); }
  void cleanRunIsWithin() {
    QFETCH(QString, part);
    QFETCH(QString, unit);
    QFETCH(int, motion);
    const auto j = job(part, unit, motion);
    VERIFY_OK(j);
    const Plan& plan = j->plan;
    QCOMPARE(plan.spec.requirements.size(), std::size_t(part == "bracket" ? 15 : 6));
    for (const auto& r : plan.spec.requirements)
      QVERIFY2(isCovered(plan, r), whyNotCovered(plan, r).c_str());
    QVERIFY(j->way.notes.empty());
    const auto r = rehearse(plan, j->obstacles, j->way);
    VERIFY_OK(r);
    QVERIFY2(r->clear(),
             r->clashes.empty() ? "" : (r->clashes[0].moving + " " + r->clashes[0].still).c_str());
    const auto run = runOnSimulatedMachine(plan, j->way, {}, 11);
    VERIFY_OK(run);
    for (const Evaluation& e : judgeAll(plan, measurementsOf(*run)))
      QVERIFY2(e.verdict == Verdict::Within,
               (describe(plan.spec.requirement(e.requirement)) + ": " + e.how).c_str());
  }
  // The same numbers whatever the file's unit and place: only rounding differs.
  void figuresDoNotDependOnTheFile() {
    const auto a = job("bracket", "MM", 0), b = job("bracket", "INCH", 1),
               c = job("bracket", "M", 2);
    VERIFY_OK(a);
    VERIFY_OK(b);
    VERIFY_OK(c);
    for (std::size_t i = 0; i < a->plan.spec.requirements.size(); ++i)
      for (const auto* other : {&*b, &*c}) {
        const Requirement &r = a->plan.spec.requirements[i], &o = other->plan.spec.requirements[i];
        QCOMPARE(describe(r), describe(o));
        NEAR(r.lower, o.lower, 1e-9);
        NEAR(r.upper, o.upper, 1e-9);
        NEAR(r.tolerance, o.tolerance, 1e-9);
        QCOMPARE(r.features.size(), o.features.size());
        for (std::size_t k = 0; k < r.features.size(); ++k) {
          const Ideal &x = a->plan.nominal(r.features[k]).ideal,
                      &y = other->plan.nominal(o.features[k]).ideal;
          QVERIFY(x.type == y.type && x.hole == y.hole);
          NEAR(x.diameter, y.diameter, 1e-5);
        }
      }
  }
  // A bore moved in the part, the part misplaced on the table: exactly the move comes back.
  void defectsComeBack() {
    auto j = job("bracket", "INCH", 1);
    VERIFY_OK(j);
    j->plan.bench.machine.probing_noise = 0;
    const Requirement& position = j->plan.spec.requirements[2];
    const FeatureId bore = position.features[0];
    const Ideal& ideal = j->plan.nominal(bore).ideal;
    const Vec3 aside = anyPerpendicular(ideal.direction);
    Defects d;
    d.features.push_back({bore, FeatureDefect{.move = 0.08 * aside}});
    d.misplacement = smallMotion(Vec3(0, 0, 0.006), Vec3(1, 2, 0), j->plan.placement * ideal.point);
    const auto run = runOnSimulatedMachine(j->plan, j->way, d, 2);
    VERIFY_OK(run);
    const Evaluation e = judge(j->plan, position, measurementsOf(*run));
    QVERIFY(e.actual);
    NEAR(*e.actual, 0.16, 2e-4);
    QVERIFY(e.verdict == Verdict::Outside);
    NEAR(e.features[0].offset.dot(aside), 0.08, 1e-4);
  }
  void tiltedBore() {
    auto j = job("bracket", "MM", 0);
    VERIFY_OK(j);
    j->plan.bench.machine.probing_noise = 0;
    const Requirement& position = j->plan.spec.requirements[6]; // two bores ø9, 0.3
    const Ideal& ideal = j->plan.nominal(position.features[1]).ideal;
    Defects d;
    // about the start of its axis: the far end is off by length times the angle
    d.features.push_back({position.features[1], FeatureDefect{.tilt = Vec3(0.004, 0, 0)}});
    const auto run = runOnSimulatedMachine(j->plan, j->way, d, 2);
    VERIFY_OK(run);
    const Evaluation e = judge(j->plan, position, measurementsOf(*run));
    QVERIFY(e.actual);
    NEAR(*e.actual, 2 * ideal.length * std::tan(0.004), 3e-4);
    QCOMPARE(e.features.front().feature, position.features[1]);
  }
  void runoutAboutACommonDatum() {
    auto j = job("shaft", "INCH", 2);
    VERIFY_OK(j);
    j->plan.bench.machine.probing_noise = 0;
    const Requirement& runout = j->plan.spec.requirements[2];
    QCOMPARE(describe(runout), std::string("circular runout 0.05 | A-B"));
    const Ideal& cone = j->plan.nominal(runout.features[0]).ideal;
    Defects d;
    d.features.push_back(
        {runout.features[0], FeatureDefect{.move = 0.02 * anyPerpendicular(cone.direction)}});
    const auto run = runOnSimulatedMachine(j->plan, j->way, d, 2);
    VERIFY_OK(run);
    const Evaluation e = judge(j->plan, runout, measurementsOf(*run));
    QVERIFY(e.actual);
    // square to the cone: twice the excentricity times the cosine of half its angle, as far as the
    // touches stand in its direction
    const double most = 0.04 * std::cos(cone.half_angle);
    QVERIFY(*e.actual > 0.8 * most && *e.actual <= most + 1e-4);
  }
  void largeAndSmall() {
    const auto big = test::plateStep(8);
    VERIFY_OK(big);
    const auto j = test::jobFor(*big);
    VERIFY_OK(j);
    for (const auto& r : j->plan.spec.requirements)
      QVERIFY(isCovered(j->plan, r));
    const auto r = rehearse(j->plan, j->obstacles, j->way);
    VERIFY_OK(r);
    QVERIFY(r->clear());
    // bores of 1.44 mm: no ball of the bench fits, and that is said
    const auto small = test::plateStep(0.12);
    VERIFY_OK(small);
    const auto k = test::jobFor(*small);
    VERIFY_OK(k);
    QVERIFY(isCovered(k->plan, k->plan.spec.requirements[0]));
    const auto why = whyNotCovered(k->plan, k->plan.spec.requirements[1]);
    QVERIFY2(why.find("does not fit") != std::string::npos, why.c_str());
  }
  // Larger than the machine: said, not crashed.
  void tooLargeForTheMachine() {
    const auto step = test::plateStep(30);
    VERIFY_OK(step);
    const auto j = test::jobFor(*step);
    VERIFY_OK(j);
    int covered = 0;
    for (const auto& r : j->plan.spec.requirements)
      covered += isCovered(j->plan, r);
    QVERIFY(covered < 3);
  }
  void thePartStandsOnRests() {
    for (int motion : {0, 1, 2}) {
      const auto j = job("bracket", "MM", motion);
      VERIFY_OK(j);
      QCOMPARE(j->plan.supports.size(), std::size_t(3));
      Mesh placed;
      placed.append(j->plan.part->mesh, j->plan.placement);
      for (const FixtureBody& b : j->plan.bench.fixture.bodies)
        NEAR(placed.box().min().z(), b.mesh.box().max().z(), 1e-6);
      NEAR(j->plan.placement.linear().determinant(), 1.0, 1e-9);
      // in the middle of the machine
      const Vec3 off = placed.box().center() - j->plan.bench.machine.volume.center();
      NEAR(std::hypot(off.x(), off.y()), 0.0, 1e-6);
    }
  }
};
ALDER_TEST(MadePartsTest)
#include "made_parts_test.moc"
