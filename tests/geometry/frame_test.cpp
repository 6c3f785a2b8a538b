#include "base/random.h"
#include "base/units.h"
#include "geometry/mesh.h"
#include "support.h"

using namespace alder;

class FrameTest : public QObject {
  Q_OBJECT
 private slots:
  void framesAreRightHanded() {
    Random r(1);
    for (int i = 0; i < 200; ++i) {
      const Vec3 z{r.normal(), r.normal(), r.normal()}, hint{r.normal(), r.normal(), r.normal()},
          o{r.normal(), r.normal(), r.normal()};
      const Frame f = frameOf(o, z, hint);
      NEAR(f.linear().determinant(), 1.0, 1e-12);
      NEAR((f.linear() * f.linear().transpose() - Mat3::Identity()).norm(), 0.0, 1e-12);
      NEAR(f.linear().col(2).dot(z.normalized()), 1.0, 1e-12);
      QVERIFY(f.linear().col(0).dot(hint) >= -1e-12);
      QVERIFY((f * Vec3::Zero() - o).norm() < 1e-12);
      NEAR(anyPerpendicular(z.normalized()).dot(z), 0.0, 1e-12);
    }
    // a hint along z is no hint
    NEAR(frameOf({0, 0, 0}, {0, 0, 2}, {0, 0, 5}).linear().determinant(), 1.0, 1e-12);
  }
  void smallMotionsKeepTheirCentre() {
    const Vec3 centre(10, -20, 30);
    const Frame f = smallMotion({0.1, 0.2, -0.3}, {1, 2, 3}, centre);
    NEAR((f * centre - centre - Vec3(1, 2, 3)).norm(), 0.0, 1e-12);
  }
  // A velocity that belongs to a turn about some axis gives that turn: the axis stays where it is.
  void screwsTurnAboutTheirAxis() {
    Random r(2);
    for (int i = 0; i < 100; ++i) {
      const Vec3 axis = Vec3{r.normal(), r.normal(), r.normal()}.normalized(),
                 on(r.normal() * 50, r.normal() * 50, r.normal() * 50);
      const Vec3 centre(r.normal() * 50, r.normal() * 50, r.normal() * 50);
      const double angle = r.uniform(-3, 3);
      const Vec3 velocity = (angle * axis).cross(centre - on);
      const Frame f = screwMotion(angle * axis, velocity, centre);
      NEAR((f * on - on).norm(), 0.0, 1e-9);
      NEAR((f * Vec3(on + 7 * axis) - on - 7 * axis).norm(), 0.0, 1e-9);
    }
    // without a turn it is a plain move
    NEAR((screwMotion(Vec3::Zero(), {1, 2, 3}, {9, 9, 9}).translation() - Vec3(1, 2, 3)).norm(),
         0.0, 1e-12);
    // halves make a whole
    const Frame half = screwMotion({0.2, 0, 0.1}, {1, 2, 0}, {3, 3, 3}),
                whole = screwMotion({0.4, 0, 0.2}, {2, 4, 0}, {3, 3, 3});
    const Frame moved_half =
        half; // the centre moves along, so the second half starts where the first ends
    const Frame second = screwMotion({0.2, 0, 0.1}, {1, 2, 0}, {3, 3, 3});
    NEAR((second * moved_half).matrix().isApprox(whole.matrix(), 1e-9) ? 0.0 : 1.0, 0.0, 1e-12);
  }
  void boxesMove() {
    const Box3 b(Vec3(0, 0, 0), Vec3(1, 2, 3));
    Frame quarter = Frame::Identity();
    quarter.linear() = Eigen::AngleAxisd(kPi / 2, Vec3::UnitZ()).toRotationMatrix();
    const Box3 t = transformed(b, quarter);
    NEAR((t.min() - Vec3(-2, 0, 0)).norm(), 0.0, 1e-12);
    NEAR((t.max() - Vec3(0, 1, 3)).norm(), 0.0, 1e-12);
  }
  void meshesJoin() {
    Mesh a, b;
    a.appendBox(Box3(Vec3(0, 0, 0), Vec3(1, 1, 1)), Frame::Identity(), 4);
    Frame away = Frame::Identity();
    away.translation() = Vec3(10, 0, 0);
    b.append(a, Frame::Identity());
    b.append(a, away);
    QCOMPARE(b.triangles.size(), std::size_t(24));
    QCOMPARE(b.tags.back(), 4);
    NEAR(b.box().max().x(), 11.0, 1e-12);
    double volume = 0;
    for (std::size_t i = 0; i < 12; ++i) {
      const Triangle t = a.triangle(i);
      volume += t.a.dot(t.b.cross(t.c)) / 6;
    }
    NEAR(volume, 1.0, 1e-12); // all sides face outward
    const MeshTree none{Mesh{}};
    QVERIFY(none.empty());
    QVERIFY(none.clear({{{0, 0, 0}, {0, 0, 0}}, {1, 1, 1}, 1}, 5));
    QVERIFY(!none.nearest({{{0, 0, 0}, {0, 0, 0}}, {1, 1, 1}, 1}, 5));
  }
  // Rods at rest, balls that move, rods that move along themselves: the simple forms of a sweep.
  void sweepsInTheirSimpleForms() {
    Mesh wall;
    wall.appendBox(Box3(Vec3(5, -50, -50), Vec3(6, 50, 50)), Frame::Identity(), 0);
    const MeshTree tree(wall);
    const auto d = [&](const Sweep& s) { return tree.nearest(s, 1000)->distance; };
    NEAR(d({{{0, 0, 0}, {0, 0, 0}}, {0, 0, 0}, 1}), 4.0, 1e-12);           // a ball at rest
    NEAR(d({{{0, 0, 0}, {0, 0, 0}}, {2, 0, 0}, 1}), 2.0, 1e-12);           // a ball that moves
    NEAR(d({{{0, 0, 0}, {0, 0, 9}}, {0, 0, 0}, 0.5}), 4.5, 1e-12);         // a rod at rest
    NEAR(d({{{0, 0, 0}, {3, 0, 0}}, {1, 0, 0}, 0.5}), 0.5, 1e-12);         // along itself
    NEAR(d({{{3, 0, 0}, {0, 0, 0}}, {-1, 0, 0}, 0.5}), 1.5, 1e-12);        // and back
    NEAR(d({{{0, 0, 0}, {0, 0, 9}}, {3, 0, 0}, 0.5}), 1.5, 1e-12);         // across
    QVERIFY(d({{{0, 0, 0}, {0, 0, 9}}, {20, 0, 0}, 0.5}) <= -0.5 + 1e-12); // through
  }
};
ALDER_TEST(FrameTest)
#include "frame_test.moc"
