#include "base/error.h"

#include "part/pmi/pmi_reader.h"

#include "base/units.h"
#include "support.h"

using namespace alder;

// Sizes, distances and angles in the forms that writers use.
class DimensionReaderTest : public QObject {
  Q_OBJECT

  static std::string file(const std::string& records) {
    std::string faces_;
    for (int id = 501; id < 512; ++id)
      faces_ += fmt::format("#{}=ADVANCED_FACE('',(),#899,.T.);\n", id);
    return "ISO-10303-21;\nHEADER;\nFILE_SCHEMA(('AP242'));\nENDSEC;\nDATA;\n"
           "#1=(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.));\n"
           "#2=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(25.4),#1);\n"
           "#3=(CONVERSION_BASED_UNIT('INCH',#2)LENGTH_UNIT()NAMED_UNIT(*));\n"
           "#4=PRODUCT_DEFINITION_SHAPE('','',#999);\n"
           "#5=(NAMED_UNIT(*)PLANE_ANGLE_UNIT()SI_UNIT($,.RADIAN.));\n"
           "#6=PLANE_ANGLE_MEASURE_WITH_UNIT(PLANE_ANGLE_MEASURE(0.01745329251994),#5);\n"
           "#7=(CONVERSION_BASED_UNIT('DEGREE',#6)NAMED_UNIT(*)PLANE_ANGLE_UNIT());\n"
           "#11=SHAPE_ASPECT('','',#4,.T.);\n#12=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#11,#900,#501)"
           ";\n"
           "#13=SHAPE_ASPECT('','',#4,.T.);\n#14=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#13,#900,#502)"
           ";\n" +
           faces_ + records + "ENDSEC;\nEND-ISO-10303-21;\n";
  }
  static std::string item(int id, const char* name, double value, int unit,
                          const char* qualifiers = nullptr) {
    std::string r = fmt::format("#{}=(LENGTH_MEASURE_WITH_UNIT()MEASURE_REPRESENTATION_ITEM()"
                                "MEASURE_WITH_UNIT(LENGTH_MEASURE({}),#{})",
                                id, value, unit);
    if (qualifiers) r += fmt::format("QUALIFIED_REPRESENTATION_ITEM(({}))", qualifiers);
    return r + fmt::format("REPRESENTATION_ITEM('{}'));\n", name);
  }
  static std::string size(const std::string& items, const char* name = "diameter") {
    return fmt::format(
        "#20=DIMENSIONAL_SIZE(#11,'{}');\n#21=SHAPE_DIMENSION_REPRESENTATION('',({}),#900);\n"
        "#22=DIMENSIONAL_CHARACTERISTIC_REPRESENTATION(#20,#21);\n",
        name, items);
  }
  struct Answer {
    std::vector<PmiDimension> dimensions;
    std::vector<Note> notes;
  };
  static Answer read(const std::string& records) {
    const auto text = StepText::parse(file(records));
    const FacesOfEntity faces = [](int e) {
      return e >= 501 && e < 600 ? std::vector<FaceId>{FaceId{e - 501}} : std::vector<FaceId>{};
    };
    Answer a;
    if (!text) return a;
    a.dimensions = readPmi(*text, faces, a.notes).dimensions;
    return a;
  }
  static void check(const Answer& a, double nominal, double lower, double upper) {
    QCOMPARE(a.dimensions.size(), std::size_t(1));
    NEAR(*a.dimensions[0].nominal, nominal, 1e-9);
    QVERIFY(a.dimensions[0].lower && a.dimensions[0].upper);
    NEAR(*a.dimensions[0].lower, lower, 1e-9);
    NEAR(*a.dimensions[0].upper, upper, 1e-9);
  }

 private slots:
  void plusMinus() {
    const Answer a = read(size("#30") + item(30, "nominal value", 0.5, 3) +
                          "#31=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(-0.002),#3);\n#32=LENGTH_"
                          "MEASURE_WITH_UNIT(LENGTH_MEASURE(0.005),#3);\n"
                          "#33=TOLERANCE_VALUE(#31,#32);\n#34=PLUS_MINUS_TOLERANCE(#33,#20);\n");
    check(a, 12.7, -0.0508, 0.127);
    QVERIFY(a.dimensions[0].type == PmiDimension::Type::Diameter);
    QCOMPARE(a.dimensions[0].faces, std::vector<FaceId>{FaceId{0}});
    QVERIFY(a.notes.empty());
  }
  // Limits may come in another unit than the value.
  void limitsInAnotherUnit() {
    check(read(size("#30") + item(30, "nominal value", 1.0, 3) +
               "#31=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(-0.05),#1);\n#32=LENGTH_MEASURE_WITH_"
               "UNIT(LENGTH_MEASURE(0.05),#1);\n"
               "#33=TOLERANCE_VALUE(#31,#32);\n#34=PLUS_MINUS_TOLERANCE(#33,#20);\n"),
          25.4, -0.05, 0.05);
  }
  void bareNumbers() {
    check(read(size("#30") + item(30, "nominal value", 8.0, 1) +
               "#31=MEASURE_WITH_UNIT(-0.1,#1);\n#32=MEASURE_WITH_UNIT(0.2,#1);\n#33=TOLERANCE_"
               "VALUE(#31,#32);\n#34=PLUS_MINUS_TOLERANCE(#33,#20);\n"),
          8.0, -0.1, 0.2);
  }
  void limitItems() {
    check(read(size("#30,#31,#32") + item(30, "nominal value", 10, 1) +
               item(31, "lower limit", 9.9, 1) + item(32, "upper limit", 10.3, 1)),
          10, -0.1, 0.3);
    check(
        read(size("#31,#32") + item(31, "lower limit", 9.9, 1) + item(32, "upper limit", 10.3, 1)),
        10.1, -0.2, 0.2);
  }
  void limitsByQualifier() {
    check(read(size("#30,#31") +
               "#40=TYPE_QUALIFIER('minimum');\n#41=TYPE_QUALIFIER('maximum');\n" +
               item(30, "", 5.0, 1, "#40") + item(31, "", 5.2, 1, "#41")),
          5.1, -0.1, 0.1);
  }
  void twoUnnamedValuesAreARange() {
    check(read(size("#35") + "#35=COMPOUND_REPRESENTATION_ITEM('',(#30,#31));\n" +
               item(30, "", 7.4, 1) + item(31, "", 7.0, 1)),
          7.2, -0.2, 0.2);
  }
  void decimalsOfTheDrawing() {
    const Answer a = read(size("#30") + "#40=VALUE_FORMAT_TYPE_QUALIFIER('NR2 2.3');\n" +
                          item(30, "nominal value", 10, 1, "#40"));
    QCOMPARE(a.dimensions.at(0).decimals, 3);
    QVERIFY(!a.dimensions[0].lower);
  }
  void fits() {
    const Answer a =
        read(size("#30") + item(30, "nominal value", 32, 1) +
             "#33=LIMITS_AND_FITS('H','hole','7','');\n#34=PLUS_MINUS_TOLERANCE(#33,#20);\n");
    QCOMPARE(a.dimensions.at(0).fit, std::string("H7"));
  }
  void limitsWithoutTheirSign() {
    check(read(size("#30") + item(30, "nominal value", 8.0, 1) +
               "#31=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(0.1),#1);\n#33=TOLERANCE_VALUE(#31,#31)"
               ";\n#34=PLUS_MINUS_TOLERANCE(#33,#20);\n"),
          8.0, -0.1, 0.1);
  }
  void limitsUpsideDown() {
    const Answer a = read(size("#30") + item(30, "nominal value", 8.0, 1) +
                          "#31=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(0.2),#1);\n#32=LENGTH_"
                          "MEASURE_WITH_UNIT(LENGTH_MEASURE(-0.1),#1);\n"
                          "#33=TOLERANCE_VALUE(#31,#32);\n#34=PLUS_MINUS_TOLERANCE(#33,#20);\n");
    check(a, 8.0, -0.1, 0.2);
    QCOMPARE(a.notes.at(0).entity, 33);
  }
  void kindsBySizeName_data() {
    QTest::addColumn<QString>("name");
    QTest::addColumn<int>("type");
    QTest::newRow("diameter") << "diameter" << int(PmiDimension::Type::Diameter);
    QTest::newRow("spherical diameter")
        << "spherical diameter" << int(PmiDimension::Type::Diameter);
    QTest::newRow("radius") << "radius" << int(PmiDimension::Type::Radius);
    QTest::newRow("width") << "width" << int(PmiDimension::Type::Width);
    QTest::newRow("linear") << "linear distance" << int(PmiDimension::Type::Width);
  }
  void kindsBySizeName() {
    QFETCH(QString, name);
    QFETCH(int, type);
    const Answer a = read(size("#30", name.toUtf8().data()) + item(30, "nominal value", 8.0, 1));
    QCOMPARE(int(a.dimensions.at(0).type), type);
  }
  void distances() {
    for (const char* entity : {"DIMENSIONAL_LOCATION", "DIRECTED_DIMENSIONAL_LOCATION"}) {
      const Answer a = read(
          fmt::format("#20={}('linear "
                      "distance','',#11,#13);\n#21=SHAPE_DIMENSION_REPRESENTATION('',(#30),#900);\n"
                      "#22=DIMENSIONAL_CHARACTERISTIC_REPRESENTATION(#20,#21);\n",
                      entity) +
          item(30, "nominal value", 2.0, 3));
      QCOMPARE(a.dimensions.size(), std::size_t(1));
      QVERIFY(a.dimensions[0].type == PmiDimension::Type::Distance);
      NEAR(*a.dimensions[0].nominal, 50.8, 1e-9);
      QCOMPARE(a.dimensions[0].faces, std::vector<FaceId>{FaceId{0}});
      QCOMPARE(a.dimensions[0].faces2, std::vector<FaceId>{FaceId{1}});
    }
  }
  void angles() {
    const std::string value =
        "#30=(MEASURE_REPRESENTATION_ITEM()MEASURE_WITH_UNIT(PLANE_ANGLE_MEASURE(35.),#7)PLANE_"
        "ANGLE_MEASURE_WITH_UNIT()REPRESENTATION_ITEM('nominal value'));\n"
        "#21=SHAPE_DIMENSION_REPRESENTATION('',(#30),#900);\n#22=DIMENSIONAL_CHARACTERISTIC_"
        "REPRESENTATION(#20,#21);\n"
        "#31=PLANE_ANGLE_MEASURE_WITH_UNIT(PLANE_ANGLE_MEASURE(-0.5),#7);\n#32=PLANE_ANGLE_MEASURE_"
        "WITH_UNIT(PLANE_ANGLE_MEASURE(0.5),#7);\n"
        "#33=TOLERANCE_VALUE(#31,#32);\n#34=PLUS_MINUS_TOLERANCE(#33,#20);\n";
    for (const char* of : {"#20=ANGULAR_LOCATION('','',#11,#13,.SMALL.);\n",
                           "#20=ANGULAR_SIZE(#11,'angle',.SMALL.);\n"}) {
      const Answer a = read(of + value);
      QCOMPARE(a.dimensions.size(), std::size_t(1));
      QVERIFY(a.dimensions[0].type == PmiDimension::Type::Angle);
      NEAR(degrees(*a.dimensions[0].nominal), 35.0, 1e-7);
      NEAR(degrees(*a.dimensions[0].lower), -0.5, 1e-7);
    }
  }
  void whatCannotBeReadIsNoted_data() {
    QTest::addColumn<QString>("records");
    QTest::addColumn<int>("entity");
    QTest::newRow("no value") << QString("#20=DIMENSIONAL_SIZE(#11,'diameter');\n") << 20;
    QTest::newRow("unknown unit") << QString::fromStdString(size("#30") +
                                                            item(30, "nominal value", 1, 777))
                                  << 20;
    QTest::newRow("no face") << QString::fromStdString(
                                    "#15=SHAPE_ASPECT('','',#4,.T.);\n#20=DIMENSIONAL_SIZE(#15,'"
                                    "diameter');\n#21=SHAPE_DIMENSION_REPRESENTATION('',(#30),#900)"
                                    ";\n#22=DIMENSIONAL_CHARACTERISTIC_REPRESENTATION(#20,#21);\n" +
                                    item(30, "nominal value", 1, 1))
                             << 20;
    QTest::newRow("limits of no kind")
        << QString::fromStdString(size("#30") + item(30, "nominal value", 1, 1) +
                                  "#33=TOLERANCE_CLASS('m');\n#34=PLUS_MINUS_TOLERANCE(#33,#20);\n")
        << 33;
    QTest::newRow("limit without unit")
        << QString::fromStdString(size("#30") + item(30, "nominal value", 1, 1) +
                                  "#31=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(1.),#777);\n#33="
                                  "TOLERANCE_VALUE(#31,#31);\n#34=PLUS_MINUS_TOLERANCE(#33,#20);\n")
        << 33;
    QTest::newRow("distance of one side")
        << QString::fromStdString("#20=DIMENSIONAL_LOCATION('','');\n") << 20;
  }
  void whatCannotBeReadIsNoted() {
    QFETCH(QString, records);
    QFETCH(int, entity);
    const Answer a = read(records.toStdString());
    QVERIFY(std::any_of(a.notes.begin(), a.notes.end(),
                        [&](const Note& n) { return n.entity == entity; }));
  }
};
ALDER_TEST(DimensionReaderTest)
#include "dimension_reader_test.moc"
