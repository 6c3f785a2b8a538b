#include "route/detour.h"

#include "support.h"

using namespace alder;

// Out of rooms with one opening: found, proved, short, and the same each time.
class DetourTest : public QObject {
  Q_OBJECT

  // A roof over the start, walls on three sides, open towards +X.
  static Obstacles room(bool closed) {
    Mesh mesh;
    const auto box = [&](const Vec3& low, const Vec3& high) {
      mesh.appendBox(Box3(low, high), Frame::Identity(), 0);
    };
    box({-50, -50, 120}, {50, 50, 125});
    box({-55, -50, 60}, {-50, 50, 125});
    box({-50, -55, 60}, {50, -50, 125});
    box({-50, 50, 60}, {50, 55, 125});
    box({-55, -55, 55}, {55, 55, 60});
    if (closed) box({50, -50, 60}, {55, 50, 125});
    Obstacles o;
    o.part = MeshTree(mesh);
    o.solids = mesh.box();
    return o;
  }
  static Plan plan() {
    Plan p;
    p.bench.machine.volume = Box3(Vec3(-500, -500, 0), Vec3(500, 500, 900));
    return p;
  }
  static Tool ball() {
    Tool t;
    t.ball_radius = 2;
    t.bounds = Box3(Vec3::Constant(-2), Vec3::Constant(2));
    return t;
  }
  static inline const Vec3 kFrom{0, 0, 90}, kTo{0, 0, 200};
  static inline const Box3 kWithin{Vec3(-150, -150, 60), Vec3(150, 150, 250)};

 private slots:
  void outThroughTheOpening() {
    const Plan p = plan();
    const Obstacles o = room(false);
    const Clearance clearance(p, o);
    const Tool tool = ball();
    QVERIFY(!clearance.clear(tool, kFrom, kTo, 0.25));
    for (std::uint64_t seed = 1; seed <= 20; ++seed) {
      const auto way = detour(clearance, tool, kFrom, kTo, kWithin, {0.25, 25, 2500, seed});
      QVERIFY(way && !way->empty());
      Vec3 at = kFrom;
      double length = 0;
      std::vector<Vec3> all = *way;
      all.push_back(kTo);
      for (const Vec3& place : all) {
        QVERIFY(clearance.clear(tool, at, place, 0.25));
        length += (place - at).norm();
        at = place;
      }
      // No way is shorter than over the edge of the roof, 50 out and 30 up, then back from it.
      const double least = std::hypot(50, 30) + std::hypot(50, 75);
      QVERIFY(length > least);
      QVERIFY2(length < 1.5 * least, qPrintable(QString::number(length / least)));
      const auto again = detour(clearance, tool, kFrom, kTo, kWithin, {0.25, 25, 2500, seed});
      QVERIFY(*again == *way);
    }
  }
  void nothingOutOfAClosedRoom() {
    const Plan p = plan();
    const Obstacles o = room(true);
    const Clearance clearance(p, o);
    QVERIFY(!detour(clearance, ball(), kFrom, kTo, kWithin, {0.25, 25, 400, 1}));
  }
  void straightWhereItIsFree() {
    const Plan p = plan();
    const Obstacles o = room(false);
    const Clearance clearance(p, o);
    const auto way = detour(clearance, ball(), kFrom, {120, 0, 95}, kWithin);
    QVERIFY(way && way->empty());
  }
  void withinTheTravel() {
    Plan p = plan();
    p.bench.machine.volume = Box3(Vec3(-500, -500, 0), Vec3(45, 500, 900)); // not past the opening
    const Obstacles o = room(false);
    const Clearance clearance(p, o);
    QVERIFY(!detour(clearance, ball(), kFrom, kTo, kWithin, {0.25, 25, 400, 1}));
  }
};
ALDER_TEST(DetourTest)
#include "detour_test.moc"
