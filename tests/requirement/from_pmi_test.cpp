#include "base/error.h"

#include "requirement/from_pmi.h"

#include "base/units.h"
#include "pmi_writer.h"
#include "support.h"
#include <set>

using namespace alder;

// Requirements made from tolerance data given directly, on the Heron's faces.
class FromPmiTest : public QObject {
  Q_OBJECT

  // A copy of the Heron with other tolerance data.
  static PartModel with(Pmi pmi) {
    PartModel part = *test::heron();
    part.pmi = std::move(pmi);
    return part;
  }
  static std::vector<FaceId> bore() {
    return test::heronPlan().nominal(test::named(test::heronPlan(), "Bore ø32")).faces;
  }
  static std::vector<FaceId> cup() {
    return test::heronPlan().nominal(test::named(test::heronPlan(), "Internal sphere")).faces;
  }
  struct Answer {
    Specification spec;
    std::vector<Note> notes;
  };
  static Answer read(Pmi pmi) {
    Answer a;
    a.spec = specificationFromPmi(with(std::move(pmi)), a.notes);
    return a;
  }
  static bool noted(const Answer& a, int entity, const char* words) {
    return std::any_of(a.notes.begin(), a.notes.end(), [&](const Note& n) {
      return n.entity == entity && n.text.find(words) != std::string::npos;
    });
  }

 private slots:
  void balloonsFollowTheFile() {
    Pmi pmi;
    pmi.tolerances.push_back(
        {.entity = 30, .type = ToleranceType::Roundness, .magnitude = 0.01, .faces = bore()});
    pmi.dimensions.push_back({.entity = 20,
                              .type = PmiDimension::Type::Diameter,
                              .faces = bore(),
                              .nominal = 32.0,
                              .lower = 0.0,
                              .upper = 0.02});
    pmi.tolerances.push_back(
        {.entity = 10, .type = ToleranceType::Cylindricity, .magnitude = 0.02, .faces = bore()});
    const Answer a = read(pmi);
    QCOMPARE(a.spec.requirements.size(), std::size_t(3));
    QVERIFY(a.spec.requirements[0].kind == Characteristic::Cylindricity);
    QVERIFY(a.spec.requirements[1].kind == Characteristic::Size);
    QCOMPARE(a.spec.requirements[2].balloon, 3);
    QCOMPARE(a.spec.features.size(), std::size_t(1)); // all speak of one feature
    QVERIFY(a.notes.empty());
  }
  void zonesThatAreNotStated() {
    Pmi pmi;
    pmi.tolerances.push_back(
        {.entity = 1, .type = ToleranceType::Position, .magnitude = 0.1, .faces = bore()});
    pmi.tolerances.push_back(
        {.entity = 2, .type = ToleranceType::Coaxiality, .magnitude = 0.1, .faces = bore()});
    pmi.tolerances.push_back(
        {.entity = 3, .type = ToleranceType::Position, .magnitude = 0.1, .faces = cup()});
    pmi.tolerances.push_back({.entity = 4,
                              .type = ToleranceType::Position,
                              .magnitude = 0.1,
                              .zone = ZoneForm::Planar,
                              .faces = bore()});
    pmi.tolerances.push_back(
        {.entity = 5, .type = ToleranceType::Flatness, .magnitude = 0.1, .faces = {FaceId{0}}});
    const Answer a = read(pmi);
    QVERIFY(a.spec.requirements[0].zone == Zone::Diametral);
    QVERIFY(noted(a, 1, "zone form"));
    QVERIFY(a.spec.requirements[1].zone == Zone::Diametral);
    QVERIFY(!noted(a, 2, "zone"));
    QVERIFY(a.spec.requirements[2].zone == Zone::Spherical);
    QVERIFY(noted(a, 4, "stricter"));
    QVERIFY(a.spec.requirements[4].zone == Zone::Planar);
  }
  void whatIsNotJudgedIsNoted() {
    Pmi pmi;
    pmi.tolerances.push_back({.entity = 7,
                              .type = ToleranceType::Position,
                              .magnitude = 0.1,
                              .zone = ZoneForm::Cylindrical,
                              .modifiers = {"FREE_STATE"},
                              .projected = 20.0,
                              .unit_size = 10.0,
                              .datums = {{{"Q"}, MaterialModifier::None, {"TRANSLATION"}}},
                              .faces = bore()});
    const Answer a = read(pmi);
    QVERIFY(noted(a, 7, "free state"));
    QCOMPARE(a.spec.requirements[0].projected, 20.0);
    QVERIFY(noted(a, 7, "per unit"));
    QVERIFY(noted(a, 7, "datum Q is used but not defined"));
    QVERIFY(noted(a, 7, "translation"));
  }
  // By their names in the file, in either spelling.
  void modifiersAreTakenOver() {
    Pmi pmi;
    pmi.tolerances.push_back({.entity = 1,
                              .type = ToleranceType::Flatness,
                              .magnitude = 0.1,
                              .unit_size = 25.0,
                              .faces = {FaceId{0}}});
    pmi.tolerances.push_back(
        {.entity = 2,
         .type = ToleranceType::Position,
         .magnitude = 0.1,
         .zone = ZoneForm::Cylindrical,
         .modifiers = {"SEPARATE_REQUIREMENT", "COMMON_ZONE"},
         .datums = {{{"A"},
                     MaterialModifier::None,
                     {"DEGREE_OF_FREEDOM_CONSTRAINT_Z", "DEGREE_OF_FREEDOM_CONSTRAINT_U"}}},
         .faces = bore()});
    pmi.tolerances.push_back({.entity = 3,
                              .type = ToleranceType::Parallelism,
                              .magnitude = 0.1,
                              .modifiers = {"TANGENT_PLANE"},
                              .faces = {FaceId{0}}});
    const Answer a = read(pmi);
    QCOMPARE(a.spec.requirements[0].unit_length, 25.0);
    QVERIFY(a.spec.requirements[1].separate);
    QCOMPARE(a.spec.requirements[1].datums[0].may_fix, std::string("zu"));
    QVERIFY(a.spec.requirements[2].association == AssociateBy::Tangent);
    for (const int entity : {1, 2, 3})
      QVERIFY(!noted(a, entity, "not judged"));
  }
  void sizeModifiersAreTakenOver() {
    const auto size = [](std::string modifier) {
      Pmi pmi;
      PmiDimension d;
      d.entity = 5;
      d.type = PmiDimension::Type::Diameter;
      d.nominal = 32;
      d.faces = bore();
      d.lower = 0.0, d.upper = 0.1;
      d.modifiers = {std::move(modifier)};
      pmi.dimensions.push_back(d);
      return read(pmi);
    };
    QVERIFY(size("envelope requirement").spec.requirements[0].envelope);
    for (const auto& [name, by] :
         {std::pair{"minimum size", AssociateBy::TwoPointMin},
          {"maximum size", AssociateBy::TwoPointMax},
          {"average size", AssociateBy::TwoPointMean},
          {"range of sizes", AssociateBy::TwoPointRange},
          {"median size", AssociateBy::TwoPointMedian},
          {"mid range size", AssociateBy::TwoPointMidRange},
          {"circumference diameter", AssociateBy::Circumference},
          {"area diameter", AssociateBy::Area},
          {"maximum inscribed association criterion", AssociateBy::MaximumInscribed},
          {"two point size", AssociateBy::Standard}}) {
      const Answer a = size(name);
      QVERIFY(a.spec.requirements[0].association == by);
      QVERIFY(!noted(a, 5, "not judged"));
    }
    QVERIFY(noted(size("volume diameter"), 5, "volume diameter"));
  }
  void dimensions() {
    Pmi pmi;
    pmi.dimensions.push_back({.entity = 1,
                              .type = PmiDimension::Type::Diameter,
                              .faces = bore(),
                              .nominal = 32.0,
                              .fit = "H7"});
    pmi.dimensions.push_back({.entity = 2,
                              .type = PmiDimension::Type::Diameter,
                              .faces = bore(),
                              .nominal = 32.0,
                              .fit = "zz9"});
    pmi.dimensions.push_back({.entity = 3,
                              .type = PmiDimension::Type::Radius,
                              .faces = bore(),
                              .nominal = 16.0,
                              .lower = -0.1,
                              .upper = 0.1});
    pmi.dimensions.push_back(
        {.entity = 4, .type = PmiDimension::Type::Diameter, .faces = bore(), .nominal = 32.0});
    pmi.dimensions.push_back({.entity = 5,
                              .type = PmiDimension::Type::Diameter,
                              .faces = cup(),
                              .nominal = 18.0,
                              .lower = -0.1,
                              .upper = 0.1});
    const Answer a = read(pmi);
    NEAR(a.spec.requirements[0].upper, 32.025, 1e-12);
    QVERIFY(noted(a, 2, "zz9"));
    QVERIFY(a.spec.requirements[2].radius);
    QCOMPARE(describe(a.spec.requirements[2]), std::string("R16 ±0.1"));
    QVERIFY(noted(a, 4, "no limits"));
    QCOMPARE(describe(a.spec.requirements[4]), std::string("Sø18 ±0.1"));
  }
  void nothingToHoldOnTo() {
    Pmi pmi;
    pmi.tolerances.push_back(
        {.entity = 1, .type = ToleranceType::Position, .magnitude = 0.1, .faces = {}});
    const Answer a = read(pmi);
    QVERIFY(a.spec.requirements[0].features.empty());
    Plan plan;
    plan.part = test::heron();
    plan.spec = a.spec;
    QVERIFY(whyNotCovered(plan, plan.spec.requirements[0]).find("no face") != std::string::npos);
  }
  void wholePart() {
    Pmi pmi;
    pmi.tolerances.push_back(
        {.entity = 1, .type = ToleranceType::SurfaceProfile, .magnitude = 0.5, .all_over = true});
    const Answer a = read(pmi);
    std::size_t faces = 0;
    for (FeatureId f : a.spec.requirements[0].features)
      faces += a.spec.feature(f).faces.size();
    QCOMPARE(faces, test::heron()->faces.size());
  }
  void namesArePlain_data() {
    QTest::addColumn<int>("type");
    QTest::addColumn<bool>("hole");
    QTest::addColumn<QString>("name");
    QTest::newRow("bore") << int(SurfaceType::Cylinder) << true << "Bore ø12.5";
    QTest::newRow("boss") << int(SurfaceType::Cylinder) << false << "Boss ø12.5";
    QTest::newRow("cup") << int(SurfaceType::Sphere) << true << "Internal sphere ø12.5";
    QTest::newRow("ball") << int(SurfaceType::Sphere) << false << "External sphere ø12.5";
    QTest::newRow("slot") << int(SurfaceType::Slot) << true << "Slot 12.5";
    QTest::newRow("rib") << int(SurfaceType::Slot) << false << "Rib 12.5";
    QTest::newRow("cone") << int(SurfaceType::Cone) << true << "Cone 60°";
    QTest::newRow("plane") << int(SurfaceType::Plane) << false << "Plane";
  }
  void namesArePlain() {
    QFETCH(int, type);
    QFETCH(bool, hole);
    QFETCH(QString, name);
    Ideal i;
    i.type = static_cast<SurfaceType>(type);
    i.diameter = 12.5, i.half_angle = radians(30), i.hole = hole;
    QCOMPARE(QString::fromStdString(featureName(i)), name);
  }
  void namesAreUnique() {
    std::set<std::string> names;
    for (const auto& f : test::heronPlan().spec.features)
      QVERIFY2(names.insert(f.name).second, f.name.c_str());
  }
  void characteristicsHaveFileNames() {
    for (int k = 0; k <= static_cast<int>(Characteristic::Angle); ++k) {
      const auto kind = static_cast<Characteristic>(k);
      QVERIFY(characteristicNamed(name(kind)) == kind);
    }
    QVERIFY(!characteristicNamed("beauty"));
  }
};
ALDER_TEST(FromPmiTest)
#include "from_pmi_test.moc"
