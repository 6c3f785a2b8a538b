#include "base/units.h"
#include "exchange/routine/judging_json.h"
#include "exchange/routine/project.h"
#include "plan/constructions/constructed_feature.h"
#include "plan/edit.h"
#include "support.h"
#include <QTemporaryDir>

using namespace alder;

// How it is judged survives the file, and goes when it is taken back.
class JudgingJsonTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;

  static Requirement everything(Requirement r) {
    r.standard = ToleranceStandard::Asme2009;
    r.association = AssociateBy::Tangent;
    r.datum_association = AssociateBy::LeastSquares;
    r.of = Extracted::MedianLine;
    r.filtering = Filtering{FilterKind::Robust, 0.8, 15, 3, 0.01};
    r.projected = 12.5;
    r.unit_length = 25;
    r.separate = true;
    r.envelope = true;
    r.along = Along::Radial;
    r.reciprocity = r.free_offset = true;
    r.together = 2;
    r.zone_plane = PlaneIndicator{PlaneRelation::Perpendicular, "B"};
    r.section_plane = PlaneIndicator{PlaneRelation::Including, "A"};
    r.extreme = Extreme::Smallest;
    r.formula = "#2 * 2";
    r.unit = "mm";
    r.uncertainty = 0.0015;
    for (DatumReference& d : r.datums)
      d.may_fix = "zuv", d.boundary = 8.02;
    return r;
  }
  Result<Plan> throughFile(const Plan& plan, Json read = {}) {
    const std::string path = dir_.filePath("x.alder").toStdString();
    if (auto done = saveProject({plan, {}, std::move(read)}, path); !done)
      return pass(done.error());
    auto back = openProject(path);
    if (!back) return pass(back.error());
    return std::move(back->plan);
  }

 private slots:
  void roundTrip() {
    Plan plan = test::heronPlan();
    for (Requirement& r : plan.spec.requirements)
      r = everything(r);
    plan.spec.standard = ToleranceStandard::Asme;
    plan.spec.uncertainty = 0.002;
    plan.spec.near_share = 0.75;
    plan.spec.features[0].filtering = Filtering{FilterKind::Gaussian, 2.5, 0, 0, 0};
    plan.spec.datums[0].targets = {
        {Vec3(1, 2, 3), {}, 0}, {Vec3(4, 5, 6), Vec3(7, 8, 9), 0}, {Vec3(1, 1, 1), {}, 6}};
    const auto back = throughFile(plan);
    VERIFY_OK(back);
    QVERIFY(back->spec.datums == plan.spec.datums);
    QVERIFY(back->spec.standard == plan.spec.standard);
    QCOMPARE(back->spec.uncertainty, plan.spec.uncertainty);
    QCOMPARE(back->spec.near_share, plan.spec.near_share);
    QVERIFY(back->spec.features[0].filtering == plan.spec.features[0].filtering);
    QCOMPARE(toJson(*back).dump(), toJson(plan).dump());
  }
  // What was chosen once and given back does not return from the fields that are kept.
  void defaultsReplaceWhatWasRead() {
    Plan plan = test::heronPlan();
    plan.spec.requirements[3] = everything(plan.spec.requirements[3]);
    const Json old = toJson(plan);
    plan.spec.requirements[3] = test::heronPlan().spec.requirements[3];
    const auto back = throughFile(plan, old);
    VERIFY_OK(back);
    QVERIFY(back->spec.requirements[3] == plan.spec.requirements[3]);
  }
  void constructions() {
    Plan plan = test::heronPlan();
    Construction copy;
    copy.kind = ConstructionKind::Copy;
    copy.of = {FeatureId{1}};
    copy.offset = Vec3(1, -2, 3);
    copy.turn = Vec3(0, radians(30), 0);
    for (const Construction& c : {copy}) {
      VERIFY_OK(applyEdit(plan, SetSpecification{*withConstructed(plan, c)}));
    }
    const auto back = throughFile(plan);
    VERIFY_OK(back);
    const NominalFeature &a = plan.spec.features.back(), &b = back->spec.features.back();
    QCOMPARE(b.name, a.name);
    QVERIFY(b.from->of == a.from->of && b.from->offset == a.from->offset);
    NEAR((b.from->turn - a.from->turn).norm(), 0.0, 1e-12);
    NEAR((b.ideal.point - a.ideal.point).norm(), 0.0, 1e-9);
    QCOMPARE(back->features.size(), plan.features.size());
  }
  void badFields_data() {
    QTest::addColumn<QString>("where");
    QTest::addColumn<QString>("value");
    QTest::addColumn<QString>("says");
    QTest::newRow("filter") << "/requirements/0/filter"
                            << R"({"kind":"spline"})"
                            << "no filter";
    QTest::newRow("cutoff") << "/requirements/0/filter"
                            << R"({"kind":"gaussian"})"
                            << "cut-off";
    QTest::newRow("along") << "/requirements/0/along"
                           << R"("w")"
                           << "neither x, y, z nor radial";
    QTest::newRow("extreme") << "/requirements/0/extreme"
                             << R"("mean")"
                             << "smallest";
    QTest::newRow("zone plane") << "/requirements/0/zone_plane"
                                << R"("askew A")"
                                << "parallel";
    QTest::newRow("section plane") << "/requirements/0/section_plane"
                                   << R"("parallel ")"
                                   << "letter of a datum";
    QTest::newRow("projected") << "/requirements/0/projected"
                               << "-1"
                               << "below zero";
    QTest::newRow("locks") << "/requirements/2/datums/0/locks"
                           << R"("abc")"
                           << "x y z u v w";
    QTest::newRow("standard") << "/judging/standard"
                              << R"("DIN")"
                              << "not one of ISO";
    QTest::newRow("targets") << "/datums/0/targets"
                             << R"([{"diameter":3}])"
                             << "point";
    QTest::newRow("construct") << "/features/21"
                               << R"({"id":21,"name":"x","from":{"construct":"guess","of":[0]}})"
                               << "not a construction";
    QTest::newRow("parents") << "/features/21"
                             << R"({"id":21,"name":"x","from":{"construct":"copy","of":[99]}})"
                             << "not there";
    QTest::newRow("itself") << "/features/21"
                            << R"({"id":21,"name":"x","from":{"construct":"copy","of":[21]}})"
                            << "x -> x";
  }
  void badFields() {
    QFETCH(QString, where);
    QFETCH(QString, value);
    QFETCH(QString, says);
    Json json = toJson(test::heronPlan());
    json[Json::json_pointer(where.toStdString())] = Json::parse(value.toStdString());
    const auto plan = planFromJson(json, "x.alder", test::heron(), test::heronBench());
    QVERIFY(!plan);
    QVERIFY2(plan.error().message.find(says.toStdString()) != std::string::npos,
             plan.error().message.c_str());
    QVERIFY(plan.error().message.starts_with("x.alder"));
  }
};

ALDER_TEST(JudgingJsonTest)
#include "judging_json_test.moc"
