#include "base/random.h"
#include "base/units.h"
#include "cloud/judged_cloud.h"
#include "exchange/clouds/cloud_run.h"
#include "exchange/points/cloud_head.h"
#include "exchange/points/points_file.h"
#include "exchange/results/project_history.h"
#include "judge/judge.h"
#include "made_cloud.h"
#include "support.h"
#include <QTemporaryDir>

using namespace alder;
using alder::test::anyMotion;
using alder::test::heightsOf;
using alder::test::heronPlan;

namespace {

// Features moved and resized, so that a few touches see all that a cloud sees. Datums stay where
// they are: of a hole beside its nominal the touches show the largest inscribed one less well.
Defects defectsBy(unsigned seed) {
  Random r(seed);
  Defects given;
  const auto is_datum = [](FeatureId id) {
    for (const Datum& d : heronPlan().spec.datums)
      if (std::count(d.features.begin(), d.features.end(), id) > 0) return true;
    return false;
  };
  for (const NominalFeature& f : heronPlan().spec.features) {
    if (f.isConstructed() || r.uniform() < 0.5) continue;
    FeatureDefect d;
    if (!is_datum(f.id)) d.move = 0.03 * Vec3(r.normal(), r.normal(), r.normal());
    d.resize = 0.02 * r.normal();
    given.features.emplace_back(f.id, d);
  }
  return asMade(heronPlan(), given);
}

Measurements touched(const Plan& plan, const Defects& defects) {
  const auto height = heightsOf(plan, defects);
  Measurements all;
  for (const Feature& f : plan.features) {
    if (plan.nominal(f.id).isConstructed() || f.touches.empty()) continue;
    MeasuredFeature m = test::exactly(plan, f.id);
    for (std::size_t i = 0; i < m.points.size(); ++i)
      m.points[i] +=
          height(f.touches[i].face, f.touches[i].point, f.touches[i].normal) * f.touches[i].normal;
    all[f.id] = std::move(m);
  }
  return all;
}

demo::Scan scanned(const Defects& defects, std::size_t points, double noise, unsigned seed) {
  demo::ScanSettings s;
  s.points = points, s.noise = noise, s.seed = seed, s.motion = anyMotion(seed);
  s.height = heightsOf(heronPlan(), defects);
  return demo::scanOf(*heronPlan().part, s);
}

PointCloud cloudOf(const demo::Scan& scan, bool normals = false) {
  PointCloud cloud;
  cloud.points = scan.points;
  for (std::size_t i = 0; i < scan.normals.size() && normals; ++i)
    cloud.normals.push_back(scan.normals[i].cast<float>());
  return cloud;
}

Result<PlacedCloud> placedOf(const PointCloud& cloud, const CloudSettings& settings = {}) {
  return placeCloud(heronPlan(), cloud, settings, {});
}
// From where it lay, about: placing it from anywhere is asked of CloudPlacingTest.
Result<PlacedCloud> settledOf(const PointCloud& cloud, const Frame& motion,
                              CloudSettings settings = {}) {
  settings.start = motion.inverse();
  settings.start->translation() += Vec3(0.05, -0.1, 0.08);
  return placedOf(cloud, settings);
}

} // namespace

class CloudJudgingTest : public QObject {
  Q_OBJECT
 private slots:
  void asIfTouched();
  void noiseIsNoVerdict();
  void noiseIsFound();
  void densityDoesNotCount();
  void farPointsAndEdgesAreTold();
  void placedByDatums();
  void normalsThatHelpAndThatDoNot();
  void aRunLikeAnyOther();
  void broughtInAndUndone();
};

// The figures of the cloud differ from those of exact touches by no more than its own uncertainty
// says, and no verdict that is given is another.
void CloudJudgingTest::asIfTouched() {
  const Plan& plan = heronPlan();
  int decided = 0;
  for (unsigned seed = 1; seed <= 2; ++seed) {
    const Defects defects = defectsBy(seed);
    const auto exact = judgeAll(plan, touched(plan, defects));
    const auto placed = placedOf(cloudOf(scanned(defects, 250000, 0.005, seed)));
    VERIFY_OK(placed);
    const auto seen = judgeAll(plan, measurementsOf(plan, placed->gathered));
    for (std::size_t i = 0; i < exact.size(); ++i) {
      const Requirement& r = plan.spec.requirement(exact[i].requirement);
      const QString what = QString("seed %1, %2: %3 and %4, U %5; %6")
                               .arg(seed)
                               .arg(describe(plan.spec, r).c_str())
                               .arg(exact[i].actual.value_or(-1))
                               .arg(seen[i].actual.value_or(-1))
                               .arg(seen[i].guard)
                               .arg(seen[i].how.c_str());
      QCOMPARE(seen[i].actual.has_value(), exact[i].actual.has_value());
      if (!exact[i].actual) continue;
      QVERIFY2(seen[i].guard > 0, qPrintable(what));
      const double expanded = 2 * seen[i].guard / 1.65;
      // Eight touches of a ring come to within 8 % of its highest place.
      const double between = isDimension(r.kind) ? 0 : 0.08 * *exact[i].actual;
      const double room =
          1.5 * expanded + between + (r.kind == Characteristic::Angle ? 1e-4 : 0.001);
      QVERIFY2(std::abs(*seen[i].actual - *exact[i].actual) < room, qPrintable(what));
      // So near a limit the touches do not say either.
      const double inside =
          std::min(exact[i].upper - *exact[i].actual,
                   isDimension(r.kind) ? *exact[i].actual - exact[i].lower : exact[i].upper);
      if (seen[i].verdict == Verdict::NotProved || std::abs(inside) < room) continue;
      ++decided;
      const bool good = exact[i].verdict != Verdict::Outside,
                 seen_good = seen[i].verdict != Verdict::Outside;
      QVERIFY2(good == seen_good, qPrintable(what));
    }
  }
  QVERIFY2(decided > 45, qPrintable(QString::number(decided))); // of 70
}

// A perfect part with much noise: nothing is called outside that is not; tight forms are not
// proved.
void CloudJudgingTest::noiseIsNoVerdict() {
  const Plan& plan = heronPlan();
  const Defects middle = asMade(plan, {});
  int open = 0;
  for (const std::size_t points : {std::size_t{60000}, std::size_t{250000}}) {
    const auto placed = settledOf(cloudOf(scanned(middle, points, 0.03, 21)), anyMotion(21));
    VERIFY_OK(placed);
    for (const Evaluation& e : judgeAll(plan, measurementsOf(plan, placed->gathered))) {
      const Requirement& r = plan.spec.requirement(e.requirement);
      QVERIFY2(e.verdict != Verdict::Outside,
               (describe(plan.spec, r) + ": " + std::to_string(e.actual.value_or(0)) + "; " + e.how)
                   .c_str());
      open += e.verdict == Verdict::NotProved;
      if (e.verdict == Verdict::NotProved)
        QVERIFY(e.how.find("noise of the points") != std::string::npos);
    }
  }
  QVERIFY(open >= 4);
}

void CloudJudgingTest::noiseIsFound() {
  for (const double noise : {0.002, 0.02}) {
    const auto placed = settledOf(cloudOf(scanned({}, 300000, noise, 6)), anyMotion(6));
    VERIFY_OK(placed);
    for (const FaceTally& t : placed->gathered.faces) {
      if (t.used < 3000) continue;
      NEAR(t.noise, noise, 0.15 * noise);
      QVERIFY(t.place_noise < noise && t.place_noise > 0);
    }
    NEAR(placed->gathered.rms, noise, 0.05 * noise);
  }
}

// One half of the part scanned ten times as densely.
void CloudJudgingTest::densityDoesNotCount() {
  const Plan& plan = heronPlan();
  const Defects defects = defectsBy(9);
  const auto scan = scanned(defects, 250000, 0, 9);
  const Frame back = anyMotion(9).inverse();
  PointCloud even = cloudOf(scan), uneven;
  const Vec3 middle = plan.part->mesh.box().center();
  for (std::size_t i = 0; i < scan.points.size(); ++i)
    if ((back * scan.points[i]).x() > middle.x() || i % 10 == 0)
      uneven.points.push_back(scan.points[i]);
  CloudSettings settings;
  settings.gather.cell = 3;
  const auto a = settledOf(even, anyMotion(9), settings),
             b = settledOf(uneven, anyMotion(9), settings);
  VERIFY_OK(a);
  VERIFY_OK(b);
  // By the points alone the part would be drawn towards the half that was looked at more.
  const Frame difference = a->placement * b->placement.inverse();
  const double off = (difference * middle - middle).norm();
  QVERIFY2(off < 0.002, qPrintable(QString::number(off)));
}

void CloudJudgingTest::farPointsAndEdgesAreTold() {
  const Plan& plan = heronPlan();
  // A burr of 2 mm on the mounting face.
  const FeatureId face = test::named(plan, "Plane");
  const Ideal& ideal = plan.nominal(face).ideal;
  demo::ScanSettings s;
  s.points = 200000, s.noise = 0.005;
  Vec3 burr = Vec3::Zero();
  for (const Touch& t : plan.feature(face).touches)
    burr = t.point;
  s.height = [&](FaceId, const Vec3& p, const Vec3& n) {
    return n.dot(ideal.direction) > 0.99 && (p - burr).norm() < 4 ? 2.0 : 0.0;
  };
  const auto placed = settledOf(cloudOf(demo::scanOf(*plan.part, s)), Frame::Identity());
  VERIFY_OK(placed);
  const bool told =
      std::any_of(placed->remarks.begin(), placed->remarks.end(), [&](const std::string& r) {
        return r.find(plan.nominal(face).name) != std::string::npos;
      });
  QVERIFY(told);
  // With more room it counts, and the flatness shows it.
  CloudSettings wide;
  wide.gather.reach = 3;
  const auto all = settledOf(cloudOf(demo::scanOf(*plan.part, s)), Frame::Identity(), wide);
  VERIFY_OK(all);
  const auto measured = measurementsOf(plan, all->gathered);
  for (const Requirement& r : plan.spec.requirements)
    if (r.kind == Characteristic::Flatness && r.features.front() == face)
      QVERIFY(judge(plan, r, measured).actual.value_or(0) > 1.8);
  // Along an edge nothing is used.
  const EdgeZone edges(*plan.part, 0.5);
  for (const Place& p : placed->gathered.places)
    if (p.count == 1) QVERIFY(!edges.holds(p.face, p.foot));
  std::size_t at_edges = 0;
  for (const FaceTally& t : placed->gathered.faces)
    at_edges += t.at_edges;
  QVERIFY(at_edges > 1000);
}

void CloudJudgingTest::placedByDatums() {
  const Plan& plan = heronPlan();
  const Requirement* with_datums = nullptr;
  for (const Requirement& r : plan.spec.requirements)
    if (r.datums.size() == 3 && r.datums[2].material == MaterialModifier::None) with_datums = &r;
  QVERIFY(with_datums);
  CloudSettings settings;
  settings.datums = with_datums->id;
  const auto placed =
      settledOf(cloudOf(scanned(defectsBy(4), 200000, 0.002, 4)), anyMotion(4), settings);
  VERIFY_OK(placed);
  // The primary datum then lies on its nominal, from outside the material.
  const FeatureId primary = plan.spec.datum(with_datums->datums[0].letters[0])->features.front();
  double least = 1e9, sum = 0;
  int count = 0;
  const Measurements measured = measurementsOf(plan, placed->gathered);
  for (const Vec3& p : measured.at(primary).points) {
    const double d =
        (p - plan.nominal(primary).ideal.point).dot(plan.nominal(primary).ideal.direction);
    least = std::min(least, -d), sum += d, ++count;
  }
  NEAR(sum / count, 0.0, 0.004);
  QVERIFY(least > -0.004);
  settings.datums = {};
  for (const Requirement& r : plan.spec.requirements)
    if (r.datums.empty()) settings.datums = r.id;
  QVERIFY(!settledOf(cloudOf(scanned({}, 50000, 0.002, 4)), anyMotion(4), settings));
}

void CloudJudgingTest::normalsThatHelpAndThatDoNot() {
  const auto scan = scanned({}, 60000, 0.01, 15);
  const PointCloud good = cloudOf(scan, true);
  PointCloud reversed = good, wild = good;
  Random r(3);
  for (auto& n : reversed.normals)
    n = -n;
  for (auto& n : wild.normals)
    if (r.uniform() < 0.5) n = -n;
  const Frame motion = anyMotion(15);
  const auto a = settledOf(good, motion), b = settledOf(reversed, motion),
             c = settledOf(wild, motion);
  VERIFY_OK(a);
  VERIFY_OK(b);
  VERIFY_OK(c);
  QCOMPARE(a->gathered.used(), b->gathered.used());
  QVERIFY(a->remarks.empty() && b->remarks.empty());
  QCOMPARE(c->remarks.size(), std::size_t{1});
  QVERIFY(c->gathered.used() > 0.95 * static_cast<double>(a->gathered.used()));
}

// Written and read again the places give the same verdicts.
void CloudJudgingTest::aRunLikeAnyOther() {
  const Plan& plan = heronPlan();
  const PointCloud cloud = cloudOf(scanned(defectsBy(2), 100000, 0.01, 2));
  const auto placed = placedOf(cloud);
  VERIFY_OK(placed);
  CloudFile file;
  file.name = "heron \"7\".ply", file.form = "PLY, binary", file.hash = "0123";
  const std::string csv = cloudRunText(plan, *placed, file, "mm", {});
  QCOMPARE(csv, cloudRunText(plan, *placed, file, "mm", {}));
  const auto head = cloudHeadIn(csv);
  QVERIFY(head);
  QCOMPARE(head->file, file.name);
  QCOMPARE(head->points, cloud.points.size());
  NEAR((head->placement.matrix() - placed->placement.matrix()).norm(), 0.0, 1e-9);
  QVERIFY(!cloudHeadIn("# run: 1\nfeature\n"));
  QVERIFY(!cloudHeadIn("# cloud {\"points\":\"x\"}\nfeature\n"));
  const auto read = measurementsIn(csv, "run", plan);
  VERIFY_OK(read);
  const auto direct = measurementsOf(plan, placed->gathered);
  QCOMPARE(read->size(), direct.size());
  const auto a = judgeAll(plan, direct), b = judgeAll(plan, *read);
  for (std::size_t i = 0; i < a.size(); ++i) {
    QCOMPARE(b[i].verdict, a[i].verdict);
    if (a[i].actual)
      QVERIFY2(std::abs(*b[i].actual - *a[i].actual) < 2e-5,
               qPrintable(QString("%1: %2 and %3; %4")
                              .arg(describe(plan.spec.requirement(a[i].requirement)).c_str())
                              .arg(*a[i].actual)
                              .arg(*b[i].actual)
                              .arg(a[i].how.c_str())));
  }
  // A damaged row is told by its line.
  std::string broken = csv;
  const auto last = broken.find_last_of(',');
  broken.replace(last + 1, 3, "x");
  QVERIFY(!measurementsIn(broken, "run", plan));
}

void CloudJudgingTest::broughtInAndUndone() {
  Project project;
  project.plan = heronPlan();
  project.runs.push_back({"touched", "feature,touch,x,y,z\nF1,1,0,0,0\n"});
  const RequirementId any = project.plan.spec.requirements[0].id;
  project.runs.push_back(
      {"scan", withStated(runWithoutPoints("1"), {{any, 0.01, "a.csv", "n", 3}})});
  const auto before = project.runs;
  const auto same = [&] {
    if (project.runs.size() != before.size()) return false;
    for (std::size_t i = 0; i < before.size(); ++i)
      if (project.runs[i].name != before[i].name || project.runs[i].csv != before[i].csv)
        return false;
    return true;
  };
  const std::string csv =
      "# run: 2\n# cloud {\"file\":\"scan.ply\"}\nfeature,touch,x,y,z\nF1,1,0,0,0\n";
  // What was touched stays; values that were stated for the part go with it; a cloud takes the
  // place of one that was brought in before.
  QCOMPARE(cloudRunName(project, "touched.ply", ""), std::string("touched-2"));
  QCOMPARE(cloudRunName(project, "scan.ply", ""), std::string("scan"));
  QCOMPARE(cloudRunName(project, "../a b/ü.ply", ""), std::string("--"));
  ProjectHistory history;
  history.apply(project, bringingInCloud(project, csv, "scan.ply", "scan"));
  QCOMPARE(project.runs.size(), std::size_t{2});
  QCOMPARE(statedIn(project.runs[1].csv).size(), std::size_t{1});
  QVERIFY(holdsPoints(project.runs[1].csv));
  QCOMPARE(cloudRunName(project, "scan.ply", ""), std::string("scan"));
  history.apply(project, bringingInCloud(project, csv, "other.ply", "other"));
  QCOMPARE(project.runs.size(), std::size_t{3});
  QCOMPARE(history.undoText(), std::string("Bring in other.ply"));
  QCOMPARE(history.undo(project), ProjectHistory::Step::Results);
  history.undo(project);
  QVERIFY(same());
  history.redo(project);
  QVERIFY(!same());
  history.undo(project);
  QVERIFY(same());
}

ALDER_TEST(CloudJudgingTest)
#include "cloud_judging_test.moc"
