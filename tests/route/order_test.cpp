#include "base/units.h"
#include "route/access_planner.h"
#include "route/order.h"
#include "route/time_model.h"
#include "support.h"

#include <set>

using namespace alder;

class OrderTest : public QObject {
  Q_OBJECT

  static double seconds(const Plan& plan) {
    const auto way = routePlan(plan, test::heronObstacles());
    return way ? timesOf(plan.bench, *way).back() : 1e9;
  }

 private slots:
  void thePartFrameComesFromTheDatumsUsedMost() {
    const Plan& plan = test::heronPlan();
    QCOMPARE(plan.alignment.size(), std::size_t(3));
    for (int i = 0; i < 3; ++i)
      QCOMPARE(plan.alignment[static_cast<std::size_t>(i)],
               plan.spec.datums[static_cast<std::size_t>(i)].features[0]);
  }
  void everyFeatureOnce() {
    const Plan& plan = test::heronPlan();
    const auto order = test::orderOf(plan);
    const std::set<FeatureId> once(order.begin(), order.end());
    QCOMPARE(once.size(), order.size());
    QCOMPARE(once.size(), plan.features.size());
  }
  // Features of one access follow one another, so that angles and styli change as rarely as may be.
  void accessesStayTogether() {
    const Plan& plan = test::heronPlan();
    int changes = 0;
    std::set<std::tuple<int, double, double>> accesses;
    const auto order = test::orderOf(plan);
    for (std::size_t i = 3; i < order.size(); ++i) {
      const Access& a = plan.feature(order[i]).access;
      accesses.insert({a.stylus, a.a, a.b});
      if (i > 3) changes += !(a == plan.feature(order[i - 1]).access);
    }
    QCOMPARE(changes, static_cast<int>(accesses.size()) - 1);
  }
  // Short: a shuffle within the same rules never does better by chance.
  void theOrderIsShort() {
    Plan plan = test::heronPlan();
    const double best = seconds(plan);
    for (int k = 0; k < 6; ++k) {
      Plan other = plan;
      auto order = test::orderOf(plan);
      std::rotate(order.begin() + 3, order.begin() + 4 + 2 * k, order.end());
      test::setOrder(other, order);
      QVERIFY(seconds(other) >= best - 0.5);
    }
  }
  // Against the features in the order of the requirements with every hop over the shell.
  void aThirdIsSaved() {
    Plan plain = test::heronPlan();
    std::vector<FeatureId> order = plain.alignment;
    for (const Requirement& r : plain.spec.requirements)
      for (FeatureId f : touchedFor(plain.spec, r.features))
        if (std::find(order.begin(), order.end(), f) == order.end()) order.push_back(f);
    for (FeatureId f : test::orderOf(plain))
      if (std::find(order.begin(), order.end(), f) == order.end()) order.push_back(f);
    test::setOrder(plain, order);
    for (Feature& f : plain.features)
      f.entry = HopMode::Over;
    const double before = seconds(plain), now = seconds(test::heronPlan());
    qInfo("%.0f s in the order of the requirements over the shell, %.0f s now", before, now);
    QVERIFY(now < 0.7 * before);
  }
  void pinnedFeaturesStay() {
    Plan plan = test::heronPlan();
    auto order = test::orderOf(plan);
    const std::size_t at = order.size() - 4;
    std::swap(order[5], order[at]);
    test::setOrder(plan, order);
    const FeatureId before = order[at - 1], pinned = order[at];
    plan.feature(pinned).pinned = true;
    orderForTime(plan);
    order = test::orderOf(plan);
    const auto found = std::find(order.begin(), order.end(), pinned);
    QVERIFY(found != order.begin() && *(found - 1) == before);
    for (std::size_t i = 0; i < plan.alignment.size(); ++i)
      QCOMPARE(order[i], plan.alignment[i]);
  }
  void datumsShareOneStylus() {
    const Plan& plan = test::heronPlan();
    for (FeatureId f : plan.alignment)
      QCOMPARE(plan.feature(f).access.stylus, plan.feature(plan.alignment[0]).access.stylus);
  }
  void withoutDatumsTheLargestFeaturesServe() {
    Plan plan = test::heronPlan();
    plan.spec.datums.clear();
    for (auto& r : plan.spec.requirements)
      r.datums.clear();
    planOrder(plan);
    QCOMPARE(plan.alignment.size(), std::size_t(3));
    for (std::size_t i = 0; i < 3; ++i)
      QCOMPARE(test::orderOf(plan)[i], plan.alignment[i]);
    QCOMPARE(test::orderOf(plan).size(), plan.features.size());
  }
  void uncoveredDatumsDoNotAlign() {
    Plan plan = test::heronPlan();
    const FeatureId a = plan.alignment[0];
    plan.feature(a).touches.clear();
    planOrder(plan);
    QVERIFY(std::find(plan.alignment.begin(), plan.alignment.end(), a) == plan.alignment.end());
  }
  // Forced angles are kept by a new draft, the rest is chosen again.
  void forcedAccessIsKept() {
    Plan plan = test::heronPlan();
    Feature& f = plan.feature(test::named(plan, "Boss ø120"));
    f.access = {1, 0, radians(15), radians(45)};
    f.access_forced = true;
    VERIFY_OK(planAccess(plan, test::heronObstacles(), {}));
    QVERIFY(f.access == (Access{1, 0, radians(15), radians(45)}));
    for (const Feature& other : plan.features)
      QVERIFY(other.covered());
  }
  // Every straight tip that was chosen is needed: the shortest that reaches all was taken first.
  void shortStyliWhereTheyServe() {
    const Plan& plan = test::heronPlan();
    int with_short = 0;
    for (const Feature& f : plan.features)
      with_short +=
          plan.bench.styli[static_cast<std::size_t>(f.access.stylus)].name.starts_with("short");
    QVERIFY(with_short >= 8);
  }
};
ALDER_TEST(OrderTest)
#include "order_test.moc"
