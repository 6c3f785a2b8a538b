#include "judge/setup_join.h"

#include "base/random.h"
#include "base/units.h"
#include "judge/judge.h"
#include "support.h"

using namespace alder;

// Set-ups joined by what is touched in both, on points worked out by hand.
class SetupJoinTest : public QObject {
  Q_OBJECT

  // The Heron as if it were exact; requirements over planes and bores of both set-ups.
  struct TwoSetups {
    Plan plan;
    Measurements measured;
    std::vector<FeatureId> joining; // in the second
  };

  static const Plan& heron() { return test::heronPlan(); }
  // Features whose datum letters are these.
  static std::vector<FeatureId> datums() {
    std::vector<FeatureId> all;
    for (const Datum& d : heron().spec.datums)
      for (FeatureId id : d.features)
        if (!heron().nominal(id).isConstructed()) all.push_back(id);
    return all;
  }

  // Every second feature that is no datum goes to the second set-up, the datums join.
  static TwoSetups parted(double noise = 0) {
    TwoSetups two{heron(), test::exactly(heron()), {}};
    Plan& plan = two.plan;
    plan.setups = setupsOf(plan);
    plan.setups.push_back({SetupId{1}, "set-up 2"});
    const auto all = datums();
    std::size_t k = 0;
    for (Feature& f : plan.features)
      if (f.covered() && std::find(all.begin(), all.end(), f.id) == all.end() && ++k % 2)
        f.setup = SetupId{1};
    for (FeatureId id : all) {
      if (!plan.feature(id).covered()) continue;
      NominalFeature n = plan.nominal(id);
      Feature f = plan.feature(id);
      n.id = plan.spec.features.next(), n.name += " again";
      n.portion = Portion{id, true};
      f.id = n.id, f.setup = SetupId{1};
      const auto place = touchedCount(plan);
      plan.spec.features.insert(place, n);
      plan.features.insert(place, f);
      two.measured[n.id] = two.measured.at(id);
      two.joining.push_back(n.id);
    }
    if (noise > 0) {
      Random random(5);
      for (auto& [id, m] : two.measured)
        for (std::size_t i = 0; i < m.points.size(); ++i)
          m.points[i] += noise * random.normal() *
                         plan.feature(id).touches[i % plan.feature(id).touches.size()].normal;
    }
    return two;
  }
  // What was measured in the second set-up, elsewhere.
  static void displace(TwoSetups& two, const Frame& motion) {
    for (auto& [id, m] : two.measured)
      if (two.plan.feature(id).setup == SetupId{1}) m.points = test::moved(m.points, motion);
  }
  static Frame small() {
    return smallMotion(Vec3(0.004, -0.003, 0.006), Vec3(0.4, -0.7, 0.2), Vec3(10, 20, 0));
  }

 private slots:
  // However the part lay in the second, the points come to where they belong.
  void comeTogether_data() {
    QTest::addColumn<int>("kind");
    QTest::newRow("a little off") << 0;
    QTest::newRow("anywhere") << 1;
    QTest::newRow("as it was") << 2;
  }
  void comeTogether() {
    QFETCH(int, kind);
    TwoSetups two = parted();
    const Frame motion = kind == 0 ? small() : kind == 1 ? test::anyMotion(4) : Frame::Identity();
    displace(two, motion);
    const Joined joined = joinedSetups(two.plan, two.measured);
    QCOMPARE(joined.joins.size(), std::size_t(1));
    QVERIFY2(joined.joins[0].why.empty(), joined.joins[0].why.c_str());
    QVERIFY(joined.joins[0].misfit < 1e-6);
    QVERIFY((joined.joins[0].placement.matrix() - motion.inverse().matrix()).norm() < 1e-5);
    const Measurements whole = test::exactly(heron());
    QCOMPARE(joined.measured.size(), whole.size()); // joining portions are not judged
    for (const auto& [id, m] : whole)
      for (std::size_t i = 0; i < m.points.size(); ++i)
        QVERIFY2((m.points[i] - joined.measured.at(id).points[i]).norm() < 1e-5,
                 heron().nominal(id).name.c_str());
  }
  // The verdicts are those of the same part measured in one go.
  void judgedAsOne() {
    TwoSetups two = parted(0.001);
    const auto expected = [&] {
      Measurements one = two.measured;
      for (FeatureId id : two.joining)
        one.erase(id);
      return judgeAll(heron(), one);
    }();
    displace(two, small());
    const auto found = judgeAll(two.plan, two.measured);
    QCOMPARE(found.size(), expected.size());
    int across = 0;
    for (std::size_t i = 0; i < found.size(); ++i) {
      QCOMPARE(found[i].actual.has_value(), expected[i].actual.has_value());
      across += found[i].how.find("joined with a misfit") != std::string::npos;
      // By the noise of what joins, and no more.
      if (found[i].actual) NEAR(*found[i].actual, *expected[i].actual, 5e-3);
    }
    QVERIFY(across > 5);
  }
  // A portion's points count with those of its feature.
  void portionsAreJudgedTogether() {
    Plan plan = heron();
    Measurements measured = test::exactly(plan);
    FeatureId bore;
    for (const Feature& candidate : heron().features)
      if (!bore.valid() && candidate.covered() &&
          heron().nominal(candidate.id).ideal.type == SurfaceType::Cylinder)
        bore = candidate.id;
    QVERIFY(bore.valid());
    NominalFeature n = plan.nominal(bore);
    Feature f = plan.feature(bore);
    n.id = plan.spec.features.next(), n.name += " · 2", n.portion = Portion{bore, false};
    f.id = n.id;
    const auto place = touchedCount(plan);
    plan.spec.features.insert(place, n);
    plan.features.insert(place, f);
    measured[n.id] = measured.at(bore);
    const Joined joined = joinedSetups(plan, measured);
    QVERIFY(joined.joins.empty());
    QCOMPARE(joined.measured.at(bore).points.size(), 2 * measured.at(bore).points.size());
    QVERIFY(!joined.measured.contains(n.id));
    // Rings at the same place are one; those at another are of their own.
    QCOMPARE(joined.measured.at(bore).byRow().size(), measured.at(bore).byRow().size());
    for (Vec3& p : measured[n.id].nominals)
      p += plan.nominal(bore).ideal.direction;
    const Joined deeper = joinedSetups(plan, measured);
    QCOMPARE(deeper.measured.at(bore).byRow().size(), 2 * measured.at(bore).byRow().size());
    Requirement r;
    r.features = {bore};
    const auto needed = featuresNeeded(plan.spec, r);
    QVERIFY(std::find(needed.begin(), needed.end(), n.id) != needed.end());
  }
  // One that is off in the second set-up: no figure across set-ups, but those within one.
  void disagreement() {
    TwoSetups two = parted();
    const FeatureId off = two.joining.front();
    const Vec3 normal = two.plan.feature(off).touches.front().normal;
    // Bent rather than moved, which the others would have to take up.
    auto& points = two.measured.at(off).points;
    for (std::size_t i = 0; i < points.size(); ++i)
      points[i] += (i % 2 ? 0.2 : 0.0) * normal;
    const Joined bent = joinedSetups(two.plan, two.measured);
    QVERIFY(bent.joins[0].misfit < 0.1); // its own form is not a misfit
    // Each turned in its own way: no motion of the whole does that.
    for (std::size_t k = 0; k < two.joining.size(); ++k) {
      auto& own = two.measured.at(two.joining[k]).points;
      own = test::moved(own, smallMotion(0.02 * Vec3::Unit(static_cast<int>(k % 3)), Vec3::Zero(),
                                         centroid(own)));
    }
    const Joined joined = joinedSetups(two.plan, two.measured);
    QVERIFY(joined.joins[0].why.find("disagrees by") != std::string::npos);
    int apart = 0, within = 0;
    for (const Evaluation& e : judgeAll(two.plan, two.measured)) {
      apart += e.how.find("cannot be joined") != std::string::npos && !e.actual;
      within += e.actual.has_value();
    }
    QVERIFY(apart > 3);
    QVERIFY(within > 3);
  }
  // One plane leaves the part free to slide and to turn.
  void tooFewJoin() {
    TwoSetups two = parted();
    for (std::size_t k = 1; k < two.joining.size(); ++k)
      two.measured.erase(two.joining[k]);
    const Joined joined = joinedSetups(two.plan, two.measured);
    QVERIFY(joined.joins[0].why.find("leave") != std::string::npos);
    for (FeatureId id : two.joining)
      two.measured.erase(id);
    QVERIFY(joinedSetups(two.plan, two.measured).joins[0].why.find("no feature") !=
            std::string::npos);
  }
};
ALDER_TEST(SetupJoinTest)
#include "setup_join_test.moc"
