#include "bench/kit.h"
#include "heron.h"
#include "part/mesh_file.h"
#include "route/bench_change.h"
#include "route/setup_check.h"
#include "support.h"
#include <QFile>
#include <QTemporaryDir>

using namespace alder;

namespace {

Plan with(const std::function<void(Json&)>& change) {
  Plan plan = test::heronPlan();
  Json json = Json::parse(demo::benchJson(true));
  change(json);
  plan.bench = *readBench(json.dump(), "shop.json");
  return plan;
}

bool says(const std::vector<SetupFinding>& found, const std::string& words) {
  return std::any_of(found.begin(), found.end(), [&](const SetupFinding& f) {
    return f.text.find(words) != std::string::npos;
  });
}

} // namespace

class SetupCheckTest : public QObject {
  Q_OBJECT
 private slots:
  // The part rests on its rests and under its clamps: contact is no clash.
  void theDemoStands() { QVERIFY(checkSetup(test::heronPlan()).empty()); }
  void partInTheFixture() {
    Plan plan = test::heronPlan();
    plan.placement.translation().z() -= 0.05; // less than meshes tell
    QVERIFY(checkSetup(plan).empty());
    plan.placement.translation().z() -= 0.95;
    const auto found = checkSetup(plan);
    QVERIFY(says(found, "The part and rest 1 stand in each other"));
    QVERIFY(found.front().clash);
    plan.placement.translation().z() -= 100;
    QVERIFY(says(checkSetup(plan), "into the table"));
  }
  void outsideTheMachine() {
    Plan plan = test::heronPlan();
    plan.placement.translation().x() = 10;
    QVERIFY(says(checkSetup(plan), "beyond the travel in X"));
    plan.placement.translation() = Vec3(450, 600, 2000);
    QVERIFY(says(checkSetup(plan), "above the travel in Z"));
  }
  void fixtureOnTheSphere() {
    const Plan plan = with([](Json& j) {
      j["fixture"]["bodies"].push_back(kitPiece("rest", "rest 9", Vec3(120, 980, 0)));
    });
    QVERIFY(says(checkSetup(plan), "stem of the sphere and rest 9"));
  }
  // One body wholly inside of another crosses none of its triangles.
  void swallowed() {
    const Plan plan = with([](Json& j) {
      j["fixture"]["bodies"].push_back(
          {{"name", "block"}, {"boxes", {{{"min", {100, 960, 140}}, {"max", {140, 1000, 180}}}}}});
    });
    QVERIFY(says(checkSetup(plan), "reference sphere and block"));
  }
  void notClosedAndTooHeavy() {
    const Plan plan = with([](Json& j) {
      j["fixture"]["bodies"].push_back(
          {{"name", "tent"},
           {"mesh",
            {{"vertices", {{0, 0, 1}, {9, 0, 1}, {0, 9, 1}, {0, 0, 9}}},
             {"triangles", {{0, 1, 3}, {1, 2, 3}, {2, 0, 3}}}}}});
      j["probe"]["stylus_weight_g"] = 3;
    });
    const auto found = checkSetup(plan);
    QVERIFY(says(found, "tent is not closed (3 open edges)"));
    QVERIFY(says(found, "long ø4 weighs 13 g"));
    QVERIFY(std::none_of(found.begin(), found.end(), [](const auto& f) { return f.clash; }));
  }
  void touchedTooFast() {
    Plan plan = test::heronPlan();
    plan.features[1].recipe.speed = 40;
    QVERIFY(says(checkSetup(plan), "is touched at 40 mm/s; Dunlin probe takes 1 to 10"));
  }
  // A bench with a fixed head and others styli: what can be reached is, the rest says why; and
  // undone all is as before.
  void anotherBench() {
    Plan plan = test::heronPlan();
    const auto before = plan.features[1].access;
    auto change = changeOfBench(plan, test::shippedBench("lapwing"));
    VERIFY_OK(change);
    EditHistory history;
    VERIFY_OK(history.apply(plan, *change));
    QCOMPARE(plan.bench.name, std::string("Lapwing bench"));
    QVERIFY(!plan.supports.empty());
    int covered = 0;
    for (const Feature& f : plan.features) {
      covered += f.covered();
      if (f.covered())
        QVERIFY(f.access.a == 0 && f.access.b == 0);
      else if (!plan.nominal(f.id).isConstructed())
        QVERIFY(!f.why_not.empty());
    }
    QVERIFY(covered > 5);
    QVERIFY(checkSetup(plan).empty());
    QVERIFY(history.undo(plan));
    QCOMPARE(plan.bench.name, std::string("Curlew bench"));
    QVERIFY(plan.features[1].access == before);
    QVERIFY(plan.supports.empty());
  }
  void bodiesFromFiles() {
    QTemporaryDir dir;
    const auto write = [&](const char* name, const QByteArray& text) {
      QFile f(dir.filePath(name));
      (void)f.open(QIODevice::WriteOnly);
      f.write(text);
      f.close();
      return dir.filePath(name).toStdString();
    };
    QByteArray stl = "solid wedge\n";
    const int corners[4][3] = {{0, 0, 0}, {10, 0, 0}, {0, 10, 0}, {0, 0, 10}};
    const int sides[4][3] = {{0, 2, 1}, {0, 1, 3}, {1, 2, 3}, {2, 0, 3}};
    for (const auto& side : sides) {
      stl += "facet normal 0 0 0\nouter loop\n";
      for (int v : side)
        stl += QString("vertex %1 %2 %3\n")
                   .arg(corners[v][0])
                   .arg(corners[v][1])
                   .arg(corners[v][2])
                   .toUtf8();
      stl += "endloop\nendfacet\n";
    }
    const auto wedge = readMeshFile(write("wedge.stl", stl + "endsolid wedge\n"));
    VERIFY_OK(wedge);
    NEAR(std::abs(wedge->box().sizes().sum()), 30.0, 1e-5);
    const auto part = readMeshFile(test::dataPath("heron.step"));
    VERIFY_OK(part);
    QVERIFY(part->triangles.size() > 1000);
    for (const auto& [path, words] : {std::pair{write("empty.stl", ""), "empty.stl"},
                                      {write("note.txt", "x"), "is read from STEP, IGES"},
                                      {write("bad.step", "no step"), "bad.step"},
                                      {dir.filePath("none.stl").toStdString(), "none.stl"}}) {
      const auto refused = readMeshFile(path);
      QVERIFY(!refused);
      QVERIFY2(refused.error().message.find(words) != std::string::npos,
               refused.error().message.c_str());
    }
  }
};
ALDER_TEST(SetupCheckTest)
#include "setup_check_test.moc"
