#include "base/random.h"
#include "base/units.h"
#include "geometry/outline.h"
#include "plan/edit.h"
#include "route/clear_travel.h"
#include "route/feature_router.h"
#include "route/shell_travel.h"
#include "support.h"

using namespace alder;

// The safe shell in its own frame, its planes and sides.
class ShellTest : public QObject {
  Q_OBJECT

  static Plan turnedHeron(double degrees_) {
    Plan plan = test::heronPlan();
    const Vec3 middle = plan.placement * plan.part->mesh.box().center();
    plan.placement =
        smallMotion(Vec3(0, 0, radians(degrees_)), Vec3::Zero(), middle) * plan.placement;
    plan.bench.fixture.bodies.clear();
    plan.bench.has_sphere = false;
    plan.bench.rack.reset();
    plan.shell.with_part = true;
    return plan;
  }
  static double onPlane(const Plan& plan, const Obstacles& o, const Tool& tool, const Vec3& p) {
    const Mat3 axes = shellAxes(plan);
    const Box3 shell = shellBox(plan, o), bounds = boundsAlong(tool, axes);
    const Vec3 here = axes.transpose() * p;
    double least = 1e300;
    for (int k = 0; k < 3; ++k) {
      least = std::min(least, std::abs(here[k] - (shell.max()[k] - bounds.min()[k])));
      if (k < 2) least = std::min(least, std::abs(here[k] - (shell.min()[k] - bounds.max()[k])));
    }
    return least;
  }

 private slots:
  void outlineHoldsAllPoints() {
    Random random(7);
    Points points;
    for (int i = 0; i < 2000; ++i)
      points.emplace_back(random.uniform(-30, 50), random.uniform(-4, 9), random.uniform(0, 3));
    const Points ring = convexOutline(points);
    QVERIFY(ring.size() >= 4 && ring.size() < 60);
    for (std::size_t i = 0; i < ring.size(); ++i) {
      const Vec3 &a = ring[i], &b = ring[(i + 1) % ring.size()];
      for (const Vec3& p : points)
        QVERIFY((b.x() - a.x()) * (p.y() - a.y()) - (b.y() - a.y()) * (p.x() - a.x()) > -1e-9);
    }
    QCOMPARE(convexOutline({{0, 0, 0}, {4, 0, 0}, {4, 2, 0}, {0, 2, 0}, {1, 1, 5}}).size(), 4u);
    QVERIFY(convexOutline({}).empty());
  }
  // Along a turned bar the shell is as tight as along one that stands straight.
  void turnedShellFitsTheTurnedBar() {
    Mesh bar;
    bar.appendBox(Box3(Vec3(-100, -10, 0), Vec3(100, 10, 30)), Frame::Identity(), 0);
    for (const double angle : {0.0, 20.0, 45.0, 130.0}) {
      Mesh lying;
      lying.append(bar, smallMotion(Vec3(0, 0, radians(angle)), Vec3(300, 400, 0), Vec3::Zero()));
      Obstacles o;
      o.solids = lying.box();
      o.outline = convexOutline(lying.vertices);
      const Mat3 along = Eigen::AngleAxisd(radians(angle), Vec3::UnitZ()).toRotationMatrix();
      QVERIFY((solidsAlong(o, along).sizes() - Vec3(200, 20, 30)).norm() < 1e-9);
      if (angle > 0) QVERIFY(solidsAlong(o, Mat3::Identity()).volume() > 1.5 * 200 * 20 * 30);
      // Without an outline the box of the box holds all the same.
      o.outline.clear();
      const Box3 wide = solidsAlong(o, along);
      for (const Vec3& p : lying.vertices)
        QVERIFY(wide.contains(Vec3(along.transpose() * p) * (1 - 1e-12)) ||
                wide.exteriorDistance(Vec3(along.transpose() * p)) < 1e-9);
    }
    // With the part: the angle of its X.
    NEAR(std::atan2(shellAxes(turnedHeron(33))(1, 0), shellAxes(turnedHeron(33))(0, 0)) -
             std::atan2(shellAxes(turnedHeron(0))(1, 0), shellAxes(turnedHeron(0))(0, 0)),
         radians(33), 1e-9);
  }
  // All that is outside is clear, and all that is travelled is outside, whatever the frame.
  void outsideIsClear() {
    for (const bool planes : {false, true}) {
      Plan plan = turnedHeron(33);
      plan.shell.planes = planes;
      const Obstacles o = obstaclesOf(plan);
      const Clearance clearance(plan, o);
      Random random(11);
      for (const Access& access : {Access{0, 0, 0, 0}, Access{0, 0, radians(90), radians(60)},
                                   Access{1, 0, radians(45), 0}}) {
        const Tool tool = toolOf(plan.bench, access);
        const ShellTravel travel(plan, o, tool);
        const Vec3 c = o.solids.center();
        std::vector<Vec3> out;
        while (out.size() < 24) {
          const Vec3 p = c + Vec3(random.uniform(-350, 350), random.uniform(-350, 350),
                                  random.uniform(0, 300));
          if (travel.outside(p)) out.push_back(p);
        }
        for (std::size_t i = 1; i < out.size(); ++i) {
          std::vector<Vec3> way = travel.travel(out[i - 1], out[i]);
          way.insert(way.begin(), out[i - 1]);
          way.push_back(out[i]);
          for (std::size_t k = 1; k < way.size(); ++k) {
            QVERIFY(travel.outside(way[k - 1], way[k]));
            const auto met = clearance.nearest(tool, way[k - 1], way[k], 5);
            QVERIFY(!met || met->still == "table");
          }
        }
      }
    }
  }
  // From plane to plane the bend lies on the edge, where the way is shortest.
  void changeoverCrossesTheEdge() {
    Plan plan = turnedHeron(0);
    plan.shell.planes = true;
    const Obstacles o = obstaclesOf(plan);
    const Tool tool = toolOf(plan.bench, {0, 0, 0, 0});
    const ShellTravel travel(plan, o, tool);
    const Vec3 c = o.solids.center();
    const auto out = [&](const Vec3& from, ShellSide side) {
      return Vec3(from +
                  *travel.exitDistance(from, travel.normalOf(side), side) * travel.normalOf(side));
    };
    const Vec3 front = out(c + Vec3(-20, 0, 0), ShellSide::Front),
               right = out(c + Vec3(0, 10, 30), ShellSide::Right),
               back = out(c + Vec3(5, 0, 10), ShellSide::Back), top = out(c, ShellSide::Top);
    QVERIFY(travel.travel(front, front + Vec3(100, 0, 40)).empty()); // in the same plane
    const auto round = travel.travel(front, right);
    QCOMPARE(round.size(), 1u);
    NEAR(round[0].y(), front.y(), 1e-9);
    NEAR(round[0].x(), right.x(), 1e-9);
    // Shorter than by any other place of that edge.
    const auto length = [&](double z) {
      const Vec3 p(round[0].x(), round[0].y(), z);
      return (p - front).norm() + (right - p).norm();
    };
    for (const double other : {-10.0, -0.5, 0.5, 10.0})
      QVERIFY(length(round[0].z()) < length(round[0].z() + other));
    QCOMPARE(travel.travel(front, top).size(), 1u);
    const auto across = travel.travel(front, back);
    QCOMPARE(across.size(), 2u);
    for (const Vec3& p : across)
      NEAR(onPlane(plan, o, tool, p), 0.0, 1e-9);
    plan.shell.barred = {true, false, true, false}; // left and right: over the top alone
    const auto over = ShellTravel(plan, o, tool).travel(front, back);
    QCOMPARE(over.size(), 2u);
    NEAR(over[0].z(), top.z(), 1e-9);
  }
  // A feature is left through the side that was chosen.
  void throughAChosenSide() {
    Plan plan = test::heronPlan();
    const Obstacles& o = test::heronObstacles();
    const FeatureId a = plan.spec.datum("A")->features[0];
    int led = 0;
    for (const ShellSide side : {ShellSide::Top, ShellSide::Front, ShellSide::Right}) {
      VERIFY_OK(applyEdit(plan, SetThrough{a, side}));
      const Feature& f = plan.feature(a);
      const Tool tool = toolOf(plan.bench, f.access);
      const Clearance clearance(plan, o);
      const ShellTravel travel(plan, o, tool);
      std::string why;
      const auto positions = FeatureRouter(clearance, tool, f).route(f.touches, why);
      QVERIFY2(!positions.empty(), why.c_str());
      for (const Position* p : {&positions.front(), &positions.back()})
        led += travel.exitDistance(p->ball, travel.normalOf(side), side) == 0.0;
    }
    QCOMPARE(led, 6);
    QVERIFY(test::rehearsed(plan).clear());
  }
  // Outside the shell stand sphere and rack: what of the way would meet them goes over or round
  // them.
  void travelPassesTheBench() {
    Random random(20);
    Plan plan = test::heronPlan();
    plan.bench.rack.reset();
    const Obstacles alone = obstaclesOf(plan);
    int blocked = 0, passed = 0;
    for (int trial = 0; trial < 2000; ++trial) {
      const Head& head = plan.bench.head;
      const Tool tool = toolOf(plan.bench, {0, 0, head.a.nearest(random.uniform(0, 100)),
                                            head.b.nearest(random.uniform(-180, 180))});
      const auto place = [&] {
        const Clearance clearance(plan, alone);
        const ShellTravel travel(plan, alone, tool);
        Vec3 p;
        do
          p = Vec3(random.uniform(100, 800), random.uniform(100, 1000), random.uniform(60, 400));
        while (!travel.outside(p) || clearance.overrun(tool, p, kRoomAtEnds));
        return p;
      };
      const Vec3 from = place(), to = place();
      // The sphere stands where shaft or head come by.
      plan.bench.sphere.centre =
          from + random.uniform(0.2, 0.8) * (to - from) + random.uniform(0, 1) * tool.ball_to_pivot;
      const Obstacles o = obstaclesOf(plan);
      const Clearance clearance(plan, o);
      const ShellTravel travel(plan, o, tool);
      if (!clearance.clear(tool, from, from, 1) || !clearance.clear(tool, to, to, 1)) continue;
      const auto free = [&](const std::vector<Vec3>& way) {
        Vec3 at = from;
        const auto reached = [&](const Vec3& p) {
          const bool clear = clearance.clear(tool, at, p, 0.999);
          at = p;
          return clear;
        };
        return std::all_of(way.begin(), way.end(), reached) && reached(to);
      };
      const auto way = clearTravel(clearance, tool, travel, from, to, true);
      if (free(travel.travel(from, to))) {
        QVERIFY(way && *way == travel.travel(from, to));
        continue;
      }
      ++blocked;
      passed += way.has_value();
      QVERIFY(!way || free(*way));
    }
    QVERIFY2(blocked > 50, qPrintable(QString::number(blocked)));
    QVERIFY2(passed > 0.9 * blocked, qPrintable(QString("%1 of %2").arg(passed).arg(blocked)));
  }
  void routineAlongPlanesAndTurnedIsClear() {
    Plan plan = test::heronPlan();
    Shell shell = plan.shell;
    shell.planes = true;
    shell.turned = radians(15);
    VERIFY_OK(applyEdit(plan, SetShell{shell}));
    const Rehearsal r = test::rehearsed(plan);
    QVERIFY2(r.clear(), r.clashes.empty() ? "" : r.clashes.front().still.c_str());
  }
};
ALDER_TEST(ShellTest)
#include "shell_test.moc"
