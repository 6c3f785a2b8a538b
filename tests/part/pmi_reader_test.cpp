#include "base/error.h"

#include "part/pmi/file_words.h"
#include "part/pmi/pmi_reader.h"

#include "base/units.h"
#include "support.h"

using namespace alder;

// Hand-made records: what the reader makes of every form that the standard and its users have, and
// what it says of what it cannot read.
class PmiReaderTest : public QObject {
  Q_OBJECT

  // Faces are entities 501, 502, ...; the reader asks for them by number.
  static std::vector<FaceId> faces(int entity) {
    if (entity < 501 || entity > 599) return {};
    return {FaceId{entity - 501}};
  }

  static std::string file(const std::string& records) {
    std::string faces_;
    for (int id = 501; id < 512; ++id)
      faces_ += fmt::format("#{}=ADVANCED_FACE('',(),#899,.T.);\n", id);
    return "ISO-10303-21;\nHEADER;\nFILE_SCHEMA(('AP242'));\nENDSEC;\nDATA;\n"
           "#1=(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.));\n"
           "#2=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(25.4),#1);\n"
           "#3=(CONVERSION_BASED_UNIT('INCH',#2)LENGTH_UNIT()NAMED_UNIT(*));\n"
           "#4=PRODUCT_DEFINITION_SHAPE('','',#999);\n"
           "#11=SHAPE_ASPECT('hole','',#4,.T.);\n"
           "#12=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#11,#900,#501);\n"
           "#13=SHAPE_ASPECT('face','',#4,.T.);\n"
           "#14=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#13,#900,#502);\n"
           "#21=DATUM_FEATURE('','',#4,.T.);\n"
           "#22=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#21,#900,#503);\n"
           "#23=DATUM('','',#4,.F.,'A');\n"
           "#24=SHAPE_ASPECT_RELATIONSHIP('','',#21,#23);\n"
           "#31=DATUM_FEATURE('','',#4,.T.);\n"
           "#32=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#31,#900,#504);\n"
           "#33=DATUM('','',#4,.F.,'B');\n"
           "#34=SHAPE_ASPECT_RELATIONSHIP('','',#33,#31);\n" // the other way round, as some have it
           "#41=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(0.1),#1);\n"
           "#42=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(0.01),#3);\n" +
           faces_ + records + "ENDSEC;\nEND-ISO-10303-21;\n";
  }

  struct Answer {
    Pmi pmi;
    std::vector<Note> notes;
  };
  static Answer read(const std::string& records) {
    const auto text = StepText::parse(file(records));
    Answer a;
    if (text) a.pmi = readPmi(*text, faces, a.notes);
    return a;
  }
  static bool noted(const Answer& a, int entity) {
    return std::any_of(a.notes.begin(), a.notes.end(),
                       [&](const Note& n) { return n.entity == entity; });
  }

 private slots:
  void datumsByEitherRelation() {
    const Answer a = read("");
    QCOMPARE(a.pmi.datums.size(), std::size_t(2));
    QCOMPARE(a.pmi.datums[0].letter, std::string("A"));
    QCOMPARE(a.pmi.datums[0].faces, std::vector<FaceId>{FaceId{2}});
    QCOMPARE(a.pmi.datums[1].faces, std::vector<FaceId>{FaceId{3}});
    QVERIFY(a.notes.empty());
  }

  void everyTypeInEveryForm_data() {
    QTest::addColumn<QString>("entity");
    QTest::addColumn<int>("type");
    const std::pair<const char*, ToleranceType> types[]{
        {"STRAIGHTNESS", ToleranceType::Straightness},
        {"FLATNESS", ToleranceType::Flatness},
        {"ROUNDNESS", ToleranceType::Roundness},
        {"CYLINDRICITY", ToleranceType::Cylindricity},
        {"LINE_PROFILE", ToleranceType::LineProfile},
        {"SURFACE_PROFILE", ToleranceType::SurfaceProfile},
        {"PARALLELISM", ToleranceType::Parallelism},
        {"PERPENDICULARITY", ToleranceType::Perpendicularity},
        {"ANGULARITY", ToleranceType::Angularity},
        {"POSITION", ToleranceType::Position},
        {"COAXIALITY", ToleranceType::Coaxiality},
        {"CONCENTRICITY", ToleranceType::Concentricity},
        {"SYMMETRY", ToleranceType::Symmetry},
        {"CIRCULAR_RUNOUT", ToleranceType::CircularRunout},
        {"TOTAL_RUNOUT", ToleranceType::TotalRunout},
    };
    for (const auto& [entity, type] : types)
      QTest::newRow(entity) << QString(entity) + "_TOLERANCE" << int(type);
  }
  void everyTypeInEveryForm() {
    QFETCH(QString, entity);
    QFETCH(int, type);
    const std::string name = entity.toStdString();
    const Answer a = read(
        "#50=DATUM_REFERENCE_COMPARTMENT('','',#4,.F.,#23,$);\n"
        "#51=DATUM_SYSTEM('','',#4,.F.,(#50));\n"
        "#60=" +
        name +
        "('t1','',#41,#11);\n"
        "#61=" +
        name +
        "('t2','',#42,#11,(#51));\n"
        "#62=(GEOMETRIC_TOLERANCE('t3','',#42,#13)GEOMETRIC_TOLERANCE_WITH_DATUM_REFERENCE((#51))"
        "GEOMETRIC_TOLERANCE_WITH_MODIFIERS((.MAXIMUM_MATERIAL_REQUIREMENT.))" +
        name + "());\n");
    QCOMPARE(a.pmi.tolerances.size(), std::size_t(3));
    for (const auto& t : a.pmi.tolerances)
      QCOMPARE(int(t.type), type);
    NEAR(a.pmi.tolerances[0].magnitude, 0.1, 1e-12);
    QVERIFY(a.pmi.tolerances[0].datums.empty());
    NEAR(a.pmi.tolerances[1].magnitude, 0.254, 1e-12); // inches
    QCOMPARE(a.pmi.tolerances[1].datums.size(), std::size_t(1));
    QVERIFY(a.pmi.tolerances[2].material == MaterialModifier::Maximum);
    QCOMPARE(a.pmi.tolerances[2].faces, std::vector<FaceId>{FaceId{1}});
    QVERIFY(a.notes.empty());
  }

  void datumSystems_data() {
    QTest::addColumn<QString>("records");
    QTest::addColumn<QString>("expected"); // letters joined by "-", modifier, references by "|"
    const QString tolerance = "#60=POSITION_TOLERANCE('','',#41,#11,(%1));\n";
    QTest::newRow("compartments in order")
        << "#50=DATUM_REFERENCE_COMPARTMENT('','',#4,.F.,#33,$);\n#51=DATUM_REFERENCE_COMPARTMENT('"
           "','',#4,.F.,#23,$);\n"
           "#52=DATUM_SYSTEM('','',#4,.F.,(#50,#51));\n" +
               tolerance.arg("#52")
        << "B|A";
    QTest::newRow("material of a datum")
        << "#50=DATUM_REFERENCE_COMPARTMENT('','',#4,.F.,#23,(.MAXIMUM_MATERIAL_REQUIREMENT.));\n"
           "#51=DATUM_REFERENCE_COMPARTMENT('','',#4,.F.,#33,(.LEAST_MATERIAL_REQUIREMENT.));\n"
           "#52=DATUM_SYSTEM('','',#4,.F.,(#50,#51));\n" +
               tolerance.arg("#52")
        << "AM|BL";
    QTest::newRow("common datum")
        << "#48=DATUM_REFERENCE_ELEMENT('','',#4,.F.,#23,$);\n#49=DATUM_REFERENCE_ELEMENT('','',#4,"
           ".F.,#33,$);\n"
           "#50=DATUM_REFERENCE_COMPARTMENT('','',#4,.F.,COMMON_DATUM_LIST((#48,#49)),$);\n"
           "#52=DATUM_SYSTEM('','',#4,.F.,(#50));\n" +
               tolerance.arg("#52")
        << "A-B";
    QTest::newRow("old references by precedence")
        << "#50=DATUM_REFERENCE(2,#23);\n#51=DATUM_REFERENCE(1,#33);\n" + tolerance.arg("#50,#51")
        << "B|A";
    QTest::newRow("old reference with modifier")
        << "#50=REFERENCED_MODIFIED_DATUM(1,#23,.MAXIMUM_MATERIAL_CONDITION.);\n" +
               tolerance.arg("#50")
        << "AM";
  }
  void datumSystems() {
    QFETCH(QString, records);
    QFETCH(QString, expected);
    const Answer a = read(records.toStdString());
    QCOMPARE(a.pmi.tolerances.size(), std::size_t(1));
    QString text;
    for (const auto& d : a.pmi.tolerances[0].datums) {
      if (!text.isEmpty()) text += "|";
      QStringList letters;
      for (const auto& l : d.letters)
        letters << QString::fromStdString(l);
      text += letters.join("-");
      if (d.material == MaterialModifier::Maximum) text += "M";
      if (d.material == MaterialModifier::Least) text += "L";
    }
    QCOMPARE(text, expected);
    QVERIFY(a.notes.empty());
  }
  void datumReferencesThatAreNotUnderstood() {
    const Answer a = read("#50=DATUM_REFERENCE_COMPARTMENT('','',#4,.F.,#777,$);\n#51=DATUM_SYSTEM("
                          "'','',#4,.F.,(#50));\n"
                          "#60=POSITION_TOLERANCE('','',#41,#11,(#51));\n");
    QCOMPARE(a.pmi.tolerances.size(), std::size_t(1));
    QVERIFY(noted(a, 60));
  }

  void zones_data() {
    QTest::addColumn<QString>("form");
    QTest::addColumn<int>("zone");
    QTest::newRow("cylindrical or circular")
        << "cylindrical or circular" << int(ZoneForm::Cylindrical);
    QTest::newRow("sphere") << "within a sphere" << int(ZoneForm::Spherical);
    QTest::newRow("spherical") << "spherical" << int(ZoneForm::Spherical);
    QTest::newRow("parallel planes") << "parallel planes" << int(ZoneForm::Planar);
    QTest::newRow("circle") << "within a circle" << int(ZoneForm::Cylindrical);
    QTest::newRow("unknown") << "unknown" << int(ZoneForm::Unstated);
  }
  void zones() {
    QFETCH(QString, form);
    QFETCH(int, zone);
    const Answer a =
        read(QString("#60=POSITION_TOLERANCE('','',#41,#11);\n#61=TOLERANCE_ZONE_FORM('%1');\n"
                     "#62=TOLERANCE_ZONE('','',#4,.F.,(#60),#61);\n")
                 .arg(form)
                 .toStdString());
    QCOMPARE(int(a.pmi.tolerances.at(0).zone), zone);
  }
  void whatElseAToleranceCarries() {
    const Answer a = read("#43=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(12.),#1);\n"
                          "#60=(GEOMETRIC_TOLERANCE('','',#41,#11)POSITION_TOLERANCE()GEOMETRIC_"
                          "TOLERANCE_WITH_MODIFIERS((.FREE_STATE.,.LEAST_MATERIAL_REQUIREMENT.))"
                          "GEOMETRIC_TOLERANCE_WITH_MAXIMUM_TOLERANCE(#42));\n"
                          "#61=TOLERANCE_ZONE_FORM('cylindrical or "
                          "circular');\n#62=TOLERANCE_ZONE('','',#4,.F.,(#60),#61);\n"
                          "#63=PROJECTED_ZONE_DEFINITION(#62,(),#13,#43);\n"
                          "#64=(GEOMETRIC_TOLERANCE('','',#41,#13)SURFACE_PROFILE_TOLERANCE()"
                          "UNEQUALLY_DISPOSED_GEOMETRIC_TOLERANCE(#42));\n"
                          "#65=(GEOMETRIC_TOLERANCE('','',#41,#13)FLATNESS_TOLERANCE()GEOMETRIC_"
                          "TOLERANCE_WITH_DEFINED_UNIT(#43));\n"
                          "#66=POSITION_TOLERANCE('','',#42,#11);\n#67=GEOMETRIC_TOLERANCE_"
                          "RELATIONSHIP('composite','',#60,#66);\n");
    QCOMPARE(a.pmi.tolerances.size(), std::size_t(4));
    const auto& first = a.pmi.tolerances[0];
    QVERIFY(first.material == MaterialModifier::Least);
    QCOMPARE(first.modifiers, std::vector<std::string>{"FREE_STATE"});
    NEAR(*first.maximum, 0.254, 1e-12);
    NEAR(*first.projected, 12.0, 1e-12);
    NEAR(*a.pmi.tolerances[1].unequal, 0.254, 1e-12);
    NEAR(*a.pmi.tolerances[2].unit_size, 12.0, 1e-12);
    QCOMPARE(a.pmi.tolerances[3].upper_segment, 60);
  }
  // Several faces: a composite aspect of parts, or several usages of one aspect.
  void patterns() {
    const Answer a = read(
        "#70=COMPOSITE_GROUP_SHAPE_ASPECT('','',#4,.T.);\n#71=SHAPE_ASPECT_RELATIONSHIP('','',#70,#"
        "11);\n"
        "#72=SHAPE_ASPECT_RELATIONSHIP('','',#70,#13);\n#60=POSITION_TOLERANCE('','',#41,#70);\n"
        "#73=SHAPE_ASPECT('','',#4,.T.);\n#74=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#73,#900,#507);\n"
        "#75=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#73,#900,#506);\n#61=SURFACE_PROFILE_TOLERANCE('',"
        "'',#41,#73);\n");
    QCOMPARE(a.pmi.tolerances[0].faces, (std::vector<FaceId>{FaceId{0}, FaceId{1}}));
    QCOMPARE(a.pmi.tolerances[1].faces, (std::vector<FaceId>{FaceId{5}, FaceId{6}}));
  }
  void toleranceOnASizeOrTheWholePart() {
    const Answer a =
        read("#80=DIMENSIONAL_SIZE(#11,'diameter');\n#60=POSITION_TOLERANCE('','',#41,#80);\n"
             "#61=SURFACE_PROFILE_TOLERANCE('','',#41,#4);\n");
    QCOMPARE(a.pmi.tolerances[0].faces, std::vector<FaceId>{FaceId{0}});
    QVERIFY(a.pmi.tolerances[1].all_over);
  }
  // A cycle of aspects ends.
  void cyclesEnd() {
    const Answer a = read("#70=COMPOSITE_GROUP_SHAPE_ASPECT('','',#4,.T.);\n#71=COMPOSITE_GROUP_"
                          "SHAPE_ASPECT('','',#4,.T.);\n"
                          "#72=SHAPE_ASPECT_RELATIONSHIP('','',#70,#71);\n#73=SHAPE_ASPECT_"
                          "RELATIONSHIP('','',#71,#70);\n"
                          "#60=POSITION_TOLERANCE('','',#41,#70);\n");
    QVERIFY(a.pmi.tolerances.at(0).faces.empty());
    QVERIFY(noted(a, 60));
  }
  void fileWords() {
    const std::string records =
        "#4294967360 =\n  POSITION_TOLERANCE ( 'a  b', '', #41, #11 "
        ");\n#4294967361=TOLERANCE_ZONE_FORM"
        "('x');\n#62=TOLERANCE_ZONE('','',#4,.F.,(#4294967360),#4294967361);\n";
    const auto lines = alder::fileWords(file(records), 4294967360);
    QCOMPARE(lines.front(), std::string("#4294967360 = POSITION_TOLERANCE ('a  b', '', #41, #11)"));
    const auto holds = [&](const char* line) {
      return std::find(lines.begin(), lines.end(), line) != lines.end();
    };
    QVERIFY(holds("#41 = LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(0.1),#1)"));
    QVERIFY(holds("#11 = SHAPE_ASPECT('hole','',#4,.T.)"));
    QVERIFY(holds("#62 = TOLERANCE_ZONE('','',#4,.F.,(#4294967360),#4294967361)"));
    QVERIFY(alder::fileWords(file(""), 60).empty());
    QVERIFY(alder::fileWords("no file", 60).empty());
  }
  // A picture is no requirement: what is only drawn is told, by its names.
  void drawnOnly() {
    const std::string drawn = "#80=DRAUGHTING_CALLOUT('Position 1',(#81));\n"
                              "#81=TESSELLATED_ANNOTATION_OCCURRENCE('',(),#83);\n"
                              "#84=ANNOTATION_CURVE_OCCURRENCE('Flatness 2',(),#83);\n";
    const auto words = [](const Answer& a) {
      std::string all;
      for (const Note& n : a.notes)
        if (n.entity == 0) all += n.text + "\n";
      return all;
    };
    const std::string two = words(read(drawn));
    QVERIFY(two.find("2 annotations are drawn") != std::string::npos);
    QVERIFY(two.find("Position 1, Flatness 2") != std::string::npos);
    // One of them means something.
    const std::string one =
        words(read(drawn + "#60=FLATNESS_TOLERANCE('','',#41,#13);\n"
                           "#85=DRAUGHTING_MODEL_ITEM_ASSOCIATION('','',#60,#900,#80);\n"));
    QVERIFY(one.find("1 annotation is drawn") != std::string::npos);
    QVERIFY(one.find("Position 1") == std::string::npos);
    QVERIFY(words(read("")).empty());
  }
  // A note on a datum bears on every tolerance that refers to it.
  void notesOfDatums() {
    const Answer a = read(
        "#57=PROPERTY_DEFINITION('thread','',#21);\n"
        "#50=DATUM_REFERENCE_COMPARTMENT('','',#4,.F.,#23,$);\n"
        "#51=DATUM_SYSTEM('','',#4,.F.,(#50));\n"
        "#60=PERPENDICULARITY_TOLERANCE('','',#41,#11,(#51));\n"
        "#61=PARALLELISM_TOLERANCE('','',#41,#13,(#51));\n#62=FLATNESS_TOLERANCE('','',#41,#13)"
        ";\n");
    const auto thread = std::find_if(a.notes.begin(), a.notes.end(), [](const Note& n) {
      return n.text.find("thread") != std::string::npos;
    });
    QVERIFY(thread != a.notes.end());
    QCOMPARE(thread->on, (std::vector<EntityNumber>{60, 61}));
  }
  // Nothing is lost without a word: each of these leaves a note with the entity's number.
  void nothingIsLostSilently_data() {
    QTest::addColumn<QString>("records");
    QTest::addColumn<int>("entity");
    QTest::newRow("no value") << "#60=FLATNESS_TOLERANCE('','',$,#13);\n" << 60;
    QTest::newRow("value in a unit nobody knows")
        << "#43=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(1.),#888);\n#60=FLATNESS_TOLERANCE('','',#"
           "43,#13);\n"
        << 60;
    QTest::newRow("too few values") << "#60=FLATNESS_TOLERANCE('');\n" << 60;
    QTest::newRow("no face")
        << "#15=SHAPE_ASPECT('','',#4,.T.);\n#60=FLATNESS_TOLERANCE('','',#41,#15);\n"
        << 60;
    QTest::newRow("unknown type")
        << "#60=(GEOMETRIC_TOLERANCE('','',#41,#13)ROUGHNESS_TOLERANCE());\n"
        << 60;
    QTest::newRow("datum without letter") << "#60=DATUM('','',#4,.F.,'');\n" << 60;
    QTest::newRow("datum without face") << "#60=DATUM('','',#4,.F.,'Z');\n" << 60;
    QTest::newRow("letter twice")
        << "#59=DATUM_FEATURE('','',#4,.T.);\n#58=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#59,#900,#"
           "509);\n"
           "#60=DATUM('','',#4,.F.,'A');\n#57=SHAPE_ASPECT_RELATIONSHIP('','',#59,#60);\n"
        << 60;
    QTest::newRow("does not parse") << "#60=FLATNESS_TOLERANCE('','',#41,#13;\n" << 60;
    QTest::newRow("datum target") << "#60=PLACED_DATUM_TARGET_FEATURE('','',#4,.T.,'1');\n#61="
                                     "SHAPE_ASPECT_RELATIONSHIP('','',#60,#33);\n"
                                  << 60;
  }
  void nothingIsLostSilently() {
    QFETCH(QString, records);
    QFETCH(int, entity);
    const Answer a = read(records.toStdString());
    QVERIFY(noted(a, entity));
    for (const Note& n : a.notes)
      QVERIFY(!n.text.empty());
  }
};
ALDER_TEST(PmiReaderTest)
#include "pmi_reader_test.moc"
