#include "base/random.h"
#include "base/units.h"
#include "rehearse/rehearsal.h"
#include "route/draft.h"
#include "support.h"
#include <BRepBuilderAPI_MakeVertex.hxx>
#include <BRepExtrema_DistShapeShape.hxx>
#include <map>
#include <set>

using namespace alder;

class RouteTest : public QObject {
  Q_OBJECT

  // An oracle that shares nothing with the sweeps: the true CAD shape against sampled places of the
  // machine. Distance of a machine place to the part.
  static double toPart(const Plan& plan, const Vec3& machine) {
    const Vec3 p = plan.placement.inverse() * machine;
    BRepExtrema_DistShapeShape d(plan.part->shape,
                                 BRepBuilderAPI_MakeVertex(gp_Pnt(p.x(), p.y(), p.z())).Shape());
    return d.InnerSolution() ? -1 : d.Value();
  }

 private slots:
  void everythingIsCoveredAndClear() {
    const Plan& plan = test::heronPlan();
    for (const auto& r : plan.spec.requirements)
      QVERIFY2(isCovered(plan, r), whyNotCovered(plan, r).c_str());
    QVERIFY(test::heronWay().notes.empty());
    const auto r = rehearse(plan, test::heronObstacles(), test::heronWay());
    VERIFY_OK(r);
    QVERIFY(r->clear());
    QVERIFY(r->least_clearance > 0.2);
  }
  void theWayIsWellFormed() {
    const Plan& plan = test::heronPlan();
    const Way& way = test::heronWay();
    std::map<FeatureId, std::set<int>> touched;
    for (std::size_t i = 0; i < way.positions.size(); ++i) {
      const Position& p = way.positions[i];
      if (p.kind == MoveKind::Touch) {
        touched[p.feature].insert(p.touch);
        QVERIFY(way.positions[i - 1].kind == MoveKind::Approach &&
                way.positions[i + 1].kind == MoveKind::Retract);
        const Touch& t = plan.feature(p.feature).touches[static_cast<std::size_t>(p.touch)];
        const double radius = plan.tip(p.access).ball_diameter / 2;
        NEAR((p.ball - plan.placement * t.point).norm(), radius, 1e-9);
        // the machine moves against the normal
        const Vec3 step = (p.ball - way.positions[i - 1].ball).normalized();
        NEAR(step.dot(turn(plan.placement, t.normal)), -1.0, 1e-9);
      }
      // angles change only in turns and swaps, about a pivot that stands still
      if (i > 0 && !(way.positions[i - 1].access == p.access)) {
        QVERIFY(p.kind == MoveKind::Turn || p.kind == MoveKind::Swap);
        const Vec3 before = way.positions[i - 1].ball +
                            toolOf(plan.bench, way.positions[i - 1].access).ball_to_pivot;
        const Vec3 after = p.ball + toolOf(plan.bench, p.access).ball_to_pivot;
        NEAR((before - after).norm(), 0.0, 1e-9);
        if (way.positions[i - 1].bare) continue; // taken from the rack, nothing turns
        Clearance clearance(plan, test::heronObstacles());
        QVERIFY(clearance.roomToTurn(toolOf(plan.bench, p.access), p.ball));
        QVERIFY(clearance.roomToTurn(toolOf(plan.bench, way.positions[i - 1].access),
                                     way.positions[i - 1].ball));
      }
      QVERIFY(plan.bench.head.a.holds(p.access.a) && plan.bench.head.b.holds(p.access.b));
      NEAR(std::remainder(degrees(p.access.a), 5.0), 0.0, 1e-6);
    }
    for (const Feature& f : plan.features)
      QCOMPARE(touched[f.id].size(), f.touches.size());
    // starts with touches by hand, then the alignment features, then the frame is used
    QVERIFY(way.steps[1].kind == StepKind::Manual || way.steps[2].kind == StepKind::Manual);
    QCOMPARE(plan.alignment.size(), std::size_t(3));
    for (std::size_t i = 0; i < 3; ++i)
      QCOMPARE(test::orderOf(plan)[i], plan.alignment[i]);
  }
  void sampledPlacesAreFreeOnTheTrueShape() {
    const Plan& plan = test::heronPlan();
    const Way& way = test::heronWay();
    Random random(1);
    int checked = 0;
    for (std::size_t i = 1; i < way.positions.size() && checked < 700; ++i) {
      const Position& to = way.positions[i];
      const Position& from = way.positions[i - 1];
      if (!(to.access == from.access) || random.uniform() > 0.35) continue;
      const Tool tool = toolOf(plan.bench, to.access);
      const Vec3 ball = from.ball + random.uniform() * (to.ball - from.ball);
      if (ball.z() > shellBox(plan, test::heronObstacles()).max().z() + 5) continue;
      const double slack = to.contact || from.contact ? 1e-3 : -0.2;
      QVERIFY(toPart(plan, ball) > tool.ball_radius - slack);
      for (const Rod& rod : tool.rods) {
        const Vec3 at = ball + rod.a + random.uniform() * (rod.b - rod.a);
        if (at.z() < 300) QVERIFY2(toPart(plan, at) > rod.diameter / 2, rod.part.c_str());
      }
      ++checked;
    }
    QVERIFY(checked > 300);
  }
  // Outside the shell's barred box nothing of the machine can meet part or fixture.
  void shellTravelStaysOutside() {
    const Plan& plan = test::heronPlan();
    Random random(4);
    for (const auto& [a, b] : {std::pair{0.0, 0.0}, {45.0, 90.0}, {90.0, -90.0}, {90.0, 135.0}}) {
      const Tool tool = toolOf(plan.bench, {0, 0, radians(a), radians(b)});
      const ShellTravel travel(plan, test::heronObstacles(), tool);
      const Clearance clearance(plan, test::heronObstacles());
      const Vec3 c = shellBox(plan, test::heronObstacles()).center();
      int tried = 0;
      while (tried < 60) {
        const Vec3 from =
            c + 400 * Vec3(random.uniform(-1, 1), random.uniform(-1, 1), random.uniform(0.2, 1));
        const Vec3 to =
            c + 400 * Vec3(random.uniform(-1, 1), random.uniform(-1, 1), random.uniform(0.2, 1));
        if (!travel.outside(from) || !travel.outside(to)) continue;
        ++tried;
        Vec3 at = from;
        auto way = travel.travel(from, to);
        way.push_back(to);
        for (const Vec3& p : way) {
          QVERIFY(travel.outside(at, p));
          QVERIFY(clearance.clear(tool, at, p, 5));
          at = p;
        }
      }
    }
  }
  // Close where it is free and sooner, over the shell where the programmer says so, and led by own
  // waypoints; each way as asked for, and those proposed free.
  void hopsAsAskedFor() {
    const auto modes = [](const Way& way) {
      std::map<FeatureId, HopMode> of;
      for (const Step& s : way.steps)
        if (s.kind == StepKind::Hop && s.feature.valid()) of[s.feature] = s.hop;
      return of;
    };
    Plan plan = test::heronPlan();
    const auto proposed = modes(test::heronWay());
    const auto close = std::count_if(proposed.begin(), proposed.end(), [](const auto& entry) {
      return entry.second == HopMode::Close;
    });
    QVERIFY2(close >= 8, qPrintable(QString::number(close)));
    for (Feature& f : plan.features)
      f.entry = HopMode::Over;
    const auto over = routePlan(plan, test::heronObstacles());
    VERIFY_OK(over);
    for (const auto& [feature, mode] : modes(*over))
      QVERIFY(mode == HopMode::Over);
    QVERIFY(timesOf(plan.bench, *over).back() > timesOf(plan.bench, test::heronWay()).back());
    // One of the close ones, led far above instead.
    const auto led = std::find_if(proposed.begin(), proposed.end(),
                                  [](const auto& entry) { return entry.second == HopMode::Close; });
    Feature& f = plan.feature(led->first);
    f.entry = HopMode::Led;
    f.waypoints = {{10, 20, 130}, {-10, 20, 131}};
    const auto way = routePlan(plan, test::heronObstacles());
    VERIFY_OK(way);
    std::vector<Vec3> hops;
    for (const Position& p : way->positions)
      if (p.feature == f.id && way->steps[static_cast<std::size_t>(p.step)].hop == HopMode::Led)
        hops.push_back(plan.placement.inverse() * p.ball);
    QCOMPARE(hops.size(), std::size_t(2));
    for (std::size_t k = 0; k < 2; ++k)
      NEAR((hops[k] - f.waypoints[k]).norm(), 0.0, 1e-9);
  }
  void exitsLeadOut() {
    const Plan& plan = test::heronPlan();
    const Tool tool = toolOf(plan.bench, {0, 0, 0, 0});
    const ShellTravel travel(plan, test::heronObstacles(), tool);
    const Vec3 inside = plan.placement * Vec3(0, 0, 30);
    QVERIFY(!travel.outside(inside));
    const auto up = travel.exitDistance(inside, Vec3::UnitZ());
    QVERIFY(up && travel.outside(inside + *up * Vec3::UnitZ()));
    QVERIFY(!travel.exitDistance(inside, -Vec3::UnitZ())); // the table side is barred
  }
  void theSameAgain() {
    const auto again = draftPlan(test::heron(), test::heronBench());
    VERIFY_OK(again);
    const auto way = routePlan(*again, obstaclesOf(*again));
    VERIFY_OK(way);
    QCOMPARE(way->positions.size(), test::heronWay().positions.size());
    for (std::size_t i = 0; i < way->positions.size(); ++i)
      QVERIFY(way->positions[i].ball == test::heronWay().positions[i].ball);
  }
  // A part turned and far from its origin is placed, reached and routed like any other.
  void withoutFixture() {
    auto bench = defaultBench();
    VERIFY_OK(bench);
    const auto plan = draftPlan(test::heron(), *bench);
    VERIFY_OK(plan);
    QVERIFY(!plan->supports.empty());
    for (const auto& r : plan->spec.requirements)
      QVERIFY2(isCovered(*plan, r), whyNotCovered(*plan, r).c_str());
    QVERIFY(test::rehearsed(*plan).clear());
  }
  void cancelStops() {
    std::stop_source source;
    source.request_stop();
    Progress progress;
    progress.stop = source.get_token();
    QVERIFY(!draftPlan(test::heron(), test::heronBench(), progress));
    QVERIFY(!routePlan(test::heronPlan(), test::heronObstacles(), progress));
  }
};
ALDER_TEST(RouteTest)
#include "route_test.moc"
