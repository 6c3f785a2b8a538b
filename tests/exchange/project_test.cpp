#include "base/files.h"
#include "base/units.h"
#include "exchange/machine/path_table.h"
#include "exchange/points/csv.h"
#include "exchange/points/points_file.h"
#include "exchange/routine/project.h"
#include "plan/edit.h"
#include "route/router.h"
#include "run/simulated_run.h"
#include "support.h"
#include <QTemporaryDir>
#include <zip.h>

using namespace alder;

class ProjectTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  std::string path(const char* name) { return dir_.filePath(name).toStdString(); }

 private slots:
  void roundTrip() {
    Project project{test::heronPlan(), {{"part-0001", "feature,x,y,z\n"}}, {}};
    project.runs[0].then = {{3, "size ø8", 8.0001, 7.9, 8.1, 0.5, "within", "least squares"},
                            {4, "flatness", {}, 0, 0.1, 0, "unmeasured", "not measured"}};
    RoutineStep wait;
    wait.id = freeId(project.plan.steps);
    wait.body = WaitStep{"Clamp off", "", true, 20, "Clamp off.png"};
    project.plan.steps.push_back(wait);
    project.plan.pictures = {test::picture("Clamp off.png")};
    Recipe recipe = project.plan.features[3].recipe;
    recipe.start_angle = radians(12.5), recipe.last_depth = 14;
    project.plan.features[3].recipe = recipe;
    project.plan.features[4].entry = HopMode::Close;
    project.plan.features[6].entry = HopMode::Led;
    project.plan.features[6].waypoints = {{1, 2, 3}, {4.5, 5, 6}};
    project.plan.features[7].pinned = true;
    project.plan.qualified = {
        Vec3(120.1, 980.2, 160.3),
        {{{0, 0, radians(45), radians(90)}, Vec3(0.01, 0, 0), 2.99, 0.002, 0.001, 9, 5}}};
    project.plan.features[5].access_forced = true;
    project.plan.header[HeaderField::Number] = "TW-40";
    project.plan.header[HeaderField::Material] = "CuSn8 \"bronze\"";
    project.plan.header.documents = {
        {"3.1 certificate.pdf", std::make_shared<const std::string>("%PDF-1.7 made up")}};
    const std::string key = routineKey(project.plan);
    project.plan.header[HeaderField::Order] = "4711"; // another order is no other routine
    QCOMPARE(routineKey(project.plan), key);
    VERIFY_OK(saveProject(project, path("a.alder")));
    const auto back = openProject(path("a.alder"));
    VERIFY_OK(back);
    QVERIFY(back->plan.header == project.plan.header);
    QCOMPARE(toJson(back->plan).dump(), toJson(project.plan).dump());
    QCOMPARE(back->plan.part->bytes, project.plan.part->bytes);
    QCOMPARE(back->runs.size(), std::size_t(1));
    QCOMPARE(back->runs[0].csv, project.runs[0].csv);
    QVERIFY(back->runs[0].then == project.runs[0].then);
    QVERIFY(back->plan.pictures == project.plan.pictures);
    // what follows from the plan follows from the one read back
    const auto way = routePlan(back->plan, obstaclesOf(back->plan));
    VERIFY_OK(way);
    // the same plan gives the same bytes
    VERIFY_OK(saveProject(*back, path("b.alder")));
    QCOMPARE(*readFile(path("b.alder")), *readFile(path("a.alder")));
  }
  void supportsComeBack() {
    auto bench = defaultBench();
    VERIFY_OK(bench);
    Plan plan = test::heronPlan();
    plan.bench = *bench;
    plan.supports = {{{10, 0, 0}, 8}, {{-10, 8, 0}, 8}, {{-10, -8, 0}, 9, 12}};
    VERIFY_OK(saveProject({plan, {}, {}}, path("p.alder")));
    const auto back = openProject(path("p.alder"));
    VERIFY_OK(back);
    QVERIFY(back->plan.supports == plan.supports);
    const auto& bodies = back->plan.bench.fixture.bodies;
    QCOMPARE(bodies.size(), std::size_t(3));
    QCOMPARE(bodies[2].name, std::string("rest 3"));
    // Version 2 told of a block under the part.
    Json old = toJson(test::heronPlan());
    old.erase("supports");
    old["on_pedestal"] = true;
    const auto block = planFromJson(old, "old", test::heron(), *bench);
    VERIFY_OK(block);
    QCOMPARE(block->bench.fixture.bodies.size(), std::size_t(1));
    QCOMPARE(block->bench.fixture.bodies[0].name, std::string("pedestal"));
    Mesh placed;
    placed.append(block->part->mesh, block->placement);
    NEAR(block->bench.fixture.bodies[0].mesh.box().max().z(), placed.box().min().z(), 1e-9);
  }
  // Both set-ups come back, whichever of them is worked on.
  void setupsComeBack() {
    Plan plan = test::heronPlan();
    auto all = setupsOf(plan);
    Setup second{SetupId{3}, "upside down", "Turn it over.", 0.03};
    second.placement = Frame(Eigen::AngleAxisd(1, Vec3::UnitX())) * plan.placement;
    second.supports = {{Vec3(1, 2, 3), 12}, {Vec3(4, 5, 6), 12, 8}};
    second.fixture = Json::object();
    second.shell.offset_high.z() = 33;
    all.push_back(second);
    VERIFY_OK(applyEdit(plan, SetSetups{all, SetupId{0}}));
    // A portion of the third feature is touched there.
    NominalFeature n = plan.spec.features[2];
    Feature f = plan.features[2];
    n.id = plan.spec.features.next(), n.name += " from below";
    n.portion = Portion{plan.spec.features[2].id, true};
    f.id = n.id, f.setup = SetupId{3};
    VERIFY_OK(applyEdit(plan, AddFeature{n, f}));
    Plan other = inSetup(plan, SetupId{3});
    other.alignment = {n.id};
    other.steps = measureSteps({n.id});
    QCOMPARE(other.bench.fixture.bodies.size(), std::size_t(2)); // rests instead of the fixture
    // What is approved is the routine, whichever set-up is worked on; a run is of one of them.
    QCOMPARE(routineDigest(other), routineDigest(inSetup(other, SetupId{0})));
    QVERIFY(routineDigest(other) != routineDigest(test::heronPlan()));
    QVERIFY(routineKey(other) != routineKey(inSetup(other, SetupId{0})));
    for (const Plan& saved : {plan, other}) {
      VERIFY_OK(saveProject({saved, {}, {}}, path("s.alder")));
      const auto back = openProject(path("s.alder"));
      VERIFY_OK(back);
      QVERIFY(toJson(back->plan) == toJson(saved));
      QVERIFY(setupsOf(back->plan) == setupsOf(saved));
      const Plan first = inSetup(back->plan, SetupId{0});
      QCOMPARE(first.bench.fixture.bodies.size(), plan.bench.fixture.bodies.size());
      QVERIFY(first.steps == plan.steps);
      QVERIFY(first.placement.isApprox(plan.placement, 1e-15));
    }
    Json broken = toJson(other);
    broken["setups"][0]["placement"] = "here";
    QVERIFY(!planFromJson(broken, "broken", test::heron(), other.bench));
    broken = toJson(other);
    broken["setup"] = 7;
    QVERIFY(!planFromJson(broken, "broken", test::heron(), other.bench));
    broken = toJson(other);
    broken["features"].back()["portion"]["of"] = 99;
    QVERIFY(!planFromJson(broken, "broken", test::heron(), other.bench));
  }
  // Fields of a newer version survive being saved by this one.
  void unknownFieldsSurvive() {
    Json old = toJson(test::heronPlan());
    old["thermal"] = {{"celsius", 20.5}};
    old["requirements"][2]["inspector"] = 0.002;
    Project project{test::heronPlan(), {}, old};
    VERIFY_OK(saveProject(project, path("u.alder")));
    const auto back = openProject(path("u.alder"));
    VERIFY_OK(back);
    QCOMPARE(back->unknown["thermal"]["celsius"].get<double>(), 20.5);
    QCOMPARE(back->unknown["requirements"].size(), std::size_t(1));
    QCOMPARE(back->unknown["requirements"][0]["inspector"].get<double>(), 0.002);
    QCOMPARE(back->unknown.size(), std::size_t(2));
    VERIFY_OK(saveProject(*back, path("u2.alder")));
    QVERIFY(openProject(path("u2.alder"))->unknown == back->unknown);
  }
  // What was there, and is removed, does not come back from the file that was read.
  void removedStaysRemoved() {
    Plan plan = test::heronPlan();
    plan.header[HeaderField::Number] = "TW-40";
    plan.views.push_back({"from above"});
    plan.setups = {{SetupId{0}, "one"}, {SetupId{1}, "two"}};
    plan.setups[1].fixture = Json::object();
    const std::string sum(64, 'a');
    plan.approvals.push_back({"1", "Avery", 1, sum, sum, sum});
    VERIFY_OK(saveProject({plan, {}, {}}, path("full.alder")));
    auto back = openProject(path("full.alder"));
    VERIFY_OK(back);
    QVERIFY(back->unknown.is_null());
    QCOMPARE(back->plan.setups.size(), std::size_t(2));
    back->plan.header = {};
    back->plan.views.clear();
    back->plan.setups.clear();
    back->plan.approvals.clear();
    VERIFY_OK(saveProject(*back, path("less.alder")));
    const auto less = openProject(path("less.alder"));
    VERIFY_OK(less);
    QVERIFY(less->plan.header == PartHeader{});
    QVERIFY(less->plan.views.empty() && less->plan.setups.empty() && less->plan.approvals.empty());
  }
  void newerVersionsAreNamed() {
    Json json = toJson(test::heronPlan());
    json["version"] = kRoutineVersion + 1;
    const auto plan = planFromJson(json, "x.alder", test::heron(), test::heronBench());
    QVERIFY(!plan && plan.error().message.find("newer") != std::string::npos);
  }
  // Every single field set to nonsense is an error or harmless, never a crash.
  void nonsenseInAnyField() {
    const Json good = toJson(test::heronPlan());
    for (const auto& nonsense : {Json("x"), Json(-5), Json::array({1}), Json()}) {
      for (const auto& [key, value] : good.items()) {
        Json bad = good;
        bad[key] = nonsense;
        (void)planFromJson(bad, "x", test::heron(), test::heronBench());
      }
      for (const char* list : {"features", "requirements"})
        for (const auto& [key, value] : good[list][1].items()) {
          Json bad = good;
          bad[list][1][key] = nonsense;
          const auto plan = planFromJson(bad, "x", test::heron(), test::heronBench());
          if (!plan) QVERIFY(plan.error().message.find('\n') == std::string::npos);
        }
    }
  }
  void damagedFiles_data() {
    QTest::addColumn<int>("kind");
    for (int i = 0; i < 5; ++i)
      QTest::newRow(qPrintable(QString::number(i))) << i;
  }
  void damagedFiles() {
    QFETCH(int, kind);
    const std::string good = path("good.alder"), bad = path("bad.alder");
    VERIFY_OK(saveProject({test::heronPlan(), {}, {}}, good));
    std::string bytes = *readFile(good);
    switch (kind) {
    case 0:
      bytes.clear();
      break;
    case 1:
      bytes = "not a zip at all";
      break;
    case 2:
      bytes.resize(bytes.size() / 2);
      break;
    case 3: // flip bits in the packed data
      for (std::size_t i = 200; i < 2000; i += 7)
        bytes[i] = static_cast<char>(bytes[i] ^ 0x55);
      break;
    default:
      break;
    }
    VERIFY_OK(writeFile(bad, bytes));
    if (kind == 4) { // a zip without the routine
      int code = 0;
      zip_t* z = zip_open(bad.c_str(), 0, &code);
      zip_delete(z, zip_name_locate(z, "routine.json", 0));
      zip_close(z);
    }
    const auto before = *readFile(bad);
    const auto project = openProject(bad);
    QVERIFY(!project);
    QVERIFY(project.error().message.find("bad.alder") != std::string::npos);
    QVERIFY(project.error().message.find('\n') == std::string::npos);
    QCOMPARE(*readFile(bad), before);
  }
  void savingWhereNothingCanBeWritten() {
    QVERIFY(!saveProject({test::heronPlan(), {}, {}}, path("no/such/folder/a.alder")));
  }
  void pointsBothWays() {
    const Plan& plan = test::heronPlan();
    const auto run = runOnSimulatedMachine(plan, test::heronWay(), {}, 5);
    VERIFY_OK(run);
    const auto back = measurementsIn(pointsText(*run), "p.csv", plan);
    VERIFY_OK(back);
    const Measurements direct = measurementsOf(*run);
    QCOMPARE(back->size(), direct.size());
    for (const auto& [id, m] : direct) {
      const auto& b = back->at(id);
      QCOMPARE(b.points.size(), m.points.size());
      QVERIFY(b.rows == m.rows && b.faces == m.faces);
      for (std::size_t i = 0; i < m.points.size(); ++i)
        NEAR((b.points[i] - m.points[i]).norm(), 0.0, 1e-6);
    }
  }
  void badPoints_data() {
    QTest::addColumn<QString>("csv");
    QTest::addColumn<QString>("names");
    QTest::newRow("empty") << ""
                           << "empty";
    QTest::newRow("no z") << "feature,x,y\nF1,1,2\n"
                          << "\"z\" is missing";
    QTest::newRow("word") << "feature,x,y,z\nF1,1,2,3\nF1,1,two,3\n"
                          << "line 3: \"two\"";
    QTest::newRow("short line") << "feature,x,y,z\nF1,1,2\n"
                                << "line 2";
    QTest::newRow("unknown") << "feature,x,y,z\nF99,1,2,3\n"
                             << "\"F99\" is not a feature";
    QTest::newRow("not finite") << "feature,x,y,z\nF1,1,inf,3\n"
                                << "line 2";
  }
  void badPoints() {
    QFETCH(QString, csv);
    QFETCH(QString, names);
    const auto m = measurementsIn(csv.toStdString(), "p.csv", test::heronPlan());
    QVERIFY(!m);
    QVERIFY2(QString::fromStdString(m.error().message).contains(names), m.error().message.c_str());
  }
  void pathHasOneRowAPosition() {
    const Plan& plan = test::heronPlan();
    const auto csv = pathTable(plan, test::heronWay(), timesOf(plan.bench, test::heronWay()));
    const auto table = readCsv(csv, "path.csv");
    VERIFY_OK(table);
    QCOMPARE(table->rows.size(), test::heronWay().positions.size());
    const std::vector<std::string> header{
        "seq",  "seconds", "step", "kind", "x",  "y",  "z",      "px",  "py",
        "pz",   "a",       "b",    "dx",   "dy", "dz", "stylus", "tip", "ball_diameter",
        "touch"};
    QVERIFY(table->header == header);
    const auto number = [&](std::size_t row, int column) {
      return std::stod(table->rows[row][static_cast<std::size_t>(column)]);
    };
    for (std::size_t i = 0; i < table->rows.size(); i += 17) {
      const Vec3 machine(number(i, 4), number(i, 5), number(i, 6)),
          cad(number(i, 7), number(i, 8), number(i, 9));
      NEAR((plan.placement * cad - machine).norm(), 0.0, 2e-6);
      const Vec3 d(number(i, 12), number(i, 13), number(i, 14));
      const double a = radians(number(i, 10)), b = radians(number(i, 11));
      const Vec3 expected =
          -Vec3(std::sin(a) * std::sin(b), -std::sin(a) * std::cos(b), -std::cos(a));
      NEAR((plan.placement.linear() * d - expected).norm(), 0.0, 1e-8);
    }
  }
};
ALDER_TEST(ProjectTest)
#include "project_test.moc"
