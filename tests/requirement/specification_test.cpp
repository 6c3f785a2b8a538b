#include "base/units.h"
#include "requirement/fits.h"
#include "support.h"

using namespace alder;

class SpecificationTest : public QObject {
  Q_OBJECT
 private slots:
  // Published limit deviations (ISO 286-2), micrometres.
  void fits_data() {
    QTest::addColumn<QString>("code");
    QTest::addColumn<double>("size");
    QTest::addColumn<double>("lower");
    QTest::addColumn<double>("upper");
    QTest::newRow("32 H7") << "H7" << 32.0 << 0.0 << 25.0;
    QTest::newRow("8 H8") << "H8" << 8.0 << 0.0 << 22.0;
    QTest::newRow("20 g6") << "g6" << 20.0 << -20.0 << -7.0;
    QTest::newRow("50 f7") << "f7" << 50.0 << -50.0 << -25.0;
    QTest::newRow("30 h6") << "h6" << 30.0 << -13.0 << 0.0;
    QTest::newRow("18 js6") << "js6" << 18.0 << -5.5 << 5.5;
    QTest::newRow("100 E9") << "E9" << 100.0 << 72.0 << 159.0;
    QTest::newRow("300 d11") << "d11" << 300.0 << -510.0 << -190.0;
    const struct {
      const char* code;
      double size, lower, upper;
    } rows[] = {{"P7", 40, -42, -17},       {"N7", 40, -33, -8},   {"M7", 40, -25, 0},
                {"K7", 40, -18, 7},         {"K6", 40, -13, 3},    {"N9", 40, -62, 0},
                {"N9", 2, -29, -4},         {"s6", 40, 43, 59},    {"r6", 40, 34, 50},
                {"p6", 40, 26, 42},         {"n6", 40, 17, 33},    {"m6", 40, 9, 25},
                {"k6", 40, 2, 18},          {"k8", 40, 0, 39},     {"j6", 40, -5, 11},
                {"J7", 40, -11, 14},        {"u6", 40, 60, 76},    {"t6", 25, 41, 54},
                {"M6", 5, -9, -1},          {"M6", 300, -41, -9},  {"X7", 90, -200, -165},
                {"a11", 450, -1900, -1500}, {"JS9", 10, -18, 18},  {"h01", 100, -1, 0},
                {"zc8", 14, 130, 157},      {"H18", 500, 0, 9700}, {"js13", 200, -360, 360}};
    for (const auto& row : rows)
      QTest::newRow(qPrintable(QString("%1 %2").arg(row.size).arg(row.code)))
          << QString(row.code) << row.size << row.lower << row.upper;
    QTest::newRow("3 H6, end of range") << "H6" << 3.0 << 0.0 << 6.0;
  }
  void fits() {
    QFETCH(QString, code);
    QFETCH(double, size);
    QFETCH(double, lower);
    QFETCH(double, upper);
    const auto limits = limitDeviations(code.toStdString(), size);
    VERIFY_OK(limits);
    NEAR(1000 * limits->lower, lower, 1e-9);
    NEAR(1000 * limits->upper, upper, 1e-9);
  }
  void fitsThatAreNotTabled() {
    for (const char* code : {"7", "H", "H19", "zz6", "t6", "j9", "J5", "K9", "Hh7", "H7x", "H007"})
      QVERIFY(!limitDeviations(code, 20));
    QVERIFY(!limitDeviations("H7", 501));
    QVERIFY(!limitDeviations("H7", 0));
  }
  void theHeronReadsLikeItsDrawing_data() {
    QTest::addColumn<int>("balloon");
    QTest::addColumn<QString>("text");
    QTest::addColumn<int>("features");
    QTest::newRow("1") << 1 << "flatness 0.02" << 1;
    QTest::newRow("2") << 2 << "ø32 H7 +0.025/0" << 1;
    QTest::newRow("3") << 3 << "perpendicularity ø0.03 | A" << 1;
    QTest::newRow("8") << 8 << "ø11 +0.2/-0.1" << 6;
    QTest::newRow("9") << 9 << "position ø0.25 M | A | B | C" << 6;
    QTest::newRow("16") << 16 << "90° ±0.5" << 1;
    QTest::newRow("20") << 20 << "position Sø0.2 | A | B | C" << 1;
    QTest::newRow("21") << 21 << "6 +0.1/0" << 1;
    QTest::newRow("27") << 27 << "90° ±0.2" << 2;
    QTest::newRow("28") << 28 << "surface profile 0.12 UZ+0.02 | A | B | C" << 1;
    QTest::newRow("33") << 33 << "40 ±0.1" << 2;
  }
  void theHeronReadsLikeItsDrawing() {
    QFETCH(int, balloon);
    QFETCH(QString, text);
    QFETCH(int, features);
    const Requirement& r = test::balloon(test::heronPlan(), balloon);
    QCOMPARE(QString::fromStdString(describe(r)), text);
    QCOMPARE(static_cast<int>(r.features.size()), features);
    QCOMPARE(r.balloon, balloon);
  }
  void compositesKnowTheirUpperSegment() {
    const Plan& plan = test::heronPlan();
    QVERIFY(!test::balloon(plan, 9).upper_segment.valid());
    QCOMPARE(test::balloon(plan, 10).upper_segment, test::balloon(plan, 9).id);
  }
  void slotsAndDatums() {
    const Plan& plan = test::heronPlan();
    const FeatureId groove = test::balloon(plan, 21).features[0];
    QVERIFY(plan.nominal(groove).ideal.type == SurfaceType::Slot);
    NEAR(plan.nominal(groove).ideal.diameter, 6.0, 1e-9);
    QVERIFY(plan.nominal(groove).ideal.hole);
    QCOMPARE(test::balloon(plan, 22).features[0], groove); // size and position share the feature
    QCOMPARE(plan.spec.datums.size(), std::size_t(3));
    QCOMPARE(plan.spec.datum("B")->features[0], test::balloon(plan, 2).features[0]);
    QCOMPARE(plan.spec.sizeOf(test::balloon(plan, 9).features[3])->balloon, 8);
  }
};
ALDER_TEST(SpecificationTest)
#include "specification_test.moc"
