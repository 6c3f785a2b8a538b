#include "base/units.h"
#include "rehearse/rehearsal.h"
#include "route/draft.h"
#include "route/feature_router.h"
#include "route/reach.h"

#include "made_parts.h"
#include "part/step_import.h"
#include "route/bench_change.h"
#include "support.h"

using namespace alder;

class ReachTest : public QObject {
  Q_OBJECT

 private slots:
  // What the draft chose is free in the map, a cell that is free can be routed, and each cell says
  // what a check of its touches by themselves says.
  void agreesWithTheRouter() {
    const Plan& plan = test::heronPlan();
    const Obstacles& obstacles = test::heronObstacles();
    const Clearance clearance(plan, obstacles);
    const Head& head = plan.bench.head;
    for (const char* feature : {"Bore ø32", "Bore ø8 · 1", "Boss ø60"}) {
      const FeatureId id = test::named(plan, feature);
      const Feature& f = plan.feature(id);
      const auto maps = reachMaps(plan, obstacles, {id}, f.access.stylus, f.access.tip, 1);
      VERIFY_OK(maps);
      const ReachMap& map = maps->front();
      QCOMPARE(map.rows, 22);
      QCOMPARE(map.columns, 73);
      QVERIFY(map.freeCount() > 0);
      bool chosen = false;
      for (const ReachCell& c : map.cells) {
        QVERIFY(head.a.holds(c.a) && head.b.holds(c.b));
        chosen |= std::abs(c.a - f.access.a) < 1e-9 && std::abs(c.b - f.access.b) < 1e-9 &&
                  c.reach == Reach::Free;
        QCOMPARE(c.reach == Reach::Free, c.reached == map.touches);
        if (c.reach == Reach::Clash || c.reach == Reach::Some || c.reach == Reach::Beyond)
          QVERIFY(!c.blocked.moving.empty() && !c.blocked.still.empty());
      }
      QVERIFY(chosen);
      for (int k = 0; k < map.rows * map.columns; k += 37) {
        const ReachCell& c = map.cells[static_cast<std::size_t>(k)];
        const Tool tool = toolOf(plan.bench, {f.access.stylus, f.access.tip, c.a, c.b});
        const FeatureRouter router(clearance, tool, f);
        int reached = 0;
        for (const Touch& t : f.touches)
          reached += turn(plan.placement, t.normal).dot(tool.shank) >= -0.35 && router.reaches(t);
        QCOMPARE(c.reached, reached);
      }
    }
  }
  void coarserMapsAreParts() {
    const Plan& plan = test::heronPlan();
    const FeatureId id = test::named(plan, "Bore ø8 · 1");
    const auto fine = reachMaps(plan, test::heronObstacles(), {id}, 0, 0, 1);
    const auto coarse = reachMaps(plan, test::heronObstacles(), {id}, 0, 0, 3);
    for (int r = 0; r < coarse->front().rows; ++r)
      for (int c = 0; c < coarse->front().columns; ++c) {
        const ReachCell &x = coarse->front().at(r, c), &y = fine->front().at(3 * r, 3 * c);
        NEAR(x.a, y.a, 1e-12);
        NEAR(x.b, y.b, 1e-12);
        QVERIFY(x.reach == y.reach && x.reached == y.reached);
      }
  }
  // Only a longer shank gets down the bore when all styli are short and the ball would fit.
  void aLongerShankIsProposed() {
    Bench bench = test::heronBench();
    std::erase_if(bench.styli, [](const Stylus& s) { return s.name != "short ø3"; });
    Tip& tip = bench.styli[0].tips[0];
    const double shorter = 27; // 5 mm are left
    tip.pivot_to_ball -= shorter * tip.direction;
    for (std::size_t k = 0; k < tip.rods.size(); ++k) {
      if (k > 0) tip.rods[k].a += shorter * tip.direction;
      tip.rods[k].b += shorter * tip.direction;
    }
    // As it stands; the draft would turn the part and reach it from the other side.
    Plan plan = beginPlan(test::heron(), bench);
    VERIFY_OK(planAccess(plan, obstaclesOf(plan), {}));
    int helped = 0;
    for (const Feature& f : plan.features)
      helped +=
          f.why_not.find("in place of that of short ø3 would reach it at A") != std::string::npos;
    QVERIFY2(helped > 0, plan.features[1].why_not.c_str());
  }
  // Where the ball does not go in, a smaller one on a thinner shaft is proposed, and goes in.
  void aSmallerBallIsProposed() {
    Json json = Json::parse(defaultBench()->json);
    json["styli"].erase(2); // the star, whose balls would do
    json["rack"]["ports"].erase(2);
    auto bench = readBench(json.dump(), "two");
    VERIFY_OK(bench);
    const auto step = test::plateStep(0.25);
    VERIFY_OK(step);
    const auto part = importStep(*step, "small");
    VERIFY_OK(part);
    const auto plan = draftPlan(*part, std::move(*bench));
    VERIFY_OK(plan);
    std::vector<FeatureId> open;
    for (const Feature& f : plan->features)
      if (!f.covered()) open.push_back(f.id);
    QCOMPARE(open.size(), std::size_t(2));
    const Feature& bore = plan->feature(open[0]);
    QVERIFY2(bore.why_not.find("a ball ø") != std::string::npos, bore.why_not.c_str());
    const auto group = takeFittingStylus(*plan, open);
    VERIFY_OK(group);
    Plan changed = *plan;
    VERIFY_OK(applyEdits(changed, *group));
    QCOMPARE(changed.bench.styli.size(), std::size_t(3));
    for (FeatureId id : open)
      QVERIFY2(changed.feature(id).covered(), changed.feature(id).why_not.c_str());
    QVERIFY(test::rehearsed(changed).clear());
  }
  // With the head held straight down only the star's side tips get into the holes in the flanks.
  void sideTipsServeWhatIsLeft() {
    Bench bench = test::heronBench();
    bench.head.a.high = bench.head.a.low = 0;
    const auto plan = draftPlan(test::heron(), bench);
    VERIFY_OK(plan);
    int sideways = 0;
    for (const Feature& f : plan->features)
      sideways += f.access.valid() && !plan->tip(f.access).straight();
    QVERIFY2(sideways > 0, qPrintable(QString::number(sideways)));
    QVERIFY(test::rehearsed(*plan).clear());
  }
  void cancelled() {
    std::stop_source source;
    source.request_stop();
    Progress progress;
    progress.stop = source.get_token();
    QVERIFY(
        !reachMaps(test::heronPlan(), test::heronObstacles(), {FeatureId{0}}, 0, 0, 1, progress));
  }
};
ALDER_TEST(ReachTest)
#include "reach_test.moc"
