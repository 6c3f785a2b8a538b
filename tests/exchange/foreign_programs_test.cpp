// Programs as others write them, each with a table of what must come out of it. The tables stand
// beside the programs in foreign/ and are written by hand; a line that changes is looked at, never
// taken over from what the reader says.
#include "base/files.h"
#include "exchange/dmis/dmis_reader.h"
#include "exchange/dmis/dmis_writer.h"
#include "judge/judge.h"
#include "plan/steps/step_edit.h"
#include "rehearse/rehearsal.h"
#include "run/simulated_run.h"
#include "support.h"
#include <QTemporaryDir>
#include <filesystem>
#include <set>

using namespace alder;

namespace {

std::string place(const Vec3& v) {
  std::string text;
  for (int k = 0; k < 3; ++k) {
    double value = std::round(v[k] * 1000) / 1000;
    if (value == 0) value = 0; // no minus zero
    text += fmt::format("{}{:g}", k > 0 ? "," : "", value);
  }
  return text;
}

std::string names(const Plan& plan, const std::vector<FeatureId>& ids) {
  std::string text;
  for (FeatureId id : ids)
    text += (text.empty() ? "" : ", ") + plan.nominal(id).name;
  return text;
}

// What a program came to. Requirements that the model has already are not told.
std::string table(const ProgramRead& read, const Plan& base) {
  const Plan& plan = read.plan;
  std::string text;
  const auto add = [&](const std::string& line) { text += line + "\n"; };
  if (!plan.alignment.empty()) add("found by " + names(plan, plan.alignment));
  for (const RoutineStep& step : plan.steps) {
    const std::string words = describe(plan, step);
    if (words.starts_with("Note: ")) continue; // told by their lines
    const auto* measure = std::get_if<MeasureStep>(&step.body);
    if (!measure) {
      add("step " + words);
      continue;
    }
    const Feature& f = plan.feature(measure->feature);
    std::string how =
        fmt::format("measure {}: {} at {} | {}", plan.nominal(f.id).name, f.touches.size(),
                    place(f.touches.front().point), place(f.touches.front().normal));
    if (f.access_forced) how += ", " + nameOf(plan, f.access);
    if (!f.waypoints.empty()) how += ", led over";
    for (const Vec3& p : f.waypoints)
      how += " " + place(p);
    add(how);
  }
  for (const NominalFeature& f : plan.spec.features)
    if (f.from && f.id.value >= base.spec.features.next().value)
      add(fmt::format("construct {}: {} of {}", f.name, words(f.from->kind),
                      names(plan, f.from->of)));
  for (const Requirement& r : plan.spec.requirements)
    if (r.id.value >= base.spec.requirements.next().value)
      add("require " + describe(plan.spec, r) + " of " + names(plan, r.features));
  for (const ProgramLine& l : read.lines)
    if (l.taken != Taken::Over || !l.remark.empty())
      add(fmt::format("line {} {}{}", l.line, name(l.taken),
                      l.remark.empty() ? "" : ": " + l.remark));
  return text;
}

std::filesystem::path folder() {
  return std::filesystem::path(__FILE__).parent_path() / "foreign";
}

} // namespace

class ForeignProgramsTest : public QObject {
  Q_OBJECT
 private slots:
  void tables_data() {
    QTest::addColumn<QString>("program");
    int count = 0;
    std::vector<std::filesystem::path> files;
    for (const auto& entry : std::filesystem::directory_iterator(folder()))
      if (entry.path().extension() == ".dmi") files.push_back(entry.path());
    std::sort(files.begin(), files.end());
    for (const auto& file : files) {
      QTest::newRow(file.stem().c_str()) << QString::fromStdString(file.string());
      ++count;
    }
    QVERIFY(count >= 30);
  }
  void tables() {
    QFETCH(QString, program);
    const std::filesystem::path path = program.toStdString();
    auto expected_path = path;
    expected_path.replace_extension(".table");
    const auto text = readFile(path), expected = readFile(expected_path);
    VERIFY_OK(text);
    const Plan& base = test::heronPlan();
    const auto read = readDmis(*text, path.filename().string(), base);
    VERIFY_OK(read);
    const std::string came = table(*read, base);
    if (!expected || came != *expected)
      qWarning("%s came to\n%s", path.filename().c_str(), came.c_str());
    VERIFY_OK(expected);
    QVERIFY(came == *expected);
    // Every statement is told of, once.
    std::set<int> lines;
    for (const ProgramLine& l : read->lines)
      QVERIFY(lines.insert(l.line).second);
  }

  // What becomes a feature of its own is touched, and judged, for itself; and it is kept in the
  // file.
  void whatIsOfItsOwnIsJudged_data() {
    QTest::addColumn<QString>("program");
    QTest::addColumn<int>("results");
    QTest::newRow("circle") << "circle_in_bore" << 3;
    QTest::newRow("point and line") << "points_and_lines" << 2;
    QTest::newRow("hole circle") << "loop_of_holes" << 0;
  }
  void whatIsOfItsOwnIsJudged() {
    QFETCH(QString, program);
    QFETCH(int, results);
    const auto text = readFile(folder() / (program.toStdString() + ".dmi"));
    VERIFY_OK(text);
    const Plan& base = test::heronPlan();
    const auto read = readDmis(*text, "x.dmi", base);
    VERIFY_OK(read);
    const Plan& plan = read->plan;
    const auto way = routePlan(plan, obstaclesOf(plan));
    VERIFY_OK(way);
    const auto run = runOnSimulatedMachine(plan, *way, {}, 3);
    VERIFY_OK(run);
    int judged = 0;
    for (const Evaluation& e : judgeAll(plan, measurementsOf(*run))) {
      if (e.requirement.value < base.spec.requirements.next().value) continue;
      const Requirement& r = plan.spec.requirement(e.requirement);
      QVERIFY2(e.verdict == Verdict::Within, (describe(plan.spec, r) + ": " + e.how).c_str());
      if (r.kind == Characteristic::Size) NEAR(e.actual.value_or(0), 32.0, 0.02);
      ++judged;
    }
    QCOMPARE(judged, results);
    // Out, in again, and out of the file: the same.
    QTemporaryDir dir;
    const std::string path = dir.filePath("own.alder").toStdString();
    VERIFY_OK(saveProject({plan, {}, {}}, path));
    const auto opened = openProject(path);
    VERIFY_OK(opened);
    QCOMPARE(opened->plan.spec.features.size(), plan.spec.features.size());
    QVERIFY(opened->plan.spec.requirements.size() == plan.spec.requirements.size());
    for (const FeatureId id : measuringOrder(plan.steps))
      QCOMPARE(opened->plan.feature(id).touches.size(), plan.feature(id).touches.size());
  }
};
ALDER_TEST(ForeignProgramsTest)
#include "foreign_programs_test.moc"
