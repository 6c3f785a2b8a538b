#include "route/clearance.h"

#include "base/random.h"
#include "base/units.h"
#include "route/router.h"
#include "support.h"

using namespace alder;

class ClearanceTest : public QObject {
  Q_OBJECT
 private slots:
  // The posed tool against its drawing: chain from the ball up to the pivot, along the shank.
  void toolsArePosed_data() {
    QTest::addColumn<double>("a");
    QTest::addColumn<double>("b");
    for (const auto& [a, b] : {std::pair{0, 0}, {90, 0}, {90, 90}, {45, -120}, {105, 30}})
      QTest::newRow(qPrintable(QString("A%1 B%2").arg(a).arg(b))) << double(a) << double(b);
  }
  void toolsArePosed() {
    QFETCH(double, a);
    QFETCH(double, b);
    const Plan& plan = test::heronPlan();
    const Access access{1, 0, radians(a), radians(b)};
    const Tool tool = toolOf(plan.bench, access);
    const Tip& tip = plan.tip(access);
    NEAR(tool.ball_radius, 2.0, 1e-12);
    NEAR((tool.ball_to_pivot - tool.shank * 200).norm(), 0.0, 1e-9);
    NEAR((tool.shank - shankDirection(tip, access.a, access.b)).norm(), 0.0, 1e-12);
    Vec3 at = Vec3::Zero();
    std::size_t rods = 0;
    for (const Rod& rod : tool.rods) {
      QVERIFY(tool.bounds.contains(rod.a) && tool.bounds.contains(rod.b));
      if (rod.part == "head" || rod.part == "ram") continue;
      NEAR((rod.a - at).norm(), 0.0, 1e-9); // one follows the other
      at = rod.b;
      ++rods;
    }
    QCOMPARE(rods, tip.rods.size());
    NEAR((at - tool.ball_to_pivot).norm(), 0.0, 1e-9);
    // head and ram stand upright over the pivot, whatever the angles
    for (const Rod& rod : tool.rods)
      if (rod.part == "ram") NEAR((rod.b - rod.a).normalized().z(), 1.0, 1e-12);
    QVERIFY(tool.turn_radius >= 200 && tool.turn_radius < 230);
  }
  void sideTips() {
    const Plan& plan = test::heronPlan();
    const Tool tool = toolOf(plan.bench, {2, 1, 0, 0});
    NEAR((tool.shank - Vec3(-1, 0, 0)).norm(), 0.0, 1e-12); // the +X tip: its shank leads back
    NEAR((tool.ball_to_pivot - Vec3(-15, 0, 98)).norm(), 0.0, 1e-9);
  }
  // Only the touching ball may meet the touched faces, and only so deep.
  void whatATouchMayMeet() {
    const Plan& plan = test::heronPlan();
    const Clearance clearance(plan, test::heronObstacles());
    const FeatureId a = plan.spec.datum("A")->features[0];
    const auto& faces = plan.nominal(a).faces;
    const Tool tool = toolOf(plan.bench, {0, 0, 0, 0});
    const Touch& touch = plan.feature(a).touches.front();
    const Vec3 surface = plan.placement * touch.point;
    const Vec3 before = surface + Vec3(0, 0, 1.5 + 2), contact = surface + Vec3(0, 0, 1.5);
    QVERIFY(clearance.clear(tool, before, contact, 0.25, {&faces}));
    QVERIFY(!clearance.clear(tool, before, contact, 0.25)); // without the allowance
    QVERIFY(!clearance.clear(tool, before, contact - Vec3(0, 0, 0.2), 0.25, {&faces})); // too deep
    const std::vector<FaceId> other{plan.nominal(test::named(plan, "Bore ø32")).faces};
    QVERIFY(!clearance.clear(tool, before, contact, 0.25, {&other})); // another face
    const auto hit = clearance.nearest(tool, before, surface - Vec3(0, 0, 3), 0, {&faces});
    QVERIFY(hit && hit->moving == "ball" && hit->still == "part");
    NEAR(-hit->clearance, 1.5, 1e-6); // the plane goes through the ball's path: its whole radius
  }
  void encountersAreNamed() {
    const Plan& plan = test::heronPlan();
    const Clearance clearance(plan, test::heronObstacles());
    const Tool tool = toolOf(plan.bench, {0, 0, 0, 0});
    // down on the table beside everything
    const Vec3 free(200, 300, 200);
    QVERIFY(clearance.clear(tool, free, free - Vec3(0, 0, 150), 5));
    const auto table = clearance.nearest(tool, free, Vec3(200, 300, -2), 0);
    QVERIFY(table && table->still == "table" && table->moving == "ball");
    NEAR(table->clearance, -3.5, 1e-9);
    // through a clamp
    const Vec3 c = plan.bench.fixture.bodies[4].mesh.box().center();
    const auto clamp = clearance.nearest(tool, c + Vec3(0, 0, 100), c + Vec3(0, 0, 30), 0);
    QVERIFY(!clamp || clamp->still == "clamp 1");
    const auto deep = clearance.nearest(tool, c + Vec3(0, 0, 100), c, 0);
    QVERIFY(deep && deep->clearance < 0);
  }
  void nearestAndClearAgree() {
    const Plan& plan = test::heronPlan();
    const Clearance clearance(plan, test::heronObstacles());
    Random random(8);
    const Vec3 c = test::heronObstacles().solids.center();
    for (int i = 0; i < 150; ++i) {
      const Tool tool =
          toolOf(plan.bench, {i % 2, 0, radians(15.0 * (i % 7)), radians(45.0 * (i % 8))});
      const Vec3 from =
          c + Vec3(random.uniform(-90, 90), random.uniform(-90, 90), random.uniform(20, 120));
      const Vec3 to =
          from + Vec3(random.uniform(-20, 20), random.uniform(-20, 20), random.uniform(-10, 10));
      const auto nearest = clearance.nearest(tool, from, to, 30);
      const double d = nearest ? nearest->clearance : 30;
      if (d > 0.1) QVERIFY(clearance.clear(tool, from, to, d - 0.01));
      if (d < 30) QVERIFY(!clearance.clear(tool, from, to, std::max(0.0, d) + 0.01));
      // the way back is as clear as the way there
      const auto back = clearance.nearest(tool, to, from, 30);
      NEAR(back ? back->clearance : 30.0, d, 1e-9);
    }
  }
  void overruns() {
    const Plan& plan = test::heronPlan();
    const Clearance clearance(plan, test::heronObstacles());
    const Tool tool = toolOf(plan.bench, {0, 0, 0, 0});
    QVERIFY(!clearance.overrun(tool, {450, 600, 200}));
    const auto low = clearance.overrun(tool, {-4, 600, 200});
    QVERIFY(low && low->moving == "X axis");
    NEAR(-low->clearance, 4.0, 1e-9);
    const auto high = clearance.overrun(tool, {450, 600, 860 - 110 + 3});
    QVERIFY(high && high->moving == "Z axis");
    NEAR(-high->clearance, 3.0, 1e-9);
  }
  void approachesAreCutInNarrowFeatures() {
    const Plan& plan = test::heronPlan();
    const FeatureId slot = test::named(plan, "Slot 6"), plane = plan.spec.datum("A")->features[0];
    const auto move = [&](FeatureId f, double radius) {
      const TouchMove m = touchMove(plan, plan.feature(f), plan.feature(f).touches[0], radius);
      return (m.approach - m.contact).norm();
    };
    NEAR(move(plane, 1.5), 2.0, 1e-9);
    NEAR(move(slot, 1.5), 1.5, 1e-9); // 6 wide: half of 6 less the ball's radius
    NEAR(move(slot, 2.5), 0.5, 1e-9);
  }
  void featuresAreRoutedFromOutsideToOutside() {
    const Plan& plan = test::heronPlan();
    const Clearance clearance(plan, test::heronObstacles());
    for (const Feature& f : plan.features) {
      const Tool tool = toolOf(plan.bench, f.access);
      const FeatureRouter router(clearance, tool, f);
      const ShellTravel travel(plan, test::heronObstacles(), tool);
      std::string why;
      const auto positions = router.route(f.touches, why);
      QVERIFY2(!positions.empty(), why.c_str());
      QVERIFY(travel.outside(positions.front().ball));
      QVERIFY(travel.outside(positions.back().ball));
      for (const Touch& t : f.touches)
        QVERIFY(router.reaches(t));
    }
  }
  // From below, through the table: no way, and it says so.
  void noWayIsSaid() {
    Plan plan = test::heronPlan();
    const FeatureId a = plan.spec.datum("A")->features[0];
    const Access lying{0, 0, radians(90), 0}; // the shank lies in the mounting face
    const Tool tool = toolOf(plan.bench, lying);
    const Clearance clearance(plan, test::heronObstacles());
    const FeatureRouter router(clearance, tool, plan.feature(a));
    std::string why;
    const auto positions = router.route(plan.feature(a).touches, why);
    int reached = 0;
    for (const Touch& t : plan.feature(a).touches)
      reached += router.reaches(t);
    QVERIFY(positions.empty() || reached < int(plan.feature(a).touches.size()));
    // forced all the same, it is routed without proof, noted, and rehearsal would show it
    plan.feature(a).access = lying;
    plan.feature(a).access_forced = true;
    const auto way = routePlan(plan, test::heronObstacles());
    VERIFY_OK(way);
    if (positions.empty()) QVERIFY(!way->notes.empty());
  }
};
ALDER_TEST(ClearanceTest)
#include "clearance_test.moc"
