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
  // Each name that files use finds its value again; what is no name finds nothing.
  void namesGoBothWays() {
    for (int k = 0; k <= static_cast<int>(AssociateBy::Area); ++k)
      QVERIFY(associateByNamed(name(static_cast<AssociateBy>(k))) == static_cast<AssociateBy>(k));
    for (int k = 0; k <= static_cast<int>(Characteristic::Value); ++k)
      QVERIFY(characteristicNamed(name(static_cast<Characteristic>(k))) ==
              static_cast<Characteristic>(k));
    for (int k = 0; k <= static_cast<int>(ConstructionKind::Section); ++k) {
      const auto kind = static_cast<ConstructionKind>(k);
      QVERIFY(constructionNamed(name(kind)) == kind);
      QVERIFY(!words(kind).empty());
    }
    for (const auto standard :
         {ToleranceStandard::Iso, ToleranceStandard::Asme, ToleranceStandard::Asme2009})
      QVERIFY(standardNamed(name(standard)) == standard);
    for (const auto along : {Along::Direct, Along::X, Along::Y, Along::Z})
      QVERIFY(alongNamed(name(along)) == along);
    for (const auto extreme : {Extreme::Between, Extreme::Smallest, Extreme::Largest})
      QVERIFY(extremeNamed(name(extreme)) == extreme);
    QVERIFY(!associateByNamed("guess") && !characteristicNamed("guess") && !alongNamed("w"));
    QVERIFY(!constructionNamed("guess") && !standardNamed("DIN") && !extremeNamed("mean"));
  }
  void whatIsTouchedInTheEnd() {
    Specification s;
    const auto add = [&](std::vector<int> of) {
      NominalFeature f;
      f.id = FeatureId{static_cast<int>(s.features.size())};
      f.name = "F" + std::to_string(f.id.value);
      if (!of.empty()) {
        f.from = Construction{};
        for (const int id : of)
          f.from->of.push_back(FeatureId{id});
      }
      s.features.push_back(f);
    };
    add({});
    add({});
    add({});
    add({0, 1});
    add({3, 1});
    QCOMPARE(touchedFor(s, {FeatureId{4}}), (std::vector<FeatureId>{FeatureId{0}, FeatureId{1}}));
    QCOMPARE(touchedFor(s, {FeatureId{4}, FeatureId{2}}).size(), std::size_t(3));
    QVERIFY(!cycleIn(s));
    s.features[3].from->of = {FeatureId{4}};
    QCOMPARE(*cycleIn(s), std::string("F3 -> F4 -> F3"));
    s.features[3].from->of = {FeatureId{3}};
    QCOMPARE(*cycleIn(s), std::string("F3 -> F3"));
    // Also a circle does not hang what asks for the touches.
    QCOMPARE(touchedFor(s, {FeatureId{4}}), (std::vector<FeatureId>{FeatureId{1}}));
  }
  void heldAtTheSameTime() {
    Specification s;
    s.standard = ToleranceStandard::Asme;
    for (int k = 0; k < 4; ++k) {
      Requirement r;
      r.id = RequirementId{k};
      r.kind = k == 1 ? Characteristic::SurfaceProfile : Characteristic::Position;
      r.datums = {{{"A"}, MaterialModifier::None, {}, {}}};
      s.requirements.push_back(r);
    }
    QCOMPARE(simultaneous(s, s.requirements[0]).size(), std::size_t(3));
    s.requirements[1].separate = true;
    s.requirements[2].upper_segment = RequirementId{0};
    s.requirements[3].datums[0].material = MaterialModifier::Maximum;
    QVERIFY(simultaneous(s, s.requirements[0]).empty());
    QVERIFY(simultaneous(s, s.requirements[1]).empty());
    s.standard = ToleranceStandard::Iso;
    s.requirements[1].separate = false;
    QVERIFY(simultaneous(s, s.requirements[0]).empty());
  }
  void describedInOneLine() {
    Requirement r;
    r.kind = Characteristic::Position;
    r.zone = Zone::Diametral;
    r.tolerance = 0.25;
    r.material = MaterialModifier::Maximum;
    r.projected = 12;
    r.separate = true;
    r.datums = {{{"A"}, MaterialModifier::None, {}, "zuv"},
                {{"B", "C"}, MaterialModifier::Least, {}, {}}};
    QCOMPARE(describe(r), std::string("position ø0.25 M P 12 SZ | A [zuv] | B-C L"));
    Requirement d;
    d.kind = Characteristic::Distance;
    d.nominal = 20, d.lower = 19.9, d.upper = 20.1;
    d.along = Along::Y;
    d.extreme = Extreme::Largest;
    QCOMPARE(describe(d), std::string("largest 20 along Y ±0.1"));
    Specification spec;
    Requirement round;
    round.kind = Characteristic::Roundness;
    round.tolerance = 0.05;
    spec.standard = ToleranceStandard::Iso;
    QCOMPARE(describe(spec, round), std::string("roundness 0.05"));
    spec.standard = ToleranceStandard::Asme;
    QCOMPARE(describe(spec, round), std::string("circularity 0.05"));
    QCOMPARE(describe(spec, d), describe(d));
    QVERIFY(describe(spec, r).find(" SEP REQT") != std::string::npos);
    spec.standard = ToleranceStandard::Iso;
    QCOMPARE(describe(spec, r), describe(r));
    r.separate = false;
    r.zone_plane = PlaneIndicator{PlaneRelation::Perpendicular, "B"};
    QVERIFY(describe(r).ends_with(" orientation plane ⟂ B"));
    Requirement size;
    size.kind = Characteristic::Size;
    size.nominal = 20, size.lower = 19.9, size.upper = 20.1;
    QCOMPARE(describe(size), std::string("20 ±0.1"));
    // ISO 14405-1, table 1, by hand.
    const std::map<AssociateBy, std::string> symbols{{AssociateBy::LeastSquares, "GG"},
                                                     {AssociateBy::MaximumInscribed, "GX"},
                                                     {AssociateBy::MinimumCircumscribed, "GN"},
                                                     {AssociateBy::TwoPointMin, "SN"},
                                                     {AssociateBy::TwoPointMax, "SX"},
                                                     {AssociateBy::TwoPointMean, "SA"},
                                                     {AssociateBy::TwoPointRange, "SR"},
                                                     {AssociateBy::TwoPointMedian, "SM"},
                                                     {AssociateBy::TwoPointMidRange, "SD"},
                                                     {AssociateBy::Circumference, "CC"},
                                                     {AssociateBy::Area, "CA"}};
    for (const auto& [by, symbol] : symbols) {
      size.association = by;
      QCOMPARE(describe(size), "20 ±0.1 " + symbol);
    }
    Requirement v;
    v.kind = Characteristic::Value;
    v.formula = "#2 / 2";
    v.nominal = 16, v.lower = 15.9, v.upper = 16.2;
    v.unit = "mm";
    QCOMPARE(describe(v), std::string("#2 / 2 = 16 mm +0.2/-0.1"));
  }
};
ALDER_TEST(SpecificationTest)
#include "specification_test.moc"
