#include "base/units.h"
#include "heron.h"
#include "plan/edit.h"
#include "rehearse/rehearsal.h"
#include "support.h"

using namespace alder;

namespace {

Bench benchWith(const std::function<void(Json&)>& change) {
  Json json = Json::parse(demo::benchJson(true));
  change(json);
  return *readBench(json.dump(), "shop.json");
}

} // namespace

// What the bench brings to the way: rack, carried parts of the machine, exceptions of the checks.
class BenchWayTest : public QObject {
  Q_OBJECT
 private slots:
  // Each swap goes to the rack: in from the front, off, over, into the other, out again; the head
  // straight down all the time, and the tool bare in between.
  void swapsAtTheRack() {
    const Plan& plan = test::heronPlan();
    const Way& way = test::heronWay();
    const auto& ports = plan.bench.rack->ports;
    int swaps = 0;
    for (std::size_t i = 1; i < way.positions.size(); ++i) {
      const Position &p = way.positions[i], &before = way.positions[i - 1];
      if (p.access.stylus != before.access.stylus) QVERIFY(before.bare && !p.bare);
      if (p.kind != MoveKind::Swap) continue;
      ++swaps;
      QVERIFY(p.access.a == 0 && p.access.b == 0);
      const Tool tool = toolOf(plan.bench, p.access);
      const Stylus& s = plan.bench.styli[static_cast<std::size_t>(p.access.stylus)];
      const RackPort* port = plan.bench.rack->portOf(s.name);
      QVERIFY(port);
      NEAR((p.ball + tool.ball_to_pivot - pivotAtPort(s, *port)).norm(), 0.0, 1e-9);
      // into it and out of it along the level
      const Position& beside = p.bare ? way.positions[i - 2] : way.positions[i + 1];
      NEAR(std::abs((beside.ball - p.ball).dot(plan.bench.rack->out)), plan.bench.rack->slide,
           1e-9);
    }
    QVERIFY(swaps >= 2 && swaps % 2 == 0);
    QCOMPARE(ports.size(), std::size_t(3));
    QVERIFY(test::rehearsed(plan).clear());
  }
  // A rack that stands in the way of its own styli is found.
  void badRack() {
    Plan plan = test::heronPlan();
    plan.bench = benchWith([](Json& j) {
      j["rack"]["bodies"][0]["boxes"].push_back(
          {{"min", {500, 1050, 0}}, {"max", {700, 1090, 330}}});
    });
    const Rehearsal r = test::rehearsed(plan);
    QVERIFY(std::any_of(r.clashes.begin(), r.clashes.end(),
                        [](const Clash& c) { return c.still == "rack"; }));
  }
  // A beam that hangs too low meets the part when the ram goes down; exactly so deep.
  void beamMeetsThePart() {
    Plan plan = test::heronPlan();
    plan.bench = benchWith([](Json& j) {
      j["machine"]["bodies"] = {
          {{"name", "beam"},
           {"moves_with", "y"},
           {"boxes", {{{"min", {-250, -50, 130}}, {"max", {1150, 50, 300}}}}}}};
    });
    const Obstacles obstacles = obstaclesOf(plan);
    const Clearance clearance(plan, obstacles);
    const Tool tool = toolOf(plan.bench, {0, 0, 0, 0});
    const double top = obstacles.part.box().max().z();
    QVERIFY(top > 130);
    const Vec3 far(450, 100, 700), near(450, 600, 700);
    QVERIFY(clearance.clear(tool, far, far, 1));
    QVERIFY(!clearance.clear(tool, far, near, 1));
    const auto met = clearance.nearest(tool, far, near, 10);
    QVERIFY(met && met->moving == "beam");
    // raised just above the part it passes by what is left
    Plan raised = plan;
    raised.bench.machine.bodies[0].boxes[0] =
        Box3(Vec3(-250, -50, top + 3), Vec3(1150, 50, top + 100));
    const Clearance above(raised, obstacles);
    const Tool same = toolOf(raised.bench, {0, 0, 0, 0});
    QVERIFY(above.clear(same, far, near, 2.9));
    QVERIFY(!above.clear(same, far, near, 3.1));
    const auto by = above.nearest(same, far, near, 10);
    QVERIFY(by);
    NEAR(by->clearance, 3.0, 0.02);
  }
  // Carried parts are told by their own names, and so is what they meet: part, a body of the
  // fixture, sphere or rack, but not the machine itself. Exceptions hold for them as for all that
  // moves.
  void carriedPartsAndWhatTheyMeet() {
    Plan plan = test::heronPlan();
    const auto leg = [](const char* name, double low_x, double high_x) {
      return MachineBody{
          name, {false, true, false}, {Box3(Vec3(low_x, -10, 0), Vec3(high_x, 10, 100))}, {}};
    };
    plan.bench.machine.bodies = {leg("left leg", 90, 150), leg("right leg", 480, 500)};
    MachineBody bed{"bed", {}, {}, {}};
    bed.mesh.appendBox(Box3(Vec3(-100, 0, -50), Vec3(-20, 2000, 50)), Frame::Identity(), 0);
    plan.bench.machine.bodies.push_back(bed);
    plan.bench.machine.bodies.push_back(leg("outer leg", -90, -30)); // runs along the bed
    const Obstacles obstacles = obstaclesOf(plan);
    Tool tool;
    tool.carried = toolOf(plan.bench, {0, 0, 0, 0}).carried;
    const auto met = [&](const Plan& p, double from_y, double to_y) {
      return Clearance(p, obstacles).nearest(tool, Vec3(0, from_y, 0), Vec3(0, to_y, 0), 1);
    };
    QVERIFY(!met(plan, 300, 400)); // the bed lets its leg pass
    const auto sphere = met(plan, 940, 980);
    QVERIFY(sphere && sphere->moving == "left leg");
    QCOMPARE(sphere->still, std::string("stem of the sphere"));
    const auto rack = met(plan, 1100, 1140);
    QVERIFY(rack && rack->moving == "right leg" && rack->still == "rack");
    const auto clamp = met(plan, 500, 525);
    QVERIFY(clamp && clamp->moving == "right leg");
    QVERIFY(clamp->still == "plate" || clamp->still == "clamp 2");
    plan.pairs = {{"right leg", "rack", true, 0, "the rack is lowered"}};
    QVERIFY(!met(plan, 1100, 1140));
    QVERIFY(met(plan, 940, 980));
    QVERIFY(!Clearance(plan, obstacles).clear(tool, Vec3(0, 940, 0), Vec3(0, 980, 0), 0));
    plan.pairs = {{"right leg", "rack", false, 30, ""}}; // 20 mm before it
    const auto soon = met(plan, 1060, 1098);
    QVERIFY(soon);
    NEAR(soon->clearance, 20.0 - 30, 0.02);
  }
  // Between two boxes halving finds the diagonal way that a box round the whole move would not.
  void diagonalOfACarriedBox() {
    Plan plan = test::heronPlan();
    plan.bench.fixture.bodies = {{"post", FixtureKind::Rest, {}}};
    plan.bench.fixture.bodies[0].mesh.appendBox(Box3(Vec3(0, 90, 0), Vec3(10, 100, 500)),
                                                Frame::Identity(), 0);
    plan.bench.machine.bodies = {
        {"carriage", {true, true, false}, {Box3(Vec3(-5, -5, 100), Vec3(5, 5, 200))}, {}}};
    const Obstacles obstacles = obstaclesOf(plan);
    const Clearance clearance(plan, obstacles);
    Tool tool;
    tool.carried = toolOf(plan.bench, {0, 0, 0, 0}).carried;
    QVERIFY(clearance.clear(tool, Vec3(0, 0, 0), Vec3(100, 100, 0), 1));
    QVERIFY(!clearance.clear(tool, Vec3(0, 0, 0), Vec3(0, 100, 0), 1));
  }
  // Exceptions: a pair that is not checked is not found, and one with a margin is found sooner.
  void pairs() {
    const auto variant = openProject(test::dataPath("heron-clamp.alder"));
    VERIFY_OK(variant);
    Plan plan = variant->plan;
    const Rehearsal plain = test::rehearsed(plan);
    QVERIFY(!plain.clear());
    const Clash first = plain.clashes.front();
    VERIFY_OK(applyEdit(plan, SetPairs{{{"", first.still, true, 0, "it is taken off here"}}}));
    for (const Clash& c : test::rehearsed(plan).clashes)
      QVERIFY(c.still != first.still);
    // all moving things must keep 1000 mm from the plate: nothing does
    Plan wide = test::heronPlan();
    VERIFY_OK(applyEdit(wide, SetPairs{{{"ball", "plate", false, 30, ""}}}));
    const Obstacles obstacles = obstaclesOf(wide);
    const Clearance asks(wide, obstacles), plainly(test::heronPlan(), obstacles);
    const Tool tool = toolOf(wide.bench, {0, 0, 0, 0});
    const Vec3 over(350, 500, 20 + 1.5 + 12); // beside the part, 12 mm over the plate
    const auto near = plainly.nearest(tool, over, over, 50);
    QVERIFY(near);
    NEAR(near->clearance, 12.0, 1e-9);
    const auto asked = asks.nearest(tool, over, over, 50);
    QVERIFY(asked && asked->still == "plate");
    NEAR(asked->clearance, 12.0 - 30, 1e-9);
    QVERIFY(plainly.clear(tool, over, over, 1) && !asks.clear(tool, over, over, 1));
    for (const auto& bad :
         {PairRule{"ram", "plate", true, 0, ""}, PairRule{"", "", true, 0, "why not"},
          PairRule{"ram", "plate", false, -1, ""}})
      QVERIFY(!applyEdit(wide, SetPairs{{bad}}));
  }
  // While a surface is sought beyond its place, the stylus must not run into a clamp behind it.
  void searchIsChecked() {
    Plan plan = test::heronPlan();
    plan.bench.fixture.bodies = {{"wall", FixtureKind::Clamp, {}}};
    plan.bench.fixture.bodies[0].mesh.appendBox(Box3(Vec3(0, 0, 0), Vec3(10, 500, 160)),
                                                Frame::Identity(), 0);
    const Obstacles obstacles = obstaclesOf(plan);
    const Clearance clearance(plan, obstacles);
    const Tool tool = toolOf(plan.bench, {0, 0, 0, 0});
    const Vec3 at(30, 250, 100); // the probe is 10.5 thick, its wall 9.5 away
    QVERIFY(!clearance.nearestInSearch(tool, at, at - Vec3(9, 0, 0), 0));
    const auto met = clearance.nearestInSearch(tool, at, at - Vec3(11, 0, 0), 0);
    QVERIFY(met && met->still == "wall" && met->moving == "probe");
    NEAR(met->clearance, 19.0 - 10 - 10.5, 1e-9);
  }
  // A barred side is not passed.
  void barredSides() {
    Plan plan = test::heronPlan();
    const Obstacles obstacles = obstaclesOf(plan);
    const Tool tool = toolOf(plan.bench, {0, 0, 0, 0});
    const Box3 shell = shellBox(plan, obstacles);
    const Vec3 left(shell.min().x() - 150, 600, 60), right(shell.max().x() + 150, 600, 60);
    const auto free = ShellTravel(plan, obstacles, tool).travel(left, right);
    QVERIFY(free.size() == 2 && free[0].z() < shell.max().z()); // round the front or back
    plan.shell.barred = {false, true, false, true};
    const auto over = ShellTravel(plan, obstacles, tool).travel(left, right);
    QVERIFY(over.size() == 2 && over[0].z() > shell.max().z());
    const ShellTravel travel(plan, obstacles, tool);
    QVERIFY(!travel.exitDistance(plan.placement.translation(), -Vec3::UnitY()));
    QVERIFY(travel.exitDistance(plan.placement.translation(), -Vec3::UnitX()));
  }
};
ALDER_TEST(BenchWayTest)
#include "bench_way_test.moc"
