#include "base/units.h"
#include "plan/touches/nominal_surface.h"
#include "plan/touches/touch_planner.h"
#include "requirement/datum_targets.h"
#include "support.h"
#include <BRepBuilderAPI_MakeVertex.hxx>
#include <BRepExtrema_DistShapeShape.hxx>
#include <BRep_Tool.hxx>

using namespace alder;

class TouchesTest : public QObject {
  Q_OBJECT
 private slots:
  void everyFeature_data() {
    QTest::addColumn<int>("feature");
    for (const auto& f : test::heronPlan().spec.features)
      QTest::newRow(f.name.c_str()) << f.id.value;
  }
  // On the true surface (asked of the CAD library), with the surface's own normal, a ball radius
  // and the margin from each edge.
  void everyFeature() {
    QFETCH(int, feature);
    const Plan& plan = test::heronPlan();
    const NominalFeature& n = plan.nominal(FeatureId{feature});
    const double ball = 1.5;
    const Recipe recipe = recipeFor(n, plan.spec);
    const auto touches = planTouches(*plan.part, n, recipe, ball, {});
    QVERIFY(touchesSuffice(n.ideal, touches));
    QVERIFY(static_cast<int>(touches.size()) <= touchCount(recipe, n.ideal.type));
    const FaceRegion region(*plan.part, n.faces);
    const NominalSurface surface(plan.part, n);
    for (const Touch& t : touches) {
      const auto& face = plan.part->shapeOf(t.face);
      BRepExtrema_DistShapeShape distance(
          face, BRepBuilderAPI_MakeVertex(gp_Pnt(t.point.x(), t.point.y(), t.point.z())).Shape());
      NEAR(distance.Value(), 0.0, 1e-6);
      NEAR(t.normal.norm(), 1.0, 1e-9);
      NEAR(surface.distance(t.face, t.point + 0.1 * t.normal), 0.1, 1e-6);
      QVERIFY(region.edgeDistance(t.point) >= ball + recipe.edge_margin - 1e-9);
    }
    // no two at one place
    for (std::size_t i = 0; i < touches.size(); ++i)
      for (std::size_t j = 0; j < i; ++j)
        QVERIFY((touches[i].point - touches[j].point).norm() > 0.1);
  }
  void ringsLieAtTheirDepths() {
    const Plan& plan = test::heronPlan();
    const NominalFeature& bore = plan.nominal(test::named(plan, "Bore ø32"));
    Recipe recipe = recipeFor(bore, plan.spec);
    recipe.rows = 2, recipe.per_row = 6, recipe.first_depth = 10, recipe.last_depth = 30;
    const auto touches = planTouches(*plan.part, bore, recipe, 2, {});
    QCOMPARE(touches.size(), std::size_t(12));
    for (const Touch& t : touches)
      NEAR((t.point - bore.ideal.point).dot(bore.ideal.direction), t.row == 0 ? 10.0 : 30.0, 1e-9);
  }
  void datumTargets() {
    const Plan& plan = test::heronPlan();
    const NominalFeature& a = plan.nominal(plan.spec.datum("A")->features[0]);
    const Recipe recipe = recipeFor(a, plan.spec);
    const auto plain = planTouches(*plan.part, a, recipe, 1.5, {});
    // Targets where touches may lie: at two of them, on the way between, and round one.
    std::vector<DatumTarget> targets{{plain[0].point, {}, 0}, {plain[1].point, {}, 6}};
    const auto with = planTouches(*plan.part, a, recipe, 1.5, {}, targets);
    QVERIFY(with.size() > plain.size() + 2 && with.size() <= plain.size() + 8);
    for (std::size_t i = plain.size(); i < with.size(); ++i) {
      const auto& t = with[i];
      const auto& target = targets[static_cast<std::size_t>(t.row - plain.back().row - 1)];
      QVERIFY((t.point - target.point).norm() <= target.diameter / 2 + 1e-6);
      NEAR(t.normal.dot(a.ideal.direction), 1.0, 1e-9);
    }
    // Other targets take their place, and the recipe's touches stay.
    const auto moved = withTargets(*plan.part, a, with, 1.5, targets, {{plain[2].point, {}, 0}});
    QCOMPARE(moved.size(), plain.size() - 1); // two of the recipe's lay at the old targets
    QVERIFY(touchesAt(*plan.part, a, {a.ideal.point + 500 * Vec3::UnitX(), {}, 0}, 1.5, 0).empty());
  }
  void whereAPersonWantsIt() {
    const Plan& plan = test::heronPlan();
    const NominalFeature& a = plan.nominal(plan.spec.datum("A")->features[0]);
    const auto others = planTouches(*plan.part, a, recipeFor(a, plan.spec), 1.5, {});
    const auto good = touchAtPlace(*plan.part, a, others, others[0].point + Vec3(1.5, 0, 0.2), 1.5);
    VERIFY_OK(good);
    NEAR((good->point - others[0].point - Vec3(1.5, 0, 0)).norm(), 0.0, 1e-6);
    const auto refused = [&](const Vec3& place, const char* words) {
      const auto none = touchAtPlace(*plan.part, a, others, place, 1.5);
      return !none && none.error().message.find(words) != std::string::npos;
    };
    QVERIFY(refused(others[0].point, "already"));
    QVERIFY(refused(others[0].point + Vec3(0, 0, 3), "off the material"));
    const Ideal& hole = plan.nominal(test::named(plan, "Bore ø11 · 1")).ideal;
    QVERIFY(refused(Vec3(hole.point.x(), hole.point.y(), others[0].point.z()), "off the material"));
    QVERIFY(refused(Vec3(hole.point.x() + 6, hole.point.y(), others[0].point.z()), "from an edge"));
  }
  void targetsAsText() {
    const auto read = targetsFromText("10, 20.5, 0; -3,0,1 ø8 ; 0, 0, 0 to 30, 0, 0;");
    VERIFY_OK(read);
    QCOMPARE(read->size(), std::size_t(3));
    QCOMPARE((*read)[1].diameter, 8.0);
    QCOMPARE(placesOf((*read)[2]).size(), std::size_t(4));
    const auto again = targetsFromText(describe(*read));
    VERIFY_OK(again);
    QVERIFY(*again == *read);
    QVERIFY(targetsFromText("")->empty());
    for (const char* bad : {"1, 2", "a, b, c", "1, 2, 3 ø", "1, 2, 3 to 4", "1, 2, 3 ø-1",
                            "1, 2, 3 to 4, 5, 6 ø3", "1, 2, 3, 4"}) {
      const auto refused = targetsFromText(bad);
      QVERIFY2(!refused && refused.error().message.find("Datum target 1") == 0, bad);
    }
  }
  void planesAvoidHoles() {
    const Plan& plan = test::heronPlan();
    const NominalFeature& a = plan.nominal(plan.spec.datum("A")->features[0]);
    Recipe recipe = recipeFor(a, plan.spec);
    recipe.per_row = 60;
    for (const Touch& t : planTouches(*plan.part, a, recipe, 1.5, {}))
      for (int k = 0; k < 6; ++k) {
        const Vec3 hole(46 * std::cos(radians(30 + 60 * k)), 46 * std::sin(radians(30 + 60 * k)),
                        20);
        QVERIFY((t.point - hole).norm() > 5.5 + 2 - 1e-6);
      }
  }
  void usableDecides() {
    const Plan& plan = test::heronPlan();
    const NominalFeature& a = plan.nominal(plan.spec.datum("A")->features[0]);
    const auto touches = planTouches(*plan.part, a, recipeFor(a, plan.spec), 1.5,
                                     [](const SurfacePoint& s) { return s.point.x() > 0; });
    QVERIFY(!touches.empty());
    for (const Touch& t : touches)
      QVERIFY(t.point.x() > 0);
  }
  void tooFewOrIllPlacedDoNotSuffice() {
    const Ideal plane{SurfaceType::Plane};
    std::vector<Touch> line;
    for (int i = 0; i < 5; ++i)
      line.push_back({Vec3(i * 5, 0, 0), Vec3::UnitZ(), FaceId{0}, 0});
    QVERIFY(!touchesSuffice(plane, line));
    line.push_back({Vec3(0, 8, 0), Vec3::UnitZ(), FaceId{0}, 0});
    QVERIFY(touchesSuffice(plane, line));
    Ideal bore{SurfaceType::Cylinder, Vec3::Zero(), Vec3::UnitZ(), 10, 0, 20, true};
    std::vector<Touch> ring;
    for (int k = 0; k < 8; ++k)
      ring.push_back({Vec3(5 * std::cos(k * kPi / 4), 5 * std::sin(k * kPi / 4), 3), -Vec3::UnitX(),
                      FaceId{0}, 0});
    QVERIFY(!touchesSuffice(bore, ring)); // one depth
    ring.push_back({Vec3(5, 0, 12), -Vec3::UnitX(), FaceId{0}, 1});
    QVERIFY(touchesSuffice(bore, ring));
  }
  void tighterTolerancesAskForMore() {
    const Plan& plan = test::heronPlan();
    Specification loose = plan.spec;
    for (auto& r : loose.requirements)
      r.tolerance = 1, r.kind = isDimension(r.kind) ? r.kind : Characteristic::Position;
    const NominalFeature& bore = plan.nominal(test::named(plan, "Bore ø32"));
    QVERIFY(touchCount(recipeFor(bore, plan.spec), bore.ideal.type) >
            touchCount(recipeFor(bore, loose), bore.ideal.type));
  }
};
ALDER_TEST(TouchesTest)
#include "touches_test.moc"
