#include "base/random.h"
#include "geometry/mesh.h"
#include "support.h"

using namespace alder;

namespace {

Vec3 any(Random& r, double size = 10) {
  return size * Vec3{r.uniform(-1, 1), r.uniform(-1, 1), r.uniform(-1, 1)};
}

// The slow, obvious way: nearest over a dense grid on both.
double sampled(const Segment& s, const Triangle& t, int n = 60) {
  double best = 1e300;
  for (int i = 0; i <= n; ++i) {
    const Vec3 p = s.a + (s.b - s.a) * (double(i) / n);
    best = std::min(best, (closestOnTriangle(p, t) - p).norm());
  }
  return best;
}

double sampled(const Triangle& a, const Triangle& b, int n = 40) {
  double best = 1e300;
  for (int i = 0; i <= n; ++i)
    for (int j = 0; j + i <= n; ++j) {
      const Vec3 p = a.a + (a.b - a.a) * (double(i) / n) + (a.c - a.a) * (double(j) / n);
      best = std::min(best, (closestOnTriangle(p, b) - p).norm());
    }
  return best;
}

} // namespace

class DistanceTest : public QObject {
  Q_OBJECT
 private slots:
  void closedForms() {
    const Triangle t{{0, 0, 0}, {10, 0, 0}, {0, 10, 0}};
    QCOMPARE((closestOnTriangle({2, 3, 5}, t) - Vec3(2, 3, 0)).norm(), 0.0);
    NEAR((closestOnTriangle({10, 10, 0}, t) - Vec3(5, 5, 0)).norm(), 0.0, 1e-12);
    QCOMPARE(squaredDistance(Segment{{1, 1, -1}, {1, 1, 1}}, t), 0.0);
    NEAR(squaredDistance(Segment{{0, 0, 2}, {5, 0, 2}}, t), 4.0, 1e-12);
    NEAR(squaredDistance(Segment{{0, 0, 0}, {10, 0, 0}}, Segment{{5, -3, 4}, {5, 3, 4}}), 16.0,
         1e-12);
    // crossing triangles touch, parallel ones keep their distance
    QCOMPARE(squaredDistance(t, Triangle{{1, 1, -1}, {1, 1, 1}, {5, 5, 1}}), 0.0);
    NEAR(squaredDistance(t, Triangle{{0, 0, 3}, {10, 0, 3}, {0, 10, 3}}), 9.0, 1e-12);
  }
  void agreesWithSampling() {
    Random r(3);
    for (int i = 0; i < 300; ++i) {
      const Segment s{any(r), any(r)};
      const Triangle t{any(r), any(r), any(r)}, u{any(r), any(r), any(r)};
      const double exact = std::sqrt(squaredDistance(s, t)), slow = sampled(s, t);
      QVERIFY2(exact <= slow + 1e-9, "never farther than some sample");
      QVERIFY2(slow - exact < 0.4, "samples lie close");
      const double tt = std::sqrt(squaredDistance(t, u)), tslow = sampled(t, u);
      QVERIFY(tt <= tslow + 1e-9);
      QVERIFY(tslow - tt < 0.8);
    }
  }
  void distancesDoNotDependOnPlaceOrOrder() {
    Random r(5);
    for (unsigned i = 0; i < 100; ++i) {
      const Triangle t{any(r), any(r), any(r)}, u{any(r), any(r), any(r)};
      const Frame f = test::anyMotion(i, 1000);
      const double d = std::sqrt(squaredDistance(t, u));
      NEAR(std::sqrt(squaredDistance(u, t)), d, 1e-10);
      NEAR(std::sqrt(squaredDistance(Triangle{f * t.a, f * t.b, f * t.c},
                                     Triangle{f * u.a, f * u.b, f * u.c})),
           d, 1e-9);
    }
  }
  void treeAgreesWithEveryTriangle() {
    Random r(11);
    Mesh mesh;
    for (int i = 0; i < 400; ++i) {
      const Vec3 at = any(r, 40);
      for (int k = 0; k < 3; ++k)
        mesh.vertices.push_back(at + any(r, 3));
      mesh.triangles.push_back({3 * i, 3 * i + 1, 3 * i + 2});
      mesh.tags.push_back(i % 7);
    }
    const MeshTree tree(mesh);
    for (int i = 0; i < 200; ++i) {
      const Vec3 a = any(r, 40);
      const Sweep sweep{{a, a + any(r, 5)}, any(r, 15), 0.5};
      const Triangle first{sweep.axis.a, sweep.axis.b, sweep.axis.b + sweep.move};
      const Triangle second{sweep.axis.a, sweep.axis.b + sweep.move, sweep.axis.a + sweep.move};
      double slow = 1e300;
      for (std::size_t k = 0; k < mesh.triangles.size(); ++k) {
        if (mesh.tags[k] == 3) continue;
        const Triangle t = mesh.triangle(k);
        slow = std::min({slow, squaredDistance(first, t), squaredDistance(second, t)});
      }
      const auto skip = [](int tag) { return tag == 3; };
      const auto found = tree.nearest(sweep, 100, skip);
      QVERIFY(found.has_value());
      NEAR(found->distance, std::sqrt(slow) - 0.5, 1e-9);
      QCOMPARE(tree.clear(sweep, found->distance - 1e-6, skip), true);
      QCOMPARE(tree.clear(sweep, found->distance + 1e-6, skip), false);
    }
  }
  // A thin plate between two places: samples a millimetre apart would miss it, the sweep does not.
  void nothingSlipsThroughBetweenSamples() {
    Mesh plate;
    plate.appendBox(Box3(Vec3(-10, -10, 4.9999), Vec3(10, 10, 5.0001)), Frame::Identity(), 0);
    const MeshTree tree(plate);
    QVERIFY(!tree.clear({{{0, 0, 0}, {0, 0, 0}}, {0, 0, 10}, 0.001}, 0));
    QVERIFY(tree.clear({{{0, 0, 0}, {0, 0, 0}}, {0, 0, 4}, 0.5}, 0.4));
    NEAR(*tree.firstHit({0, 0, 0}, {0, 0, 1}), 4.9999, 1e-9);
    QVERIFY(!tree.firstHit({0, 0, 0}, {0, 0, -1}));
  }
};
ALDER_TEST(DistanceTest)
#include "distance_test.moc"
