#include "base/units.h"
#include "plan/constructions/constructed_feature.h"
#include "plan/edit.h"
#include "support.h"

using namespace alder;
using K = ConstructionKind;

namespace {

Shaped planeShape(const Vec3& point, const Vec3& normal) {
  Ideal i;
  i.type = SurfaceType::Plane;
  i.point = point;
  i.direction = normal.normalized();
  Shaped s{i, {}, {}};
  const Frame f = frameOf(point, i.direction);
  for (const double x : {-20.0, 20.0})
    for (const double y : {-20.0, 20.0})
      s.points.push_back(f * Vec3(x, y, 0));
  return s;
}
Shaped roundShape(SurfaceType type, const Vec3& point, const Vec3& axis, double diameter,
                  double length, double half_angle = 0) {
  Ideal i;
  i.type = type;
  i.point = point;
  i.direction = axis.normalized();
  i.diameter = diameter;
  i.length = length;
  i.half_angle = half_angle;
  return {i, {point, point + length * i.direction}, {0, 1}};
}
Shaped axisShape(const Vec3& point, const Vec3& axis) {
  return roundShape(SurfaceType::Cylinder, point, axis, 10, 20);
}
Shaped ballShape(const Vec3& centre, double diameter = 10) {
  return roundShape(SurfaceType::Sphere, centre, Vec3::UnitZ(), diameter, 0);
}

void nearTo(const Vec3& actual, const Vec3& expected, double tolerance = 1e-9) {
  for (int k = 0; k < 3; ++k)
    NEAR(actual[k], expected[k], tolerance);
}

} // namespace

// Constructions against what geometry says, then as features of a routine.
class ConstructedFeatureTest : public QObject {
  Q_OBJECT

  static Result<Shaped> make(K kind, const std::vector<Shaped>& of) {
    Construction c;
    c.kind = kind;
    return construct(c, of);
  }

 private slots:
  void intersections() {
    const auto line =
        make(K::Intersection, {planeShape({0, 0, 5}, {0, 0, 1}), planeShape({7, 0, 0}, {1, 0, 0})});
    VERIFY_OK(line);
    nearTo(line->ideal.direction.cwiseAbs(), Vec3::UnitY());
    NEAR(line->ideal.point.x(), 7.0, 1e-9);
    NEAR(line->ideal.point.z(), 5.0, 1e-9);
    const auto at =
        make(K::Pierce, {axisShape({1, 2, 0}, {0, 0, 1}), planeShape({0, 0, 5}, {0, 0, 1})});
    VERIFY_OK(at);
    nearTo(at->ideal.point, {1, 2, 5});
    const auto circle = make(
        K::Intersection, {roundShape(SurfaceType::Cone, {3, 0, 0}, {0, 0, 1}, 10, 20, radians(45)),
                          planeShape({0, 0, 4}, {0, 0, 1})});
    VERIFY_OK(circle);
    NEAR(circle->ideal.diameter, 18.0, 1e-9);
    nearTo(circle->ideal.point, {3, 0, 4});
    const auto cut =
        make(K::Intersection, {ballShape({0, 0, 0}, 10), planeShape({0, 0, 3}, {0, 0, 1})});
    VERIFY_OK(cut);
    NEAR(cut->ideal.diameter, 8.0, 1e-9);
    // Skew axes: the middle of their shortest connection.
    const auto cross =
        make(K::Intersection, {axisShape({0, 0, 0}, {1, 0, 0}), axisShape({0, 0, 2}, {0, 1, 0})});
    VERIFY_OK(cross);
    nearTo(cross->ideal.point, {0, 0, 1});
  }
  void betweenAndThrough() {
    const auto plane =
        make(K::Middle, {planeShape({0, 0, 0}, {0, 0, -1}), planeShape({0, 0, 8}, {0, 0, 1})});
    VERIFY_OK(plane);
    NEAR(plane->ideal.point.z(), 4.0, 1e-9);
    const auto wedge =
        make(K::Middle, {planeShape({0, 0, 0}, {-1, 0, 5}), planeShape({0, 0, 0}, {1, 0, 5})});
    VERIFY_OK(wedge);
    nearTo(wedge->ideal.direction, Vec3::UnitZ());
    const auto line =
        make(K::Middle, {axisShape({0, 0, 0}, {0, 0, 1}), axisShape({10, 0, 0}, {0, 0, -1})});
    VERIFY_OK(line);
    NEAR(line->ideal.point.x(), 5.0, 1e-9);
    std::vector<Shaped> holes;
    for (int k = 0; k < 6; ++k)
      holes.push_back(
          axisShape({40 * std::cos(k * kPi / 3) + 1, 40 * std::sin(k * kPi / 3), 0}, {0, 0, 1}));
    const auto circle = make(K::CircleThrough, holes);
    VERIFY_OK(circle);
    NEAR(circle->ideal.diameter, 80.0, 1e-9);
    nearTo(circle->ideal.point, {1, 0, 10});
    QCOMPARE(circle->points.size(), std::size_t(6));
    const auto row = make(K::LineThrough, {holes[0], holes[3]});
    VERIFY_OK(row);
    NEAR(row->ideal.length, 80.0, 1e-9);
  }
  void ontoAndNearest() {
    const auto foot = make(K::Projection, {ballShape({1, 2, 9}), planeShape({0, 0, 5}, {0, 0, 1})});
    VERIFY_OK(foot);
    nearTo(foot->ideal.point, {1, 2, 5});
    const auto shadow =
        make(K::Projection, {axisShape({0, 0, 9}, {1, 0, 1}), planeShape({0, 0, 0}, {0, 0, 1})});
    VERIFY_OK(shadow);
    nearTo(shadow->ideal.direction, Vec3::UnitX());
    const auto close = make(K::Nearest, {axisShape({0, 0, 0}, {0, 0, 1}), ballShape({3, 4, 6})});
    VERIFY_OK(close);
    nearTo(close->ideal.point, {0, 0, 6});
    Construction turned;
    turned.kind = K::Copy;
    turned.turn = Vec3(0, radians(90), 0);
    turned.offset = Vec3(0, 0, 4);
    const auto copy = construct(turned, {planeShape({1, 0, 0}, {0, 0, 1})});
    VERIFY_OK(copy);
    nearTo(copy->ideal.point, {1, 0, 4});
    nearTo(copy->ideal.direction, Vec3::UnitX());
    Construction gauge;
    gauge.kind = K::GaugeCircle;
    gauge.diameter = 30;
    const auto ring =
        construct(gauge, {roundShape(SurfaceType::Cone, {0, 0, 0}, {0, 0, 1}, 20, 9, radians(45))});
    VERIFY_OK(ring);
    nearTo(ring->ideal.point, {0, 0, 5});
  }
  void whatCannotBeSaysWhy() {
    const auto says = [](const Result<Shaped>& r, const char* words) {
      QVERIFY(!r);
      QVERIFY2(r.error().message.find(words) != std::string::npos, r.error().message.c_str());
    };
    const auto flat = planeShape({0, 0, 0}, {0, 0, 1}), above = planeShape({0, 0, 5}, {0, 0, 1});
    says(make(K::Intersection, {flat, above}), "parallel");
    says(make(K::Pierce, {axisShape({0, 0, 0}, {1, 0, 0}), flat}), "parallel");
    says(make(K::Intersection, {axisShape({0, 0, 0}, {1, 0, 0}), axisShape({0, 5, 0}, {1, 0, 0})}),
         "parallel");
    says(make(K::Projection, {axisShape({0, 0, 0}, {0, 0, 1}), flat}), "pierce");
    says(make(K::CircleThrough, {ballShape({0, 0, 0}), ballShape({1, 0, 0}), ballShape({2, 0, 0})}),
         "");
    says(make(K::CircleThrough, {flat, above, flat}), "no centre");
    says(make(K::Intersection, {ballShape({0, 0, 20}), flat}), "does not reach");
    says(make(K::LineThrough, {ballShape({0, 0, 0}), ballShape({0, 0, 0})}), "same");
    says(make(K::Middle, {flat}), "two");
  }
  // A motion of the parents moves the result along.
  void theyMoveWithTheirParents() {
    const Frame f = test::anyMotion(11);
    const auto move = [&](Shaped s) {
      s.ideal.point = f * s.ideal.point;
      s.ideal.direction = turn(f, s.ideal.direction);
      s.points = test::moved(s.points, f);
      return s;
    };
    const auto a = planeShape({0, 0, 5}, {0.1, 0, 1}), b = planeShape({7, 3, 0}, {1, 0.2, 0});
    const auto c = axisShape({1, 2, 3}, {0.1, 0.2, 1});
    for (const auto& [kind, one, two] :
         {std::tuple{K::Intersection, a, b}, {K::Pierce, c, a}, {K::Projection, c, b}}) {
      const auto here = make(kind, {one, two}), there = make(kind, {move(one), move(two)});
      VERIFY_OK(here);
      VERIFY_OK(there);
      nearTo(there->ideal.point, f * here->ideal.point, 1e-8);
      if (here->ideal.type != SurfaceType::Sphere) // points have none
        nearTo(there->ideal.direction, turn(f, here->ideal.direction), 1e-9);
    }
  }
  void proposalsBeginWithTheLikely() {
    const Plan& plan = test::heronPlan();
    const auto first = [&](std::vector<FeatureId> f) {
      const auto all = proposeConstructions(plan, f);
      return all.empty() ? std::string() : all.front().words;
    };
    const auto holes = test::balloon(plan, 9).features;
    QCOMPARE(first(holes), std::string("Circle through 6 centres"));
    QCOMPARE(first({holes[0], holes[1]}), std::string("Line midway between"));
    // Each proposal can be made.
    for (const auto& pair : {std::vector{holes[0], test::balloon(plan, 1).features[0]},
                             {test::balloon(plan, 1).features[0], holes[0]},
                             {holes[0]}})
      for (const Proposal& p : proposeConstructions(plan, pair))
        VERIFY_OK(withConstructed(plan, p.construction));
  }
  void addedRemovedAndUndone() {
    Plan plan = test::heronPlan();
    const auto holes = test::balloon(plan, 9).features;
    EditHistory history;
    const auto spec = withConstructed(plan, proposeConstructions(plan, holes).front().construction);
    VERIFY_OK(spec);
    VERIFY_OK(history.apply(plan, {"Construct", {SetSpecification{*spec}}}));
    const FeatureId circle{static_cast<int>(plan.features.size()) - 1};
    QCOMPARE(plan.nominal(circle).name, std::string("Pitch circle 1"));
    Requirement size;
    size.features = {circle};
    size.nominal = plan.nominal(circle).ideal.diameter;
    size.lower = size.nominal - 0.1, size.upper = size.nominal + 0.1, size.tolerance = 0.2;
    VERIFY_OK(
        history.apply(plan, {"Require", {SetSpecification{withRequirement(plan.spec, size)}}}));
    // It is covered because the holes are.
    QCOMPARE(featuresNeeded(plan.spec, plan.spec.requirements.back()), holes);
    QVERIFY(isCovered(plan, plan.spec.requirements.back()));
    Plan copy = plan;
    QVERIFY(!applyEdit(copy, RemoveFeature{circle})); // a requirement speaks of it
    QVERIFY(!applyEdit(copy, RemoveFeature{holes[0]}));
    const auto rest = withoutRequirement(plan.spec, plan.spec.requirements.back().id);
    VERIFY_OK(rest);
    VERIFY_OK(applyEdit(copy, SetSpecification{*rest}));
    VERIFY_OK(applyEdit(copy, RemoveFeature{circle}));
    QVERIFY(history.undo(plan) && history.undo(plan));
    QCOMPARE(plan.features.size(), test::heronPlan().features.size());
    QCOMPARE(plan.spec.requirements.size(), std::size_t(35));
  }
  // Steps that construct a feature, or move to a place counted from it, keep it there; nothing
  // changes for them when an earlier one is taken away, and when it comes back.
  void stepsFollowWhatTheyName() {
    Plan plan = test::heronPlan();
    const auto holes = test::balloon(plan, 9).features;
    for (int k = 0; k < 2; ++k) {
      const auto spec =
          withConstructed(plan, proposeConstructions(plan, holes).front().construction);
      VERIFY_OK(spec);
      VERIFY_OK(applyEdit(plan, SetSpecification{*spec}));
    }
    const FeatureId first{static_cast<int>(plan.features.size()) - 2}, second{first.value + 1};
    const auto add = [&](const StepBody& body) {
      return applyEdit(plan,
                       SpliceSteps{plan.steps.size(), 0, {{freeId(plan.steps), 0, true, 0, body}}});
    };
    VERIFY_OK(add(ConstructStep{second}));
    VERIFY_OK(add(MoveStep{CountFrom::Feature, second, Vec3(0, 0, 100)}));
    QVERIFY(!applyEdit(plan, RemoveFeature{second}));
    const std::string meant = plan.nominal(second).name;
    const auto names = [&](const Plan& p) {
      const auto& construct = std::get<ConstructStep>(p.steps[p.steps.size() - 2].body);
      const auto& move = std::get<MoveStep>(p.steps.back().body);
      return p.nominal(construct.feature).name == meant && p.nominal(move.feature).name == meant;
    };
    const auto before = plan.steps;
    const auto back = applyEdit(plan, RemoveFeature{first});
    VERIFY_OK(back);
    QVERIFY(names(plan));
    QVERIFY(plan.steps == before && plan.nominal(second).id == second);
    VERIFY_OK(validSteps(plan));
    VERIFY_OK(applyEdit(plan, *back));
    QVERIFY(names(plan));
    QVERIFY(plan.steps == before);
    // Nor does a specification without it pass by the steps.
    Specification without = plan.spec;
    without.features.pop_back();
    QVERIFY(!applyEdit(plan, SetSpecification{without}));
    QCOMPARE(plan.nominal(second).name, meant);
  }
  void ringsFollowTheRecipe() {
    Plan plan = test::heronPlan();
    const FeatureId bore = test::balloon(plan, 2).features[0];
    Construction c;
    c.kind = K::Section;
    c.of = {bore};
    c.row = 3;
    const auto spec = withConstructed(plan, c);
    VERIFY_OK(spec);
    VERIFY_OK(applyEdit(plan, SetSpecification{*spec}));
    const double before = plan.spec.features.back().ideal.point.z();
    Recipe recipe = plan.feature(bore).recipe;
    recipe.rows = 6;
    VERIFY_OK(applyEdit(plan, SetRecipe{bore, recipe, {}, {}}));
    QVERIFY(std::abs(plan.spec.features.back().ideal.point.z() - before) > 0.5);
    // Fewer rings than it stands on are refused, and nothing changes.
    recipe.rows = 2;
    QVERIFY(!applyEdit(plan, SetRecipe{bore, recipe, {}, {}}));
    QCOMPARE(plan.feature(bore).recipe.rows, 6);
  }
  void noneStandsOnItself() {
    Plan plan = test::heronPlan();
    Construction c;
    c.kind = K::Copy;
    c.of = {FeatureId{0}};
    auto spec = *withConstructed(plan, c, "One");
    NominalFeature two = spec.features.back();
    two.id = spec.features.next();
    two.name = "Two";
    two.from->of = {spec.features.back().id};
    spec.features.back().from->of = {two.id};
    spec.features.push_back(two);
    const auto refused = applyEdit(plan, SetSpecification{spec});
    QVERIFY(!refused);
    QVERIFY2(refused.error().message.find("One -> Two -> One") != std::string::npos,
             refused.error().message.c_str());
    QCOMPARE(plan.features.size(), test::heronPlan().features.size());
  }
};

ALDER_TEST(ConstructedFeatureTest)
#include "constructed_feature_test.moc"
