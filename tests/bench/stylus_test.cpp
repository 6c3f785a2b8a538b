#include "bench/bench.h"
#include "heron.h"
#include "support.h"

using namespace alder;

namespace {

Json benchWith(const std::function<void(Json&)>& change) {
  Json json = Json::parse(demo::benchJson(true));
  change(json);
  return json;
}

QString complaint(const Json& json) {
  const auto bench = readBench(json.dump(), "shop.json");
  return bench ? QString() : QString::fromStdString(bench.error().message);
}

} // namespace

class StylusTest : public QObject {
  Q_OBJECT
 private slots:
  // Lengths add up along the chain, and what stays at the head is not the stylus's.
  void chains() {
    const Bench bench = test::heronBench();
    NEAR(bench.styli[0].length(), 32.0, 1e-12);
    NEAR(bench.styli[1].length(), 122.0, 1e-12);
    NEAR(bench.styli[1].grams(), 13.0, 1e-12);
    NEAR(bench.styli[0].tips[0].probeLength(), 78.0, 1e-12);
    // of the star the stem of the side tips counts once
    NEAR(bench.styli[2].grams(), 1.2 + (0.8 + 3) + 0.8, 1e-12);
    QVERIFY(beyondProbe(bench).empty());
  }
  // A cone is stood for by rods that hold it; a crank turns what follows.
  void conesAndCranks() {
    const Bench bench = test::shippedBench("godwit");
    const Tip& cone = bench.styli[0].tips[0];
    for (const Rod& rod : cone.rods) {
      if (rod.part != "shaft") continue;
      const double far = std::max(rod.a.norm(), rod.b.norm());
      QVERIFY(rod.diameter >= 2.5 + (5 - 2.5) * far / 50 - 1e-9);
    }
    NEAR(cone.segments.back().to, 50.0 + 20 + 90, 1e-9);
    const Tip& cranked = bench.styli[1].tips[0];
    QVERIFY(!cranked.straight());
    const Vec3 pivot = Vec3(-0.6, 0, 0.8) * 25 + Vec3(0, 0, 30 + 20 + 90);
    NEAR((cranked.pivot_to_ball + pivot).norm(), 0.0, 1e-9);
    QCOMPARE(bench.head.kind, HeadKind::Free);
    NEAR(bench.head.a.nearest(0.1234), 0.1234, 1e-15);
    const Bench small = test::shippedBench("lapwing");
    QCOMPARE(small.head.kind, HeadKind::Fixed);
    NEAR(small.head.a.nearest(1.0), 0.0, 1e-15);
  }
  void beyondWhatTheProbeCarries() {
    const auto bench = readBench(benchWith([](Json& j) {
                                   j["probe"]["stylus_length_mm"] = 100;
                                   j["probe"]["stylus_weight_g"] = 10;
                                   j["machine"]["touch_speed_mm_s"] = 20;
                                 }).dump(),
                                 "shop.json");
    VERIFY_OK(bench);
    const auto found = beyondProbe(*bench);
    QCOMPARE(found.size(), std::size_t(3));
    QVERIFY(found[0].find("long ø4 is 122 mm long") != std::string::npos);
    QVERIFY(found[1].find("weighs 13 g") != std::string::npos);
  }
  // What cannot be screwed together is said, with the field.
  void doesNotAssemble_data() {
    QTest::addColumn<QString>("pointer");
    QTest::addColumn<QString>("value");
    QTest::addColumn<QString>("says");
    const QString element = "/styli/1/tips/0/elements/%1/%2";
    QTest::newRow("order") << element.arg(1).arg("part") << "\"probe\""
                           << "cannot be a probe above a probe|cannot be";
    QTest::newRow("shank above") << element.arg(2).arg("part") << "\"shaft\""
                                 << "elements[2].part cannot be a shaft above a extension";
    QTest::newRow("unknown part") << element.arg(0).arg("part") << "\"stick\""
                                  << "must be shaft, extension, joint, module or probe";
    QTest::newRow("thread") << element.arg(1).arg("thread_near") << "\"M3\""
                            << "thread_near is M3, but the shaft below it has M2";
    QTest::newRow("thick shank") << element.arg(0).arg("diameter_mm") << "4"
                                 << "must be below that of the ball (4)";
    QTest::newRow("no length") << element.arg(0).arg("length_mm") << "0"
                               << "length_mm must be above 0";
    QTest::newRow("up") << "/styli/1/tips/0/direction"
                        << "[0, 0, 1]"
                        << "the ball must hang below it";
    QTest::newRow("weight") << element.arg(0).arg("weight_g") << "-1"
                            << "must not be below 0";
    QTest::newRow("twice") << "/styli/1/name"
                           << "\"short ø3\""
                           << "has two named \"short ø3\"";
    QTest::newRow("port") << "/rack/ports/0/stylus"
                          << "\"nobody\""
                          << "\"nobody\" is not among the styli";
    QTest::newRow("rack out") << "/rack/out"
                              << "[0, 0, 1]"
                              << "must be level";
    QTest::newRow("head kind") << "/head/kind"
                               << "\"wobbly\""
                               << "must be fixed, indexing or continuous";
    QTest::newRow("carried") << "/machine/bodies/0/moves_with"
                             << "\"u\""
                             << "must name axes by x, y and z";
    QTest::newRow("carried body") << "/machine/bodies/0/boxes"
                                  << "[]"
                                  << "what moves is made of boxes";
  }
  void doesNotAssemble() {
    QFETCH(QString, pointer);
    QFETCH(QString, value);
    QFETCH(QString, says);
    const Json changed = benchWith([&](Json& j) {
      j[Json::json_pointer(pointer.toStdString())] = Json::parse(value.toStdString());
    });
    const QString message = complaint(changed);
    if (QTest::currentDataTag() == QString("order")) {
      QVERIFY(message.isEmpty()); // a probe may have two pieces
      return;
    }
    QVERIFY2(message.startsWith("shop.json: ") && message.contains(says) && !message.contains('\n'),
             qPrintable(message));
  }
};
ALDER_TEST(StylusTest)
#include "stylus_test.moc"
