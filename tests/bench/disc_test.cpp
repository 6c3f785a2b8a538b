#include "base/random.h"
#include "base/units.h"
#include "geometry/distance.h"
#include "rehearse/qualify.h"
#include "route/draft.h"
#include "route/feature_router.h"
#include "route/qualify_way.h"
#include "support.h"

using namespace alder;

// A disc instead of a ball.
class DiscTest : public QObject {
  Q_OBJECT

  static Result<Bench> benchWithDisc(double diameter, double thickness) {
    Json json = Json::parse(test::heronBench().json);
    Json& tip = json["styli"][0]["tips"][0];
    tip["ball_diameter_mm"] = diameter;
    tip["disc_thickness_mm"] = thickness;
    return readBench(json.dump(), "shop.json");
  }

 private slots:
  // Every point of the slice lies in one of its rods, and no rod reaches far beyond it.
  void rodsCoverTheDisc() {
    Random random(3);
    for (const auto& [diameter, thickness] :
         {std::pair{20.0, 3.0}, {30.0, 1.5}, {8.0, 5.0}, {12.0, 2.0}}) {
      Tip tip;
      tip.ball_diameter = diameter;
      tip.disc_thickness = thickness;
      tip.direction = Vec3(0.3, -0.5, -0.8).normalized();
      const auto rods = tip.discRods();
      const Vec3 x = anyPerpendicular(tip.direction), y = tip.direction.cross(x);
      for (int i = 0; i < 3000; ++i) {
        const double r = diameter / 2 * std::sqrt(random.uniform()),
                     turned = random.uniform(0, 2 * kPi),
                     h = (i % 3 == 0 ? 1.0 : random.uniform(-1, 1)) * thickness / 2;
        const Vec3 p = r * (std::cos(turned) * x + std::sin(turned) * y) + h * tip.direction;
        QVERIFY(std::any_of(rods.begin(), rods.end(), [&](const Rod& rod) {
          return (closestOnSegment(p, {rod.a, rod.b}) - p).norm() <= rod.diameter / 2 + 1e-9;
        }));
      }
      for (const Rod& rod : rods)
        for (const Vec3& end : {rod.a, rod.b}) {
          QVERIFY(end.norm() < diameter / 2 + thickness / 2);
          NEAR(rod.diameter, 1.1 * thickness, 1e-9);
        }
    }
    QVERIFY(Tip{}.discRods().empty());
  }
  void badDiscsAreRefused() {
    VERIFY_OK(benchWithDisc(20, 3));
    for (const double thickness : {-1.0, 15.0}) {
      const auto bench = benchWithDisc(20, thickness);
      QVERIFY(!bench);
      QVERIFY(bench.error().message.find("disc_thickness_mm") != std::string::npos);
    }
  }
  // Where a ball of the same diameter would meet the plate, the disc passes.
  void passesWhereTheBallWouldNot() {
    Plan plan = test::heronPlan();
    plan.bench = *benchWithDisc(24, 3);
    const Obstacles o = obstaclesOf(plan);
    const Clearance clearance(plan, o);
    const Tool disc = toolOf(plan.bench, {0, 0, 0, 0});
    Tool ball = disc;
    ball.disc.clear();
    const Vec3 over(350, 500, 20 + 4); // the plate's top is at 20
    QVERIFY(clearance.clear(disc, over, over + Vec3(0, 5, 0), 1));
    QVERIFY(!clearance.clear(ball, over, over + Vec3(0, 5, 0), 1));
    const auto near = clearance.nearest(disc, over, over, 20);
    QVERIFY(near && near->moving == "disc" && near->still == "plate");
    NEAR(near->clearance, 4 - 1.65, 1e-6);
    // Both answers agree, near and far.
    Random random(5);
    for (int i = 0; i < 300; ++i) {
      const Vec3 p = o.solids.center() + Vec3(random.uniform(-160, 160), random.uniform(-160, 160),
                                              random.uniform(-60, 120));
      const Vec3 q = p + Vec3(random.uniform(-20, 20), random.uniform(-20, 20), 0);
      QCOMPARE(clearance.clear(disc, p, q, 0.5), !clearance.nearest(disc, p, q, 0.5).has_value());
    }
  }
  void touchesWithItsRimAlone() {
    const Tool tool = toolOf(*benchWithDisc(20, 4), {0, 0, 0, 0});
    NEAR(tool.rim, 0.2, 1e-12);
    QVERIFY(touchable(tool, Vec3::UnitX()));
    QVERIFY(touchable(tool, Vec3(1, 0, 0.19).normalized()));
    QVERIFY(!touchable(tool, Vec3(1, 0, 0.3).normalized()));
    QVERIFY(!touchable(tool, Vec3::UnitZ()));
  }
  // The boss is touched nearer to its edges than the disc's radius.
  void draftsWithADisc() {
    Json json = Json::parse(benchWithDisc(24, 2)->json);
    json["styli"].erase(json["styli"].begin() + 1, json["styli"].end());
    json.erase("rack");
    const auto bench = readBench(json.dump(), "shop.json");
    VERIFY_OK(bench);
    auto plan = draftPlan(test::heron(), *bench);
    VERIFY_OK(plan);
    int by_disc = 0;
    for (const Feature& f : plan->features) {
      if (!f.covered() || f.access.stylus != 0) continue;
      const Tool tool = toolOf(plan->bench, f.access);
      ++by_disc;
      for (const Touch& t : f.touches)
        QVERIFY(touchable(tool, turn(plan->placement, t.normal)));
    }
    QVERIFY(by_disc >= 5);
    QVERIFY(test::rehearsed(*plan).clear());
  }
  void isQualifiedByItsRim() {
    Plan plan = test::heronPlan();
    plan.bench = *benchWithDisc(20, 6);
    const Obstacles o = obstaclesOf(plan);
    const auto way = qualifyWay(plan, o, {{0, 0, 0, 0}});
    VERIFY_OK(way);
    const Tool tool = toolOf(plan.bench, {0, 0, 0, 0});
    int touches = 0;
    for (const Position& p : way->positions)
      if (p.contact) {
        ++touches;
        QVERIFY(touchable(tool, (p.ball - plan.bench.sphere.centre).normalized()));
      }
    QVERIFY(touches >= 5);
  }
};
ALDER_TEST(DiscTest)
#include "disc_test.moc"
