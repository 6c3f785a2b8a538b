#include "base/units.h"
#include "made_parts.h"
#include "part/step_import.h"
#include "route/draft.h"
#include "route/qualify_way.h"
#include "support.h"

using namespace alder;

// The reference sphere of each bench that ships stands where every tip can touch it at every angle
// of the head, with a part of common size on the table.
class SpherePlaceTest : public QObject {
  Q_OBJECT

 private slots:
  void everyAngleIsServed_data() {
    QTest::addColumn<QString>("bench");
    for (const char* name : {"curlew", "lapwing", "godwit"})
      QTest::newRow(name) << name;
  }
  void everyAngleIsServed() {
    QFETCH(QString, bench);
    const auto step = test::plateStep(1);
    VERIFY_OK(step);
    const auto part = importStep(*step, "plate.step");
    VERIFY_OK(part);
    const Plan plan = beginPlan(*part, test::shippedBench(bench.toStdString()));
    const Obstacles obstacles = obstaclesOf(plan);
    const Head& head = plan.bench.head;
    std::vector<Access> all;
    for (std::size_t s = 0; s < plan.bench.styli.size(); ++s)
      for (std::size_t t = 0; t < plan.bench.styli[s].tips.size(); ++t)
        for (int i = 0; i < stepsOf(head.a); ++i)
          for (int j = 0; j < stepsOf(head.b); ++j)
            all.push_back({static_cast<int>(s), static_cast<int>(t), head.a.low + i * head.a.step,
                           head.b.low + j * head.b.step});
    int failed = 0;
    QStringList why;
    for (const Access& a : all) {
      const auto each = qualifyEach(plan, obstacles, {a});
      VERIFY_OK(each);
      if (each->left.empty()) continue;
      if (++failed <= 8)
        why << QString::fromStdString(nameOf(plan, a) + ": " + each->left.front().why);
    }
    QVERIFY2(failed == 0,
             qPrintable(QString("%1 of %2: %3").arg(failed).arg(all.size()).arg(why.join("; "))));
  }
  // What cannot be qualified says which axis or body ends it and by how much, and does not count as
  // reachable.
  void whatCannotIsTold() {
    auto plan = test::heronPlan();
    plan.bench.sphere.centre.x() = plan.bench.machine.volume.min().x() + 60;
    plan.bench.sphere.foot.x() = plan.bench.sphere.centre.x();
    const Obstacles obstacles = obstaclesOf(plan);
    const Access level{0, 0, radians(90), radians(90)};
    const auto each = qualifyEach(plan, obstacles, {level, {0, 0, 0, 0}});
    VERIFY_OK(each);
    QCOMPARE(each->left.size(), std::size_t(1));
    QVERIFY(each->left[0].access == level);
    QVERIFY2(each->left[0].why.find("X axis would have to go") != std::string::npos,
             each->left[0].why.c_str());
    QVERIFY(!each->way.positions.empty()); // the other one is on the way
    QVERIFY(!canQualify(plan, obstacles, level));
    Plan again = plan;
    for (Feature& f : again.features)
      f.access_forced = false;
    VERIFY_OK(planAccess(again, obstacles, {}));
    for (const Access& a : accessesUsed(again))
      QVERIFY2(canQualify(again, obstacles, a), nameOf(again, a).c_str());
  }
};
ALDER_TEST(SpherePlaceTest)
#include "sphere_place_test.moc"
