#include "exchange/step/model_file.h"

#include "cad_requirements.h"
#include "exchange/step/step_edit.h"
#include "made_parts.h"
#include "made_specification.h"
#include "part/pmi/pmi_reader.h"
#include "part/step_import.h"
#include "random_parts.h"
#include "requirement/from_pmi.h"
#include "requirement/limits.h"
#include "step_export_checks.h"
#include "support.h"
#include <algorithm>

using namespace alder;

namespace {

std::string asLines(const std::vector<std::string>& lines) {
  return fmt::format("{}", fmt::join(lines, "\n  "));
}

// In one list and not in the other.
std::string difference(const std::vector<std::string>& wanted,
                       const std::vector<std::string>& got) {
  std::vector<std::string> all;
  std::set_difference(wanted.begin(), wanted.end(), got.begin(), got.end(),
                      std::back_inserter(all));
  const auto missing = static_cast<std::ptrdiff_t>(all.size());
  std::set_difference(got.begin(), got.end(), wanted.begin(), wanted.end(),
                      std::back_inserter(all));
  for (std::ptrdiff_t i = 0; i < static_cast<std::ptrdiff_t>(all.size()); ++i)
    all[static_cast<std::size_t>(i)].insert(0, i < missing ? "wanted: " : "got: ");
  return asLines(all);
}

// The second reader does not understand limits on one side of the nominal.
void aroundNominal(Specification& spec) {
  for (Requirement& r : spec.requirements)
    if (isDimension(r.kind) && r.fit.empty() && !hasSingleLimit(r)) {
      r.lower = std::min(r.lower, r.nominal - 1e-3);
      r.upper = std::max(r.upper, r.nominal + 1e-3);
    }
}

// Written, and read by both readers: nothing may be told, nothing may differ.
std::string writtenWrong(const PartModel& part, const Specification& spec, double mm_per_unit) {
  const auto written = stepWithRequirements(part, spec, {});
  if (!written) return written.error().message;
  if (!written->told.empty()) return "told: " + asLines(written->told);
  const auto read = importStep(written->bytes, "written.step");
  if (!read) return read.error().message;
  if (const auto other = differencesReadBack(*written, part, spec, **read); !other.empty())
    return asLines(other);
  if ((*read)->pmi.tolerances.size() + (*read)->pmi.dimensions.size() != spec.requirements.size())
    return "others stand in it too";
  return difference(test::cadWords(spec, mm_per_unit), test::cadRequirements(written->bytes));
}

Requirement requirement(const Specification& spec, Characteristic kind) {
  for (const Requirement& r : spec.requirements)
    if (r.kind == kind) return r;
  return {};
}

} // namespace

// Models are written with their requirements, and say them to any reader.
class StepExportTest : public QObject {
  Q_OBJECT

 private slots:
  void filesOfOthers_data() {
    using Check = std::string (*)(const test::PmiCase&);
    QTest::addColumn<Check>("check");
    QTest::newRow("unchanged") << Check(&test::exportUnchanged);
    QTest::newRow("corrected") << Check(&test::exportCorrected);
    QTest::newRow("taken away") << Check(&test::exportWithout);
    QTest::newRow("another datum") << Check(&test::exportWithOtherDatum);
  }
  // Every way of saying a requirement: what is not touched stays, what is touched is as wanted.
  void filesOfOthers() {
    using Check = std::string (*)(const test::PmiCase&);
    QFETCH(Check, check);
    for (const test::PmiCase& c : test::pmiCases()) {
      // Both parts of it have their faces in one body, which is no assembly.
      if (c.name == "letter twice on two parts" && check == &test::exportWithOtherDatum) continue;
      const std::string wrong = check(c);
      QVERIFY2(wrong.empty(), fmt::format("{}: {}", c.name, wrong).c_str());
    }
  }

  void addedByHand() {
    const std::string lengths[]{"#1", "#3", "#9"}, angles[]{"#5", "#7"};
    for (unsigned seed = 1; seed <= 200; ++seed) {
      const std::string wrong = test::exportMade(seed, lengths[seed % 3], angles[seed % 2]);
      QVERIFY2(wrong.empty(), fmt::format("seed {}: {}", seed, wrong).c_str());
    }
  }

  // On real shapes in all units, read by the CAD library too.
  void secondReader_data() {
    QTest::addColumn<QString>("unit");
    QTest::addColumn<double>("mm");
    QTest::newRow("millimetres") << "MM" << 1.0;
    QTest::newRow("inches") << "INCH" << 25.4;
    QTest::newRow("metres") << "M" << 1000.0;
  }
  void secondReader() {
    QFETCH(QString, unit);
    QFETCH(double, mm);
    for (int seed = 1; seed <= 6; ++seed) {
      const auto step = seed % 2 == 0 ? test::bracketStep(unit.toStdString(), seed % 3)
                                      : test::shaftStep(unit.toStdString(), seed % 3);
      VERIFY_OK(step);
      const auto part = importStep(*step, "made.step");
      VERIFY_OK(part);
      Specification spec = test::madeSpecification(**part, static_cast<std::uint64_t>(seed));
      aroundNominal(spec);
      const std::string wrong = writtenWrong(**part, spec, mm);
      QVERIFY2(wrong.empty(), fmt::format("seed {}: {}", seed, wrong).c_str());
    }
  }

  // Parts of strangers: as they are the same bytes, and each of their requirements written anew.
  void randomParts() {
    for (unsigned seed = 1; seed <= 8; ++seed) {
      const auto made = test::randomPart(seed);
      VERIFY_OK(made);
      const auto part = importStep(made->step, made->name);
      VERIFY_OK(part);
      std::vector<Note> notes;
      Specification spec = specificationFromPmi(**part, notes);
      const auto same = stepWithRequirements(**part, spec, notes);
      VERIFY_OK(same);
      QVERIFY2(same->bytes == made->step, made->name.c_str());
      for (Requirement& r : spec.requirements) {
        r.entity = 0;
        r.fit.clear();
      }
      aroundNominal(spec);
      const double mm = made->name.ends_with("INCH") ? 25.4 : made->name.ends_with("-M") ? 1000 : 1;
      const auto written = stepWithRequirements(**part, spec, {});
      VERIFY_OK(written);
      QCOMPARE(written->kept, 0);
      const auto read = importStep(written->bytes, "written.step");
      VERIFY_OK(read);
      const auto other = differencesReadBack(*written, **part, spec, **read);
      QVERIFY2(other.empty() && written->told.empty(),
               (made->name + ": " + asLines(other) + asLines(written->told)).c_str());
      const std::string wrong =
          difference(test::cadWords(spec, mm), test::cadRequirements(written->bytes));
      QVERIFY2(wrong.empty(), (made->name + ": " + wrong).c_str());
    }
  }

  // In a process of its own, with what a person did: corrected, added, taken away.
  void theHeron() {
    Plan plan = test::heronPlan();
    plan.spec = specificationFromPmi(*plan.part, plan.notes);
    const auto as_is = provedModel(plan, "heron.step");
    VERIFY_OK(as_is);
    QVERIFY2(as_is->told.empty(), asLines(as_is->told).c_str());
    QVERIFY(as_is->bytes == plan.part->bytes);
    QCOMPARE(as_is->kept, static_cast<int>(plan.spec.requirements.size()));

    const Requirement position = requirement(plan.spec, Characteristic::Position);
    plan.spec.requirements.at(position.id).tolerance *= 2;
    const Requirement flatness = requirement(plan.spec, Characteristic::Flatness);
    Requirement added = flatness;
    added.id = plan.spec.requirements.next();
    added.balloon = 99;
    added.tolerance = 0.0123;
    plan.spec.requirements.push_back(added); // a copy, which still says where it came from
    const Requirement gone = requirement(plan.spec, Characteristic::Size);
    plan.spec.requirements.erase(gone.id);
    const auto written = provedModel(plan, "heron.step");
    VERIFY_OK(written);
    QVERIFY2(written->told.empty(), asLines(written->told).c_str());
    QCOMPARE(written->written, 2);
    QCOMPARE(written->removed, 1);
    QCOMPARE(QString::fromStdString(summary(*written)),
             QString("%1 requirements as in the model, 2 written, 1 taken out")
                 .arg(plan.spec.requirements.size() - 2));
    const auto read = importStep(written->bytes, "heron.step");
    VERIFY_OK(read);
    std::vector<Note> notes;
    const Specification again = specificationFromPmi(**read, notes);
    QCOMPARE(again.requirements.size(), plan.spec.requirements.size());
    for (const Requirement& r : again.requirements)
      QVERIFY(r.entity != gone.entity && r.entity != position.entity);
    // Names, colours and bodies are those of the file.
    QCOMPARE((*read)->name, plan.part->name);
    QVERIFY((*read)->faces.front().color == plan.part->faces.front().color);
  }

  // What a file cannot say is told, each with why, and nothing like it stands in the file.
  void cannotBeSaid_data() {
    using Change = std::function<void(Specification&, Requirement&)>;
    QTest::addColumn<QString>("kind");
    QTest::addColumn<Change>("change");
    QTest::addColumn<QString>("why");
    const auto row = [](const char* kind, const char* why, const Change& change) {
      QTest::newRow(why) << kind << change << why;
    };
    row("value", "is computed by a formula: not written",
        [](Specification&, Requirement& r) { r.kind = Characteristic::Value; });
    row("distance", "counts along X: not written",
        [](Specification&, Requirement& r) { r.along = Along::X; });
    row("distance", "is the largest of the distances between points: not written",
        [](Specification&, Requirement& r) { r.extreme = Extreme::Largest; });
    row("surface_profile", "has a zone of any offset (OZ): not written",
        [](Specification&, Requirement& r) { r.free_offset = true; });
    row("position", "has an orientation plane: not written", [](Specification&, Requirement& r) {
      r.zone_plane = PlaneIndicator{PlaneRelation::Parallel, "A"};
    });
    row("line_profile", "has an intersection plane: not written",
        [](Specification&, Requirement& r) {
          r.section_plane = PlaneIndicator{PlaneRelation::Parallel, "A"};
        });
    row("coaxiality", "has a flat zone about an axis",
        [](Specification&, Requirement& r) { r.zone = Zone::Planar; });
    row("flatness", "which no face of the model is: not written",
        [](Specification& s, Requirement& r) {
          s.features.at(r.features.front()).from = Construction{};
        });
    row("total_runout", "refers to no datum: not written",
        [](Specification&, Requirement& r) { r.datums.clear(); });
    row("perpendicularity", "refers to datum Q, which is not there: not written",
        [](Specification&, Requirement& r) { r.datums.front().letters = {"Q"}; });
    row("flatness", "is written without its filter",
        [](Specification&, Requirement& r) { r.filtering = Filtering{}; });
    row("roundness", "is written without the criterion of its association",
        [](Specification&, Requirement& r) { r.association = AssociateBy::LeastSquares; });
    row("roundness", "is written without its uncertainty",
        [](Specification&, Requirement& r) { r.uncertainty = 0.001; });
  }
  void cannotBeSaid() {
    using Change = std::function<void(Specification&, Requirement&)>;
    QFETCH(QString, kind);
    QFETCH(Change, change);
    QFETCH(QString, why);
    const auto part = test::pmiPartOf(test::pmiFile(""));
    VERIFY_OK(part);
    Specification spec = test::madeSpecification(*part, 3);
    const auto of = characteristicNamed(kind.toStdString());
    RequirementId id = requirement(spec, of.value_or(Characteristic::Size)).id;
    if (*of == Characteristic::Value) id = spec.requirements.front().id;
    QVERIFY(id.valid());
    const std::size_t before = spec.requirements.size();
    change(spec, spec.requirements.at(id));
    const auto written = stepWithRequirements(*part, spec, {});
    VERIFY_OK(written);
    const std::string title = std::to_string(spec.requirement(id).balloon) + " (";
    QVERIFY2(std::any_of(written->told.begin(), written->told.end(),
                         [&](const std::string& line) {
                           return line.starts_with(title) &&
                                  line.find(why.toStdString()) != std::string::npos;
                         }),
             asLines(written->told).c_str());
    const bool left_out = !why.contains("written without");
    QVERIFY(left_out == (written->entities.count(id) == 0));
    const auto read = test::pmiPartOf(written->bytes);
    VERIFY_OK(read);
    QCOMPARE(read->pmi.tolerances.size() + read->pmi.dimensions.size(), written->entities.size());
    QVERIFY(written->entities.size() < before || !left_out);
    QVERIFY(differencesReadBack(*written, *part, spec, *read).empty());
  }

  // A tolerance that is none of the requirements refers to a datum which is laid elsewhere.
  void goesWithItsDatum() {
    const auto part = test::pmiPartOf(test::pmiFile(
        "#50=DATUM_REFERENCE_COMPARTMENT('','',#4,.F.,#23,$);\n"
        "#51=DATUM_SYSTEM('','',#4,.F.,(#50));\n"
        "#60=(GEOMETRIC_TOLERANCE('','',#41,#11)GEOMETRIC_TOLERANCE_WITH_DATUM_REFERENCE((#51)));"
        "\n"));
    VERIFY_OK(part);
    std::vector<Note> notes;
    Specification spec = specificationFromPmi(*part, notes);
    QVERIFY(spec.requirements.empty());
    for (Datum& d : spec.datums)
      if (d.letter == "A") d.features = spec.datum("B")->features;
    const auto written = stepWithRequirements(*part, spec, notes);
    VERIFY_OK(written);
    QCOMPARE(written->told.size(), std::size_t(1));
    QVERIFY(written->told.front().starts_with("#60 of the model, which is none of"));
    QVERIFY(written->bytes.find("#60=") == std::string::npos);
  }

  // Files of AP203 and AP214 are files of AP242 then.
  void olderSchemas_data() {
    QTest::addColumn<QString>("schema");
    QTest::addColumn<QString>("records");
    QTest::newRow("AP203") << "CONFIG_CONTROL_DESIGN"
                           << "#3001=APPLICATION_CONTEXT('');\n"
                              "#3002=APPLICATION_PROTOCOL_DEFINITION('international standard',"
                              "'config_control_design',1994,#3001);\n"
                              "#3003=MECHANICAL_CONTEXT('',#3001,'mechanical');\n"
                              "#3004=DESIGN_CONTEXT('',#3001,'design');\n"
                              "#3005=APPROVAL(#3006,'');\n"
                              "#3006=APPROVAL_STATUS('approved');\n"
                              "#3007=CC_DESIGN_APPROVAL(#3005,(#999));\n";
    QTest::newRow("AP214") << "AUTOMOTIVE_DESIGN { 1 0 10303 214 1 1 1 1 }"
                           << "#3001=APPLICATION_CONTEXT('');\n"
                              "#3002=APPLICATION_PROTOCOL_DEFINITION('international standard',"
                              "'automotive_design',2000,#3001);\n"
                              "#3003=PRODUCT_CONTEXT('',#3001,'mechanical');\n";
  }
  void olderSchemas() {
    QFETCH(QString, schema);
    QFETCH(QString, records);
    std::string file = test::pmiFile(records.toStdString());
    file.replace(file.find("'AP242'"), 7, "'" + schema.toStdString() + "'");
    const auto part = test::pmiPartOf(file);
    VERIFY_OK(part);
    const Specification spec = test::madeSpecification(*part, 5);
    const auto written = stepWithRequirements(*part, spec, {});
    VERIFY_OK(written);
    const QString text = QString::fromStdString(written->bytes);
    QVERIFY(text.contains("FILE_SCHEMA(('AP242_MANAGED_MODEL_BASED_3D_ENGINEERING_MIM_LF"));
    QVERIFY(text.contains("'ap242_managed_model_based_3d_engineering',2014,#3001"));
    for (const char* gone :
         {"MECHANICAL_CONTEXT", "DESIGN_CONTEXT", "CC_DESIGN", "AUTOMOTIVE", "CONFIG_CONTROL"})
      QVERIFY2(!text.contains(gone, Qt::CaseInsensitive), gone);
    const auto read = test::pmiPartOf(written->bytes);
    VERIFY_OK(read);
    QVERIFY(read->schema.starts_with("AP242"));
    QVERIFY(differencesReadBack(*written, *part, spec, *read).empty());
  }

  // Numbers beyond 31 bits, a byte order mark, comments, names with signs of other languages.
  void foreignLooking() {
    std::string file = "\xEF\xBB\xBF" +
                       test::pmiFile("/* 'a comment with #60 and an apostrophe */ #60 /* here */ = "
                                     "/* and here */"
                                     "FLATNESS_TOLERANCE('a #60; in (a) text','',#41,#13);\n");
    for (std::size_t at = 0; (at = file.find("#50", at)) != std::string::npos; at += 12)
      file.replace(at, 3, "#990000000050");
    auto part = test::pmiPartOf(file);
    VERIFY_OK(part);
    const PlainStep plain = plainStep(file);
    const auto text = StepText::parse(plain.bytes);
    VERIFY_OK(text);
    part->pmi = readPmi(
        *text,
        [&](int entity) {
          const auto number = plain.original(entity) - 9900000000501;
          return number >= 0 && number < 9 ? std::vector{FaceId{static_cast<int>(number)}}
                                           : test::pmiFacesOf(entity);
        },
        part->notes);
    for (Face& face : part->faces)
      if (face.id.value < 9) face.entity = 9900000000501 + face.id.value;
    std::vector<Note> notes;
    Specification spec = specificationFromPmi(*part, notes);
    QCOMPARE(spec.requirements.size(), std::size_t(1));
    spec.requirements[0].tolerance = 0.0777;
    for (NominalFeature& f : spec.features)
      f.name = "Fläche 'ø' \\ 平面 😀";
    const auto written = stepWithRequirements(*part, spec, notes);
    VERIFY_OK(written);
    QCOMPARE(written->written, 1);
    QVERIFY(written->bytes.find("FLATNESS_TOLERANCE('a #60") == std::string::npos);
    QVERIFY(written->bytes.find("Fl\\X2\\00E4\\X0\\che ''\\X2\\00F8\\X0\\'' \\\\ ") !=
            std::string::npos);
    QVERIFY(written->bytes.find("\\X4\\0001F600\\X0\\") != std::string::npos);
    const auto again = StepText::parse(written->bytes);
    VERIFY_OK(again);
    QVERIFY(again->broken().empty());
    QCOMPARE(again->ofType("FLATNESS_TOLERANCE").size(), std::size_t(1));
  }

  void recordsTakenOut() {
    const auto text = StepText::parse("ISO-10303-21;\nDATA;\n"
                                      "#1=SHAPE_ASPECT('#2,#2','',#9,.T.);\n"
                                      "#2=A_TYPE(1);\n"
                                      "#3=LIST_OF('x (#2',( #2 , #22,#1));\n"
                                      "#4=LIST_OF('',(#1,#2));\n"
                                      "#5=LIST_OF('',(/* #1 */#2));\n"
                                      "#6=NAMES(#5);\n"
                                      "#7=(A(#1)B((#22,#2)));\n"
                                      "#8=(A(#2)B((#1)));\n"
                                      "#22=A_TYPE(2);\n"
                                      "ENDSEC;\nEND-ISO-10303-21;\n");
    VERIFY_OK(text);
    StepEdit edit(*text);
    edit.remove(2);
    for (const int id : {2, 5, 6, 8})
      QVERIFY2(edit.isRemoved(id), std::to_string(id).c_str());
    for (const int id : {1, 3, 4, 7, 22})
      QVERIFY2(!edit.isRemoved(id), std::to_string(id).c_str());
    QCOMPARE(edit.add("NEW(#1)"), 23);
    QCOMPARE(QString::fromStdString(edit.text()), QString("ISO-10303-21;\nDATA;\n"
                                                          "#1=SHAPE_ASPECT('#2,#2','',#9,.T.);\n"
                                                          "#3=LIST_OF('x (#2',(  #22,#1));\n"
                                                          "#4=LIST_OF('',(#1));\n"
                                                          "#7=(A(#1)B((#22)));\n"
                                                          "#22=A_TYPE(2);\n"
                                                          "#23=NEW(#1);\n"
                                                          "ENDSEC;\nEND-ISO-10303-21;\n"));
  }

  void nothingToWriteTo() {
    PartModel none;
    const auto empty = stepWithRequirements(none, {}, {});
    QVERIFY(!empty);
    QVERIFY(empty.error().message.find("no STEP file") != std::string::npos);
    none.bytes = "ISO-10303-21;\nDATA;\n#1=CARTESIAN_POINT('',(0.,0.,0.));\nENDSEC;\n";
    const auto shapeless = stepWithRequirements(none, {}, {});
    QVERIFY(!shapeless);
    QVERIFY(shapeless.error().message.find("export it again") != std::string::npos);
    QVERIFY(isModelFile("a/b.STP") && isModelFile("x.step") && !isModelFile("x.alder"));
  }
};

ALDER_TEST(StepExportTest)
#include "step_export_test.moc"
