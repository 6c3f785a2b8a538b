#include "geometry/hull.h"

#include "base/random.h"
#include "base/units.h"
#include "support.h"

using namespace alder;

class HullTest : public QObject {
  Q_OBJECT
 private slots:
  // Every place lies on the left of every side, whatever lies inside, on a side or twice.
  void holdsAll() {
    Random random(3);
    for (int seed = 0; seed < 200; ++seed) {
      PlanePoints points;
      for (int i = 0; i < 3 + seed % 40; ++i)
        points.emplace_back(std::round(random.uniform(-9, 9)), std::round(random.uniform(-9, 9)));
      points.push_back(points.front());
      const PlanePoints hull = convexHull(points);
      for (std::size_t i = 0; hull.size() > 2 && i < hull.size(); ++i) {
        const auto &a = hull[i], &b = hull[(i + 1) % hull.size()];
        for (const auto& p : points)
          QVERIFY((b.first - a.first) * (p.second - a.second) -
                      (b.second - a.second) * (p.first - a.first) >=
                  0);
      }
    }
    QVERIFY(convexHull({}).empty());
  }

  // Of rectangles and discs, turned and moved anyhow.
  void longerSide() {
    Random random(5);
    for (int seed = 0; seed < 100; ++seed) {
      const double turn = random.uniform(0, 2 * kPi), x = random.uniform(-50, 50),
                   w = random.uniform(1, 90), h = random.uniform(1, 90);
      const auto placed = [&](double u, double v) {
        return std::pair{x + std::cos(turn) * u - std::sin(turn) * v,
                         std::sin(turn) * u + std::cos(turn) * v};
      };
      PlanePoints rectangle, disc;
      for (int i = 0; i <= 20; ++i)
        for (const double side : {0.0, 1.0}) {
          rectangle.push_back(placed(w * i / 20, h * side));
          rectangle.push_back(placed(w * side, h * i / 20));
        }
      NEAR(longerSideOfBox(rectangle), std::max(w, h), 1e-9);
      for (int i = 0; i < 360; ++i)
        disc.push_back(placed(w * std::cos(radians(i)), w * std::sin(radians(i))));
      NEAR(longerSideOfBox(disc), 2 * w, 1e-3 * w);
    }
    QCOMPARE(longerSideOfBox({{1, 1}}), 0.0);
  }
};

ALDER_TEST(HullTest)
#include "hull_test.moc"
