#include "judge/rocking.h"

#include "base/random.h"
#include "support.h"

using namespace alder;

// The planes on which a surface rests, against surfaces whose rests are known.
class RockingTest : public QObject {
  Q_OBJECT

  // How far the highest point stands over the plane through three of them.
  static double highest(const Points& points, const std::array<std::size_t, 3>& contact) {
    const Vec3& a = points[contact[0]];
    const Vec3 normal =
        (points[contact[1]] - a).cross(points[contact[2]] - a).normalized(); // up by construction
    double most = -1e300;
    for (const Vec3& p : points)
      most = std::max(most, (p - a).dot(normal));
    return most;
  }

 private slots:
  void flatHasNone() {
    Points flat;
    for (int i = 0; i < 5; ++i)
      for (int j = 0; j < 4; ++j)
        flat.emplace_back(10 * i, 10 * j, 0);
    QVERIFY(restingPlanes(flat).empty());
    QVERIFY(restingPlanes({{0, 0, 0}, {1, 0, 1}, {0, 1, 0}}).empty()); // three points cannot rock
  }
  // Two slopes that meet in a ridge: one plane on each, and no third.
  void aRoofHasTwo() {
    Points roof;
    for (const double x : {0.0, 25.0, 50.0, 75.0, 100.0})
      for (const double y : {0.0, 30.0, 60.0})
        roof.emplace_back(x, y, -std::abs(x - 50) * 1e-3);
    const auto planes = restingPlanes(roof);
    QVERIFY(planes.size() >= 2);
    int left = 0, right = 0;
    for (const auto& c : planes) {
      const Vec3 n = (roof[c[1]] - roof[c[0]]).cross(roof[c[2]] - roof[c[0]]).normalized();
      NEAR(std::abs(n.x()), 1e-3, 1e-6);
      (n.x() > 0 ? right : left) += 1;
      QVERIFY(highest(roof, c) < 1e-7);
    }
    QVERIFY(left > 0 && right > 0);
  }
  // A bump in one corner: the planes that lean on it alone and two neighbours would tip.
  void tippingPlanesAreLeftOut() {
    Points bump;
    for (const double x : {0.0, 5.0, 10.0, 50.0, 90.0, 100.0})
      for (const double y : {0.0, 5.0, 10.0, 50.0, 90.0, 100.0})
        bump.emplace_back(x, y, std::hypot(x, y) < 12 ? 0.05 - 0.004 * std::hypot(x, y) : 0.0);
    for (const auto& c : restingPlanes(bump)) {
      double least = 1e300, most = -1e300;
      for (const std::size_t i : c)
        least = std::min(least, bump[i].x()), most = std::max(most, bump[i].x());
      QVERIFY(most > 100.0 / 3 && least < 200.0 / 3);
      QVERIFY(highest(bump, c) < 1e-7);
    }
  }
  // A scan: the same rests as those found among its high points, in no time.
  void scansToo() {
    Random r(9);
    Points scan;
    for (int i = 0; i < 150000; ++i) {
      const double x = r.uniform(0, 100), y = r.uniform(0, 70);
      scan.emplace_back(x, y, -std::abs(x - 50) * 1e-3 + r.uniform(-0.004, 0));
    }
    const auto planes = restingPlanes(scan);
    QVERIFY(planes.size() >= 2);
    for (const auto& c : planes)
      QVERIFY(highest(scan, c) < 1e-6);
  }
  // Whatever the surface, no point stands above a plane on which it is said to rest; widest first.
  void noPointStandsAbove() {
    Random r(5);
    for (int k = 0; k < 20; ++k) {
      Points rough;
      for (int i = 0; i < 60; ++i)
        rough.push_back(Vec3{r.uniform(0, 100), r.uniform(0, 70), r.uniform(-0.02, 0)});
      const auto planes = restingPlanes(rough);
      QVERIFY(!planes.empty());
      double before = 1e300;
      for (const auto& c : planes) {
        QVERIFY(highest(rough, c) < 1e-6);
        const Vec3 cross = (rough[c[1]] - rough[c[0]]).cross(rough[c[2]] - rough[c[0]]);
        QVERIFY(cross.z() > 0 && cross.z() <= before + 1e-3);
        before = cross.z();
      }
      QVERIFY(restingPlanes(rough) == planes);
    }
  }
};
ALDER_TEST(RockingTest)
#include "rocking_test.moc"
