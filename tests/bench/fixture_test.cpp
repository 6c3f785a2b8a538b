#include "base/units.h"
#include "bench/bench.h"
#include "bench/kit.h"
#include "geometry/mesh_check.h"
#include "heron.h"
#include "support.h"

using namespace alder;

namespace {

Result<Bench> withBody(const Json& body) {
  Json json = Json::parse(demo::benchJson(true));
  json["fixture"]["bodies"].push_back(body);
  return readBench(json.dump(), "shop.json");
}

} // namespace

class FixtureTest : public QObject {
  Q_OBJECT
 private slots:
  // Every piece of the kit is a closed solid that stands on its foot, wherever it is put.
  void piecesAreSolids() {
    for (const std::string& piece : kitPieces()) {
      Json body = kitPiece(piece, "new", Vec3(100, 200, 20));
      body["toward_deg"] = 30;
      const auto bench = withBody(body);
      VERIFY_OK(bench);
      const FixtureBody& b = bench->fixture.bodies.back();
      QVERIFY2(volumeOf(b.mesh) > 1000, piece.c_str());
      QCOMPARE(openEdges(b.mesh), 0);
      NEAR(b.mesh.box().min().z(), 20.0, 1e-9);
      QVERIFY(!b.seats.empty());
      // Seats lie on the body: just outside there is air, just inside there is not.
      const MeshTree tree(b.mesh);
      for (const Seat& s : b.seats) {
        NEAR(s.direction.norm(), 1.0, 1e-12);
        if (s.axis) continue;
        QVERIFY(!tree.clear(Sweep{{s.point, s.point}, Vec3::Zero(), 0.05}, 0));
      }
    }
  }
  void volumes() {
    const auto volume = [](const Json& body) {
      return volumeOf(withBody(body)->fixture.bodies.back().mesh);
    };
    NEAR(volume(kitPiece("plate", "p", Vec3::Zero())), 220.0 * 220 * 20, 1e-6);
    // the block less its groove, a triangle of 34 by 17
    NEAR(volume(kitPiece("v block", "v", Vec3::Zero())), (50.0 * 45 - 34 * 17 / 2) * 60, 1e-6);
  }
  // Open, the arm of a clamp is out of the way; the post stays.
  void clampsOpen() {
    Json body = kitPiece("clamp", "c", Vec3::Zero());
    const Vec3 under(40, 0, 90.5); // at the under side of the arm
    const Sweep probe{{under, under}, Vec3::Zero(), 1};
    QVERIFY(!MeshTree(withBody(body)->fixture.bodies.back().mesh).clear(probe, 0));
    body["open"] = true;
    const auto bench = withBody(body);
    VERIFY_OK(bench);
    QVERIFY(bench->fixture.bodies.back().open && bench->fixture.bodies.back().can_open);
    QVERIFY(MeshTree(bench->fixture.bodies.back().mesh).clear(probe, 0));
    // the clamps of the demo open too
    Json demo = Json::parse(demo::benchJson(true));
    demo["fixture"]["bodies"][4]["open"] = true;
    const auto opened = readBench(demo.dump(), "demo");
    VERIFY_OK(opened);
    QVERIFY(opened->fixture.bodies[4].open);
    const Box3 shut = test::heronBench().fixture.bodies[4].mesh.box();
    QVERIFY((opened->fixture.bodies[4].mesh.box().center() - shut.center()).norm() > 10);
    NEAR(volumeOf(opened->fixture.bodies[4].mesh),
         volumeOf(test::heronBench().fixture.bodies[4].mesh), 1e-3);
  }
  // Several fixtures, each at its own place.
  void severalFixtures() {
    Json json = Json::parse(demo::benchJson(true));
    json["fixtures"] = Json::array({{{"name", "side"},
                                     {"at", {700, 100, 0}},
                                     {"turn_z_deg", 90},
                                     {"bodies", {kitPiece("vice", "vice", Vec3(10, 0, 0))}}}});
    const auto bench = readBench(json.dump(), "shop.json");
    VERIFY_OK(bench);
    const FixtureBody& vice = bench->fixture.bodies.back();
    QCOMPARE(vice.fixture, std::string("side"));
    QCOMPARE(vice.kind, FixtureKind::Vice);
    for (const Seat& s : vice.seats)
      if (s.name == "fixed jaw") NEAR((s.direction - Vec3::UnitY()).norm(), 0.0, 1e-12);
    QVERIFY(vice.mesh.box().contains(Vec3(700, 110, 5)));
  }
  void mistakes_data() {
    QTest::addColumn<QString>("body");
    QTest::addColumn<QString>("says");
    QTest::newRow("nothing") << R"({"name": "x", "kind": "rest"})"
                             << "must hold a solid";
    QTest::newRow("flat") << R"({"name": "x", "boxes": [{"min": [0,0,0], "max": [1,1,0]}]})"
                          << "must lie above min on each axis";
    QTest::newRow("no length")
        << R"({"name": "x", "cylinders": [{"from": [0,0,0], "to": [0,0,0], "diameter_mm": 4}]})"
        << "has no volume";
    QTest::newRow("flat mesh")
        << R"({"name": "x", "mesh": {"vertices": [[0,0,0],[1,0,0],[0,1,0]], "triangles": [[0,1,2]]}})"
        << "mesh has no volume; give a closed solid";
    QTest::newRow("bad triangle")
        << R"({"name": "x", "mesh": {"vertices": [[0,0,0]], "triangles": [[0,1,2]]}})"
        << "must hold three numbers of vertices each";
    QTest::newRow("bad vertex")
        << R"({"name": "x", "mesh": {"vertices": [["a",0,0]], "triangles": []}})"
        << "vertices must hold three numbers each";
    QTest::newRow("kind") << R"({"name": "x", "kind": "glue"})"
                          << "must be plate, rest, clamp";
    QTest::newRow("piece") << R"({"name": "x", "piece": "glue", "at": [0,0,0]})"
                           << "piece must be rest, clamp, vice, v block or plate";
    QTest::newRow("no size") << R"({"name": "x", "piece": "rest", "at": [0,0,0], "height_mm": 0})"
                             << "height_mm must be above 0";
    QTest::newRow("groove")
        << R"({"name": "x", "piece": "v block", "at": [0,0,0], "groove_mm": 60})"
        << "groove_mm must be below the width";
    QTest::newRow("twice") << R"({"name": "rest 1", "piece": "rest", "at": [0,0,0]})"
                           << "\"rest 1\" is there twice";
  }
  void mistakes() {
    QFETCH(QString, body);
    QFETCH(QString, says);
    const auto bench = withBody(Json::parse(body.toStdString()));
    QVERIFY(!bench);
    const QString message = QString::fromStdString(bench.error().message);
    QVERIFY2(message.startsWith("shop.json: fixture.bodies[6]") && message.contains(says) &&
                 !message.contains('\n'),
             qPrintable(message));
  }
};
ALDER_TEST(FixtureTest)
#include "fixture_test.moc"
