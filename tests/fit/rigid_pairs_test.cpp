#include "base/random.h"
#include "base/units.h"
#include "fit/rigid_pairs.h"
#include "fit/small_linear.h"
#include "support.h"

using namespace alder;

class RigidPairsTest : public QObject {
  Q_OBJECT

  static Points cloud(Random& r, int n, const Vec3& spread) {
    Points p;
    for (int i = 0; i < n; ++i)
      p.push_back(Vec3{r.normal(), r.normal(), r.normal()}.cwiseProduct(spread));
    return p;
  }
  static void same(const Frame& a, const Frame& b, double limit) {
    QVERIFY((a.matrix() - b.matrix()).cwiseAbs().maxCoeff() < limit);
  }

 private slots:
  void anyMotionIsFound() {
    Random r(1);
    for (unsigned k = 0; k < 20; ++k) {
      const Frame motion = test::anyMotion(k, 300);
      // In space, and in a plane, where a mirrored placement would match as well.
      for (const Vec3& spread : {Vec3(40, 30, 20), Vec3(40, 30, 0)}) {
        const Points from = cloud(r, 7, spread);
        Points to;
        for (const Vec3& p : from)
          to.push_back(motion * p);
        same(placedByPairs(from, to), motion, 1e-10);
      }
    }
  }
  // Mirrored partners are not followed by a mirror.
  void noReflection() {
    Random r(2);
    const Points from = cloud(r, 9, Vec3(40, 30, 20));
    Points to;
    for (const Vec3& p : from)
      to.push_back(Vec3(-p.x(), p.y(), p.z()));
    NEAR(placedByPairs(from, to).linear().determinant(), 1.0, 1e-12);
  }
  void onOneLine() {
    const Points from{Vec3(0, 0, 0), Vec3(10, 0, 0), Vec3(30, 0, 0)},
        to{Vec3(5, 5, 0), Vec3(5, 15, 0), Vec3(5, 35, 0)};
    const Frame f = placedByPairs(from, to);
    for (std::size_t i = 0; i < from.size(); ++i)
      QVERIFY((f * from[i] - to[i]).norm() < 1e-12);
    same(f, Frame(Eigen::Translation3d(5, 5, 0) * Eigen::AngleAxisd(kPi / 2, Vec3::UnitZ())),
         1e-12);
  }
  // No pairing of the same points is better by a small motion.
  void leastSquares() {
    Random r(3);
    const Points from = cloud(r, 8, Vec3(40, 30, 20));
    Points to;
    for (const Vec3& p : from)
      to.push_back(p + 0.1 * Vec3{r.normal(), r.normal(), r.normal()});
    const auto squares = [&](const Frame& f) {
      double sum = 0;
      for (std::size_t i = 0; i < from.size(); ++i)
        sum += (f * from[i] - to[i]).squaredNorm();
      return sum;
    };
    const Frame best = placedByPairs(from, to);
    for (int k = 0; k < 50; ++k) {
      const Vec3 turn = 1e-3 * Vec3{r.normal(), r.normal(), r.normal()},
                 move = 1e-2 * Vec3{r.normal(), r.normal(), r.normal()};
      QVERIFY(squares(smallMotion(turn, move, Vec3::Zero()) * best) > squares(best));
    }
  }
  // What the rows do not see stays; where they contradict each other, least squares.
  void leastNorm() {
    SmallMatrix rows(3, 3);
    rows << 1, 0, 0, 1, 0, 0, 0, 2, 0;
    const SmallVector x = solveLeastNorm(rows, Vec3(1, 3, 4), 1e-9);
    NEAR(x[0], 2.0, 1e-12);
    NEAR(x[1], 2.0, 1e-12);
    NEAR(x[2], 0.0, 1e-12);
  }
};
ALDER_TEST(RigidPairsTest)
#include "rigid_pairs_test.moc"
