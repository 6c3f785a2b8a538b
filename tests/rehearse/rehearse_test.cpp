#include "base/files.h"
#include "base/units.h"
#include "exchange/routine/project.h"
#include "fit/association.h"
#include "rehearse/rehearsal.h"
#include "run/simulated_run.h"
#include "support.h"

using namespace alder;

class RehearseTest : public QObject {
  Q_OBJECT
 private slots:
  void moveTimes() {
    Machine m;
    m.speed = Vec3(100, 200, 100);
    m.acceleration = Vec3(500, 1000, 500);
    // long: distance / speed + speed / acceleration
    NEAR(moveSeconds(m, {0, 0, 0}, {100, 0, 0}), 100 / 100.0 + 100 / 500.0, 1e-12);
    // short: two ramps
    NEAR(moveSeconds(m, {0, 0, 0}, {5, 0, 0}), 2 * std::sqrt(5 / 500.0), 1e-12);
    // the slower axis of a slanted move sets the pace
    NEAR(moveSeconds(m, {0, 0, 0}, {100, 100, 0}), moveSeconds(m, {0, 0, 0}, {100, 0, 0}), 1e-12);
    QCOMPARE(moveSeconds(m, {1, 2, 3}, {1, 2, 3}), 0.0);
    m.touch_speed = 4, m.touch_seconds = 0.25;
    NEAR(touchSeconds(m, {0, 0, 0}, {0, 0, 2}), 0.75, 1e-12);
    Head h;
    h.turn_speed = radians(60), h.turn_seconds = 0.8;
    NEAR(turnSeconds(h, {0, 0, 0, 0}, {0, 0, radians(30), radians(90)}), 1.5 + 0.8, 1e-12);
  }
  void timesOnlyGrow() {
    const auto times = timesOf(test::heronPlan().bench, test::heronWay());
    QCOMPARE(times.size(), test::heronWay().positions.size());
    for (std::size_t i = 1; i < times.size(); ++i)
      QVERIFY(times[i] >= times[i - 1]);
  }
  // With what was kept from before, the answers are those of a rehearsal of its own: after one
  // feature changed, and with clashes and turns among the moves.
  void rememberedMovesAnswerAlike() {
    const auto variant = openProject(test::dataPath("heron-clamp.alder"));
    VERIFY_OK(variant);
    Plan plan = variant->plan;
    const Obstacles obstacles = obstaclesOf(plan);
    MoveMemory memory;
    const auto check = [&] {
      const auto way = routePlan(plan, obstacles);
      VERIFY_OK(way);
      const auto whole = rehearse(plan, obstacles, *way);
      const auto kept = rehearse(plan, obstacles, *way, {}, &memory);
      VERIFY_OK(whole);
      VERIFY_OK(kept);
      QCOMPARE(kept->times, whole->times);
      QCOMPARE(kept->least_clearance, whole->least_clearance);
      QCOMPARE(kept->least_at, whole->least_at);
      QCOMPARE(kept->clashes.size(), whole->clashes.size());
      for (std::size_t i = 0; i < whole->clashes.size(); ++i) {
        QCOMPARE(kept->clashes[i].position, whole->clashes[i].position);
        QCOMPARE(kept->clashes[i].seconds, whole->clashes[i].seconds);
        QCOMPARE(kept->clashes[i].depth, whole->clashes[i].depth);
        QCOMPARE(kept->clashes[i].still, whole->clashes[i].still);
      }
    };
    check();
    check(); // all from memory
    Feature& f = plan.feature(test::orderOf(plan)[6]);
    f.touches.pop_back();
    check();
    f.entry = HopMode::Over;
    check();
    for (Feature& each : plan.features)
      each.recipe.approach = 1.5;
    check();
  }
  // The shipped variant hits a clamp where the clean routine does not.
  void theClampVariant() {
    const auto clean = openProject(test::dataPath("heron.alder"));
    const auto variant = openProject(test::dataPath("heron-clamp.alder"));
    VERIFY_OK(clean);
    VERIFY_OK(variant);
    for (const auto& [project, clashes] : {std::pair{&*clean, 0}, {&*variant, 1}}) {
      const Obstacles o = obstaclesOf(project->plan);
      const auto way = routePlan(project->plan, o);
      VERIFY_OK(way);
      const auto r = rehearse(project->plan, o, *way);
      VERIFY_OK(r);
      QCOMPARE(int(r->clashes.size()), clashes);
      if (clashes == 0) continue;
      const Clash& c = r->clashes.front();
      QVERIFY(c.still.starts_with("clamp"));
      QVERIFY(c.depth > 0.5);
      QVERIFY(way->steps[static_cast<std::size_t>(c.step)].text.starts_with("Direct hop"));
      const auto i = static_cast<std::size_t>(c.position);
      QVERIFY(c.seconds >= r->times[i - 1] && c.seconds <= r->times[i]);
      // at the moment named the contact begins: just before there is none
      const Vec3 from = way->positions[i - 1].ball, to = way->positions[i].ball;
      const double share = (c.seconds - r->times[i - 1]) / (r->times[i] - r->times[i - 1]);
      const Tool tool = toolOf(project->plan.bench, way->positions[i].access);
      const Clearance clearance(project->plan, o);
      QVERIFY(clearance.clear(tool, from, from + (share - 1e-3) * (to - from), 0));
      QVERIFY(!clearance.clear(tool, from, from + (share + 1e-3) * (to - from), 0));
    }
  }
  void overrunIsAClash() {
    Plan plan = test::heronPlan();
    plan.bench.machine.volume.max().x() = 455;
    const auto way = routePlan(plan, test::heronObstacles());
    VERIFY_OK(way);
    const auto r = rehearse(plan, test::heronObstacles(), *way);
    VERIFY_OK(r);
    QVERIFY(!r->clear());
    QVERIFY(std::any_of(r->clashes.begin(), r->clashes.end(), [](const Clash& c) {
      return c.moving == "X axis" && c.still == "end of travel";
    }));
  }
  // Without noise the machine finds each surface where the defects put it.
  void touchesFindTheDefects() {
    Plan plan = test::heronPlan();
    plan.bench.machine.probing_noise = 0;
    const FeatureId hole = test::named(plan, "Bore ø11 · 2"), boss = test::named(plan, "Boss ø60");
    Defects d;
    d.features.push_back({hole, FeatureDefect{.move = Vec3(0.1, -0.05, 0), .resize = 0.06}});
    d.features.push_back({boss, FeatureDefect{.lobes = 2, .lobe_amplitude = 0.02}});
    const auto run = runOnSimulatedMachine(plan, test::heronWay(), d, 1);
    VERIFY_OK(run);
    Points p;
    for (const auto& m : run->points)
      if (m.feature == hole) p.push_back(m.surface);
    const Ideal& i = plan.nominal(hole).ideal;
    const auto fit =
        fitLeastSquares(Shape::Cylinder, p, FitStart{i.point, i.direction, i.diameter});
    VERIFY_OK(fit);
    NEAR(fit->diameter, 11.06, 2e-5);
    const Vec3 off = fit->point - i.point;
    NEAR(off.x(), 0.1, 2e-4);
    NEAR(off.y(), -0.05, 2e-4);
    p.clear();
    for (const auto& m : run->points)
      if (m.feature == boss) p.push_back(m.surface);
    const Ideal& b = plan.nominal(boss).ideal;
    const auto round =
        fitLeastSquares(Shape::Cylinder, p, FitStart{b.point, b.direction, b.diameter});
    VERIFY_OK(round);
    QVERIFY(round->form > 0.03 && round->form < 0.0405);
  }
  // The part lies elsewhere on the table: the frame that is found says where, and in it the points
  // are where they belong.
  void aMisplacedPartIsFound() {
    Plan plan = test::heronPlan();
    plan.bench.machine.probing_noise = 0;
    Defects d;
    d.misplacement =
        smallMotion(Vec3(0.002, -0.001, 0.012), Vec3(1.5, -0.9, 0.3), plan.placement.translation());
    const auto run = runOnSimulatedMachine(plan, test::heronWay(), d, 3);
    VERIFY_OK(run);
    const Frame expected = d.misplacement * plan.placement;
    NEAR((run->part_frame.translation() - expected.translation()).norm(), 0.0, 2e-4);
    NEAR((run->part_frame.linear() - expected.linear()).norm(), 0.0, 2e-5);
    const Defects made = asMade(plan, {});
    for (const auto& m : run->points)
      if (test::asModelled(plan, made, m.feature))
        NEAR((m.surface - m.nominal).dot(m.normal), 0.0, 5e-4);
  }
  void oneSeedOneRun() {
    const auto a = runOnSimulatedMachine(test::heronPlan(), test::heronWay(), {}, 9);
    const auto b = runOnSimulatedMachine(test::heronPlan(), test::heronWay(), {}, 9);
    const auto c = runOnSimulatedMachine(test::heronPlan(), test::heronWay(), {}, 10);
    VERIFY_OK(a);
    bool differs = false;
    for (std::size_t i = 0; i < a->points.size(); ++i) {
      QVERIFY(a->points[i].ball == b->points[i].ball);
      differs |= a->points[i].ball != c->points[i].ball;
    }
    QVERIFY(differs);
  }
  void defectFiles() {
    const Plan& plan = test::heronPlan();
    VERIFY_OK(readDefects(*readFile(test::dataPath("heron-defects.json")), "d", plan));
    const auto unknown = readDefects(R"({"features":[{"feature":"Bore 99"}]})", "d.json", plan);
    QVERIFY(!unknown && unknown.error().message.find("Bore 99") != std::string::npos);
    QVERIFY(!readDefects("[]", "d.json", plan));
  }
  // Nominals that lie at a limit are made to the middle; the others stay.
  void madeToTheMiddle() {
    const Defects d = asMade(test::heronPlan(), {});
    const auto* bore = d.of(test::named(test::heronPlan(), "Bore ø32"));
    QVERIFY(bore);
    NEAR(bore->resize, 0.0125, 1e-12);
    QVERIFY(!d.of(test::named(test::heronPlan(), "Boss ø60")));
  }
};
ALDER_TEST(RehearseTest)
#include "rehearse_test.moc"
