#include "base/random.h"
#include "base/units.h"
#include "fit/association.h"
#include "support.h"

using namespace alder;
using alder::test::moved;

namespace {

// Exact points of a shape about Z, then moved anywhere.
Points roundPoints(Shape shape, double radius, double half_angle, double arc, int rows,
                   double height, double bump) {
  Points p;
  for (int r = 0; r < rows; ++r)
    for (int k = 0; k < 12; ++k) {
      const double a = arc * k / 12, z = rows > 1 ? height * r / (rows - 1) : 0;
      double rho = radius + z * std::tan(half_angle) + bump * std::cos(3 * a);
      if (shape == Shape::Sphere) {
        const double polar = 0.2 + 1.1 * r / rows;
        p.emplace_back(rho * std::sin(polar) * std::cos(a), rho * std::sin(polar) * std::sin(a),
                       rho * std::cos(polar));
      } else {
        p.emplace_back(rho * std::cos(a), rho * std::sin(a), z);
      }
    }
  return p;
}

} // namespace

class AssociationTest : public QObject {
  Q_OBJECT
 private slots:
  void exactShapes_data() {
    QTest::addColumn<int>("seed");
    for (int i = 0; i < 12; ++i)
      QTest::newRow(qPrintable(QString("motion %1").arg(i))) << i;
  }
  // Found without a start, anywhere in space, also on a third of a turn.
  void exactShapes() {
    QFETCH(int, seed);
    const Frame f = test::anyMotion(static_cast<unsigned>(seed), 2000);
    const double arc = seed % 3 == 0 ? 2.1 : 2 * kPi;
    const auto cylinder = fitLeastSquares(
        Shape::Cylinder, moved(roundPoints(Shape::Cylinder, 8, 0, arc, 3, 25, 0), f));
    VERIFY_OK(cylinder);
    NEAR(cylinder->diameter, 16.0, 1e-7);
    NEAR(cylinder->direction.cross(f.linear().col(2)).norm(), 0.0, 1e-8);
    NEAR(cylinder->form, 0.0, 1e-7);
    const auto cone = fitLeastSquares(
        Shape::Cone, moved(roundPoints(Shape::Cone, 8, radians(20), arc, 3, 25, 0), f));
    VERIFY_OK(cone);
    NEAR(degrees(cone->half_angle), 20.0, 1e-5);
    NEAR(cone->direction.dot(f.linear().col(2)), 1.0, 1e-9);
    const auto sphere =
        fitLeastSquares(Shape::Sphere, moved(roundPoints(Shape::Sphere, 8, 0, arc, 4, 0, 0), f));
    VERIFY_OK(sphere);
    NEAR(sphere->diameter, 16.0, 1e-7);
    NEAR((sphere->point - f.translation()).norm(), 0.0, 1e-7);
    const auto circle =
        fitLeastSquares(Shape::Circle, moved(roundPoints(Shape::Cylinder, 8, 0, arc, 1, 0, 0), f));
    VERIFY_OK(circle);
    NEAR(circle->diameter, 16.0, 1e-7);
  }
  // Three lobes over whole turns are orthogonal to all parameters: size and axis stay, form is
  // peak to valley.
  void lobesComeBackAsForm() {
    const Frame f = test::anyMotion(4, 100);
    const auto c = fitLeastSquares(
        Shape::Cylinder, moved(roundPoints(Shape::Cylinder, 20, 0, 2 * kPi, 4, 30, 0.01), f));
    VERIFY_OK(c);
    NEAR(c->diameter, 40.0, 1e-5);
    NEAR(c->form, 0.02, 1e-6);
    NEAR(c->rms, 0.01 / std::sqrt(2.0), 1e-6);
  }
  void planeByHand() {
    // z = +d, -d, +d, -d at the corners of a square: the plane is z = 0, its form 2 d
    const Points p{{0, 0, 0.1}, {10, 0, -0.1}, {10, 10, 0.1}, {0, 10, -0.1}};
    const auto plane = fitLeastSquares(Shape::Plane, p, FitStart{{0, 0, 0}, {0, 0, 1}});
    VERIFY_OK(plane);
    NEAR(plane->direction.z(), 1.0, 1e-12);
    NEAR(plane->form, 0.2, 1e-12);
    NEAR(plane->rms, 0.1, 1e-12);
  }
  void lineByHand() {
    const auto line =
        fitLeastSquares(Shape::Line, {{0, 0.1, 0}, {1, -0.1, 0}, {2, -0.1, 0}, {3, 0.1, 0}});
    VERIFY_OK(line);
    NEAR(std::abs(line->direction.x()), 1.0, 1e-12);
    NEAR(line->form, 0.2, 1e-12);
  }
  void stationary() {
    // no small change of the cylinder makes the sum of squares smaller
    Random r(2);
    Points p = roundPoints(Shape::Cylinder, 12, 0, 2 * kPi, 4, 30, 0.02);
    for (Vec3& v : p)
      v += 0.01 * Vec3{r.normal(), r.normal(), r.normal()};
    const auto c = fitLeastSquares(Shape::Cylinder, p);
    VERIFY_OK(c);
    const auto sum = [&](Association a) {
      double s = 0;
      for (const Vec3& v : p)
        s += deviation(a, v) * deviation(a, v);
      return s;
    };
    const double best = sum(*c);
    for (int k = 0; k < 40; ++k) {
      Association a = *c;
      a.point += 1e-3 * Vec3{r.normal(), r.normal(), r.normal()};
      a.direction = (a.direction + 1e-4 * Vec3{r.normal(), r.normal(), r.normal()}).normalized();
      a.diameter += 1e-3 * r.normal();
      QVERIFY(sum(a) >= best - 1e-12);
    }
  }
  void degenerate_data() {
    QTest::addColumn<int>("shape");
    QTest::addColumn<int>("count");
    QTest::newRow("two for a plane") << int(Shape::Plane) << 2;
    QTest::newRow("line for a plane") << int(Shape::Plane) << 9;
    QTest::newRow("line for a circle") << int(Shape::Circle) << 9;
    QTest::newRow("line for a cylinder") << int(Shape::Cylinder) << 9;
    QTest::newRow("line for a sphere") << int(Shape::Sphere) << 9;
    QTest::newRow("line for a cone") << int(Shape::Cone) << 9;
  }
  void degenerate() {
    QFETCH(int, shape);
    QFETCH(int, count);
    Points p;
    for (int i = 0; i < count; ++i)
      p.emplace_back(i, 2 * i, -i);
    const auto fit = fitLeastSquares(static_cast<Shape>(shape), p);
    QVERIFY(!fit);
    QVERIFY(fit.error().message.find(name(static_cast<Shape>(shape))) != std::string::npos);
  }
  void oneRingIsNoCylinder() {
    QVERIFY(!fitLeastSquares(Shape::Cylinder, roundPoints(Shape::Cylinder, 8, 0, 2 * kPi, 1, 0, 0),
                             FitStart{{0, 0, 0}, {0, 0, 1}, 16}));
    Points bad = roundPoints(Shape::Cylinder, 8, 0, 2 * kPi, 3, 20, 0);
    bad[4].x() = std::nan("");
    const auto fit = fitLeastSquares(Shape::Cylinder, bad);
    QVERIFY(!fit && fit.error().message.find("point 5") != std::string::npos);
  }
};
ALDER_TEST(AssociationTest)
#include "association_test.moc"
