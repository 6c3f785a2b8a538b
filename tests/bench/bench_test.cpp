#include "base/files.h"
#include "base/units.h"
#include "bench/bench.h"
#include "heron.h"
#include "support.h"

using namespace alder;

class BenchTest : public QObject {
  Q_OBJECT
 private slots:
  // The convention of the head: A0 down, A90 B0 towards -Y, A90 B90 towards +X, A90 B180 towards
  // +Y.
  void directions_data() {
    QTest::addColumn<double>("a");
    QTest::addColumn<double>("b");
    QTest::addColumn<QVector<double>>("toBall");
    QTest::newRow("down") << 0.0 << 0.0 << QVector<double>{0, 0, -1};
    QTest::newRow("-Y") << 90.0 << 0.0 << QVector<double>{0, -1, 0};
    QTest::newRow("+X") << 90.0 << 90.0 << QVector<double>{1, 0, 0};
    QTest::newRow("+Y") << 90.0 << 180.0 << QVector<double>{0, 1, 0};
    QTest::newRow("-X") << 90.0 << -90.0 << QVector<double>{-1, 0, 0};
    const double s = std::sqrt(0.5);
    QTest::newRow("45 down to -Y") << 45.0 << 0.0 << QVector<double>{0, -s, -s};
  }
  void directions() {
    QFETCH(double, a);
    QFETCH(double, b);
    QFETCH(QVector<double>, toBall);
    const Vec3 expected(toBall[0], toBall[1], toBall[2]);
    Tip tip;
    NEAR((shankDirection(tip, radians(a), radians(b)) + expected).norm(), 0.0, 1e-12);
    NEAR((headTurn(radians(a), radians(b)) * -Vec3::UnitZ() - expected).norm(), 0.0, 1e-12);
  }
  void indexingHead() {
    const AngleRange b{radians(-180), radians(180), radians(5)};
    NEAR(degrees(b.nearest(radians(47))), 45.0, 1e-9);
    NEAR(std::abs(degrees(b.nearest(radians(182.6)))), 175.0, 1e-6); // 182.6 is -177.4
    const AngleRange a{0, radians(105), radians(7.5)};
    NEAR(degrees(a.nearest(radians(119))), 105.0, 1e-9);
    QVERIFY(a.holds(0) && !a.holds(radians(106)));
  }
  void shippedBenches() {
    const auto plain = defaultBench();
    VERIFY_OK(plain);
    QVERIFY(!plain->fixture.placement);
    const Bench bench = test::heronBench();
    QVERIFY(bench.fixture.placement.has_value());
    QCOMPARE(bench.fixture.bodies.size(), std::size_t(6));
    const Tip& tip = bench.styli[0].tips[0];
    QVERIFY(tip.straight());
    NEAR(tip.pivot_to_ball.z(), -110.0, 1e-12);
    NEAR(tip.segments.back().to, 110.0, 1e-12);
    const Tip& side = bench.styli[2].tips[1];
    QVERIFY(!side.straight());
    NEAR((side.pivot_to_ball - Vec3(15, 0, -98)).norm(), 0.0, 1e-12);
    // what ships is what the generator writes
    QCOMPARE(*readFile(test::dataPath("bench.json")), demo::benchJson(true));
  }
  // Each mistake gives one line that names file and field.
  void mistakes_data() {
    QTest::addColumn<QString>("find");
    QTest::addColumn<QString>("put");
    QTest::addColumn<QString>("names");
    QTest::newRow("not JSON") << "{"
                              << "{{"
                              << "line 1";
    QTest::newRow("missing") << "\"head\""
                             << "\"hat\""
                             << "head is missing";
    QTest::newRow("text for number") << "\"step\": 5"
                                     << "\"step\": \"5\""
                                     << "head.a_deg.step must be a number";
    QTest::newRow("zero") << "\"touch_speed_mm_s\": 4"
                          << "\"touch_speed_mm_s\": 0"
                          << "touch_speed_mm_s must be above 0";
    QTest::newRow("volume") << "\"max\": [900"
                            << "\"max\": [-1"
                            << "volume_mm.max";
    QTest::newRow("vector") << "[350, 350, 300]"
                            << "[350, 350]"
                            << "speed_mm_s must be a list of three";
    QTest::newRow("ball") << "\"ball_diameter_mm\": 3"
                          << "\"ball_diameter_mm\": -3"
                          << "styli[0].tips[0].ball_diameter_mm";
  }
  void mistakes() {
    QFETCH(QString, find);
    QFETCH(QString, put);
    QFETCH(QString, names);
    QString json = QString::fromStdString(demo::benchJson(true));
    const auto at = json.indexOf(find);
    QVERIFY(at >= 0);
    json.replace(at, find.size(), put);
    const auto bench = readBench(json.toStdString(), "shop.json");
    QVERIFY(!bench);
    const QString message = QString::fromStdString(bench.error().message);
    QVERIFY2(message.startsWith("shop.json") && message.contains(names) && !message.contains('\n'),
             qPrintable(message));
  }
};
ALDER_TEST(BenchTest)
#include "bench_test.moc"
