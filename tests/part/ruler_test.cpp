#include "part/ruler.h"
#include "support.h"
#include <cmath>

using namespace alder;

// A ruler against what the Heron's drawing says, and against distances worked out.
class RulerTest : public QObject {
  Q_OBJECT

  static Ruled of(const NominalFeature& f) { return {f.ideal, f.faces}; }
  static Ruled plane(const Vec3& point, const Vec3& normal) {
    Ideal i;
    i.type = SurfaceType::Plane, i.point = point, i.direction = normal.normalized();
    return {i, {}};
  }
  static Ruled axis(const Vec3& point, const Vec3& along) {
    Ideal i;
    i.type = SurfaceType::Cylinder, i.point = point, i.direction = along.normalized();
    i.diameter = 8, i.length = 20;
    return {i, {}};
  }
  static Ruled centre(const Vec3& point) {
    Ideal i;
    i.type = SurfaceType::Sphere, i.point = point, i.diameter = 6;
    return {i, {}};
  }
  static std::optional<double> figureOf(const RulerReading& r, const std::string& what) {
    for (const RulerFigure& f : r.figures)
      if (f.what.rfind(what, 0) == 0) return f.value;
    return {};
  }
  static const PartModel& part() { return *test::heron(); }

 private slots:
  // Each distance, angle and size that the drawing asks for is what the ruler reads.
  void asTheDrawingSays() {
    const Plan& plan = test::heronPlan();
    int compared = 0;
    for (const Requirement& r : plan.spec.requirements) {
      if (r.along != Along::Direct || r.extreme != Extreme::Between) continue;
      if (r.kind == Characteristic::Size) {
        const auto read = sizesOf(part(), of(plan.nominal(r.features[0])));
        const auto size = figureOf(read, "diameter"), width = figureOf(read, "width"),
                   angle = figureOf(read, "angle");
        const double nominal = r.nominal * (r.radius ? 2 : 1);
        QVERIFY2(size || width || angle, describe(r).c_str());
        NEAR(size ? *size : width ? *width : *angle, nominal, 1e-6);
        ++compared;
      }
      if (r.kind != Characteristic::Distance && r.kind != Characteristic::Angle) continue;
      if (r.features.size() < 2) continue;
      const NominalFeature &a = plan.nominal(r.features[0]), &b = plan.nominal(r.features[1]);
      if (a.isConstructed() || b.isConstructed()) continue;
      const auto read = between(part(), of(a), of(b));
      if (r.kind == Characteristic::Angle) {
        const double angle = figureOf(read, "angle").value_or(-1);
        QVERIFY2(std::min(std::abs(angle - r.nominal), std::abs(kPi - angle - r.nominal)) < 1e-6,
                 describe(r).c_str());
      } else {
        NEAR(read.figures.at(0).value, r.nominal, 1e-6);
      }
      ++compared;
    }
    QVERIFY(compared >= 8);
  }

  void workedOut() {
    const auto first = [&](const Ruled& a, const Ruled& b) {
      return between(part(), a, b).figures.at(0);
    };
    const Ruled xy = plane({0, 0, 3}, {0, 0, 1});
    NEAR(first(xy, plane({9, 9, -4}, {0, 0, -1})).value, 7.0, 1e-12);
    NEAR(first(xy, axis({1, 2, 8}, {1, 1, 0})).value, 5.0, 1e-12);
    NEAR(first(xy, centre({5, 5, 10})).value, 7.0, 1e-12);
    NEAR(first(axis({0, 0, 0}, {0, 0, 1}), axis({3, 4, 9}, {0, 0, -1})).value, 5.0, 1e-12);
    NEAR(first(axis({0, 0, 0}, {1, 0, 0}), axis({5, 7, 2}, {0, 1, 0})).value, 2.0, 1e-12);
    NEAR(first(axis({0, 0, 0}, {0, 0, 1}), centre({6, 8, 3})).value, 10.0, 1e-12);
    NEAR(first(centre({1, 1, 1}), centre({1, 4, 5})).value, 5.0, 1e-12);
    QCOMPARE(first(centre({1, 1, 1}), axis({0, 0, 0}, {0, 0, 1})).what,
             std::string("distance of axis and centre"));
    const auto slanted = between(part(), centre({0, 0, 0}), centre({2, 3, 6}));
    NEAR(*figureOf(slanted, "along X"), 2.0, 1e-12);
    NEAR(*figureOf(slanted, "along Z"), 6.0, 1e-12);
    // Planes that meet have an angle and no distance.
    const auto meet = between(part(), xy, plane({0, 0, 0}, {0, 1, 1}));
    QCOMPARE(meet.figures.size(), std::size_t(1));
    NEAR(*figureOf(meet, "angle"), kPi / 4, 1e-12);
    NEAR(*figureOf(between(part(), xy, axis({0, 0, 0}, {0, 1, 1})), "angle"), kPi / 4, 1e-12);
  }

  // The same whichever is picked first, and however the part lies.
  void orderAndMotion() {
    for (unsigned seed = 1; seed <= 40; ++seed) {
      const Frame m = test::anyMotion(seed), n = test::anyMotion(seed + 100);
      const Vec3 p = m.translation() / 10, q = n.translation() / 10;
      const std::vector<Ruled> all{plane(p, m.linear().col(2)), axis(q, n.linear().col(0)),
                                   axis(p, m.linear().col(0)), centre(q)};
      for (const Ruled& a : all)
        for (const Ruled& b : all) {
          const auto one = between(part(), a, b), two = between(part(), b, a);
          QCOMPARE(one.figures.size(), two.figures.size());
          for (std::size_t k = 0; k < one.figures.size(); ++k)
            NEAR(one.figures[k].value, two.figures[k].value, 1e-9);
          const auto turned = [&](Ruled r) {
            r.ideal.point = n * r.ideal.point;
            r.ideal.direction = turn(n, r.ideal.direction);
            return r;
          };
          const auto moved = between(part(), turned(a), turned(b));
          if (!one.figures.empty() && one.figures[0].unit == RulerUnit::Length)
            NEAR(moved.figures.at(0).value, one.figures[0].value, 1e-8);
        }
    }
  }

  // The smallest distance of faces, between the points that are told.
  void facesAsTheyAreTrimmed() {
    const Plan& plan = test::heronPlan();
    const Ruled bore = of(plan.nominal(test::named(plan, "Bore ø32"))),
                boss = of(plan.nominal(test::named(plan, "Boss ø120")));
    const auto read = between(part(), bore, boss);
    NEAR(read.figures.at(0).value, 0.0, 1e-6); // one axis
    const auto smallest = figureOf(read, "smallest distance");
    QVERIFY(smallest && *smallest > 43.9); // half of 120 less half of 32, apart along the axis
  }
};
ALDER_TEST(RulerTest)
#include "ruler_test.moc"
