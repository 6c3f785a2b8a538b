#include "base/assignment.h"
#include "base/random.h"
#include "base/units.h"
#include "exchange/points/points_file.h"
#include "exchange/results/bring_in.h"
#include "exchange/results/project_history.h"
#include "judge/judge.h"
#include "made_results.h"
#include "plan/id_text.h"
#include "support.h"
#include <QTemporaryDir>
#include <numeric>
#include <set>

using namespace alder;
using alder::test::balloon;
using alder::test::heronPlan;
using alder::test::madeResultFile;
using alder::test::MadeResultFile;

namespace {

ResultFile read(const MadeResultFile& made, const std::vector<FileKind>& kinds = {}) {
  auto file = readResultFile(made.bytes, made.name, kinds);
  if (!file) throw std::runtime_error(file.error().message);
  if (file->kind.name.empty()) file->kind.name = "kind of " + made.name;
  return std::move(*file);
}

std::vector<PartMatches> matched(const Plan& plan, const ResultFile& file,
                                 const std::vector<MatchDecision>& decisions = {}) {
  std::vector<PartMatches> all;
  for (const ResultsOfPart& p : file.read.parts)
    all.push_back(matchResults(plan.spec, p, file.kind.name, decisions));
  return all;
}

// Every value laid where it belongs, as a person would in the end.
void decideAll(const Plan& plan, const MadeResultFile& made, const ResultFile& file,
               std::vector<PartMatches>& all) {
  for (std::size_t p = 0; p < all.size(); ++p)
    for (std::size_t i = 0; i < all[p].matches.size(); ++i) {
      const RequirementId truth = made.parts[p].values[i].requirement;
      ResultMatch& m = all[p].matches[i];
      if (m.requirement != truth || (truth.valid() && !m.settled()))
        decide(plan.spec, file.read.parts[p], all[p], i, truth);
      all[p].matches[i].let_stand = !all[p].matches[i].conflicts.empty();
    }
}

StatedResult value(const char* name, double actual) {
  StatedResult v;
  v.name = name, v.actual = actual, v.line = 1, v.last_digit = 1e-3;
  return v;
}
ResultsOfPart part(std::vector<StatedResult> values) {
  ResultsOfPart p;
  p.values = std::move(values);
  return p;
}

Project projectOfHeron() {
  return {heronPlan(), {}, {}};
}

} // namespace

// Values of other machines on requirements: by what, how sure, what speaks against it; brought into
// a routine, judged, undone, kept.
class ResultMatchingTest : public QObject {
  Q_OBJECT

 private slots:
  void madeFiles_data() {
    QTest::addColumn<int>("layout");
    for (int k = 0; k < test::kResultLayouts; ++k)
      QTest::addRow("%s", madeResultFile(k, heronPlan().spec, 1).name.c_str()) << k;
  }
  // What counts without being asked is right; most of it needs no question.
  void madeFiles() {
    QFETCH(int, layout);
    const Plan& plan = heronPlan();
    int wrong = 0, settled = 0, all = 0;
    for (unsigned seed = 1; seed <= 10; ++seed) {
      const MadeResultFile made = madeResultFile(layout, plan.spec, seed);
      const ResultFile file = read(made);
      const auto matches = matched(plan, file);
      for (std::size_t p = 0; p < matches.size(); ++p)
        for (const ResultMatch& m : matches[p].matches) {
          const RequirementId truth = made.parts[p].values[m.value].requirement;
          all += truth.valid();
          settled += m.settled();
          if (m.settled() && m.requirement != truth) {
            ++wrong;
            const auto name = [&](RequirementId id) {
              return id.valid() ? describe(plan.spec, plan.spec.requirement(id)) : "none";
            };
            qWarning("seed %u line %d \"%s %s %s\": %s, not %s (%.2f)", seed,
                     file.read.parts[p].values[m.value].line,
                     file.read.parts[p].values[m.value].feature.c_str(),
                     file.read.parts[p].values[m.value].name.c_str(),
                     file.read.parts[p].values[m.value].axis.c_str(), name(m.requirement).c_str(),
                     name(truth).c_str(), m.sure);
          }
        }
    }
    qInfo("%d of %d settled", settled, all);
    QCOMPARE(wrong, 0);
    QVERIFY2(settled * 10 >= all * 7, qPrintable(QString("%1 of %2").arg(settled).arg(all)));
  }

  // Names, numbers and order of others: figures and what is measured are all there is. What is
  // settled is right; where two requirements would do, it waits.
  void foreignNames_data() { madeFiles_data(); }
  void foreignNames() {
    QFETCH(int, layout);
    const Plan& plan = heronPlan();
    int settled = 0, found = 0, all = 0;
    for (unsigned seed = 1; seed <= 10; ++seed) {
      const MadeResultFile made = madeResultFile(layout, plan.spec, seed, 0, true);
      const ResultFile file = read(made);
      const auto matches = matched(plan, file);
      for (std::size_t p = 0; p < matches.size(); ++p)
        for (const ResultMatch& m : matches[p].matches) {
          const RequirementId truth = made.parts[p].values[m.value].requirement;
          all += truth.valid(), settled += m.settled();
          found += truth.valid() && m.requirement == truth;
          QVERIFY2(!m.settled() || m.requirement == truth,
                   qPrintable(QString("seed %1 line %2")
                                  .arg(seed)
                                  .arg(file.read.parts[p].values[m.value].line)));
        }
    }
    qInfo("%d settled, %d right of %d", settled, found, all);
    QVERIFY(settled * 10 >= all * 3);
    QVERIFY(found * 10 >= all * 8);
  }

  // The second file of a kind, of another part: nothing is asked, all is matched.
  void secondFile_data() { madeFiles_data(); }
  void secondFile() {
    QFETCH(int, layout);
    const Plan& plan = heronPlan();
    Project project = projectOfHeron();
    const MadeResultFile first = madeResultFile(layout, plan.spec, 4);
    const ResultFile file = read(first);
    auto matches = matched(plan, file);
    decideAll(plan, first, file, matches);
    apply(project, bringingIn(project, file, matches));
    // The same characteristics, other figures and another part.
    MadeResultFile second = madeResultFile(layout, plan.spec, 4, 900);
    const ResultFile again = read(second, project.brought.kinds);
    QVERIFY(again.known);
    const auto found = matched(plan, again, project.brought.decisions);
    for (std::size_t p = 0; p < found.size(); ++p)
      for (const ResultMatch& m : found[p].matches) {
        const RequirementId truth = second.parts[p].values[m.value].requirement;
        QVERIFY2(m.requirement == truth,
                 qPrintable(QString("line %1").arg(again.read.parts[p].values[m.value].line)));
        QVERIFY2(!truth.valid() || m.settled(),
                 m.conflicts.empty() ? m.why.c_str() : m.conflicts[0].c_str());
      }
  }

  // A value never counts for a requirement whose nominal differs unless that was told: figures of
  // the file changed by lot.
  void differencesAreTold() {
    const Plan& plan = heronPlan();
    Random random(11);
    int changed = 0;
    for (int layout = 0; layout < test::kResultLayouts; ++layout) {
      const ResultFile file = read(madeResultFile(layout, plan.spec, 6));
      for (int k = 0; k < 8; ++k) {
        ResultsOfPart p = file.read.parts[0];
        for (StatedResult& v : p.values) {
          const double by = random.uniform(-2, 2);
          if (random.bits() % 3 == 0 && v.nominal) *v.nominal += by, ++changed;
          if (random.bits() % 5 == 0 && v.upper) *v.upper *= 1.4, ++changed;
          if (random.bits() % 5 == 0 && v.lower) *v.lower -= 0.3, ++changed;
          if (random.bits() % 7 == 0 && v.nominal) *v.nominal /= 25.4, ++changed;
        }
        const PartMatches m = matchResults(plan.spec, p, "k", {});
        for (const ResultMatch& one : m.matches)
          if (one.settled()) settledAgrees(plan, p.values[one.value], one);
      }
    }
    QVERIFY(changed > 500);
  }
  void settledAgrees(const Plan& plan, const StatedResult& v, const ResultMatch& m) {
    const Requirement& r = plan.spec.requirement(m.requirement);
    const double scale = r.kind == Characteristic::Angle ? degrees(1) : 1;
    const double room = 0.99 * v.last_digit + 1e-6;
    const double nominal = isDimension(r.kind) ? r.nominal * scale : 0;
    if (v.nominal) NEAR(*v.nominal, nominal, room);
    if (v.upper) NEAR(*v.upper, isDimension(r.kind) ? r.upper * scale : r.tolerance, room);
    if (v.lower && isDimension(r.kind)) NEAR(*v.lower, r.lower * scale, room);
  }

  void inchesAreSuspected() {
    const Plan& plan = heronPlan();
    const Requirement& bore = balloon(plan, 2);
    StatedResult v = value("2 Bore ø32 diameter", 1.2603);
    v.nominal = 32 / 25.4, v.last_digit = 1e-4;
    const auto conflicts = conflictsOf(plan.spec, v, bore);
    QVERIFY(!conflicts.empty());
    QVERIFY2(conflicts[0].find("25.4") != std::string::npos, conflicts[0].c_str());
    v.nominal.reset();
    QVERIFY(conflictsOf(plan.spec, v, bore)[0].find("25.4") != std::string::npos);
  }
  void verdictOfTheFileIsCompared() {
    const Plan& plan = heronPlan();
    StatedResult v = value("Bore", 32.012);
    v.nominal = 32, v.status = "NOK";
    QVERIFY(!conflictsOf(plan.spec, v, balloon(plan, 2)).empty());
    v.status = "OK";
    QVERIFY(conflictsOf(plan.spec, v, balloon(plan, 2)).empty());
  }

  // X, Y, size and position of one indicator are told apart.
  void linesOfOneIndicator() {
    const Plan& plan = heronPlan();
    const MadeResultFile made = madeResultFile(6, plan.spec, 5);
    const ResultFile file = read(made);
    const auto all = matched(plan, file);
    int coordinates = 0;
    for (const ResultMatch& m : all[0].matches) {
      const std::string& axis = made.parts[0].values[m.value].axis;
      if (axis != "X" && axis != "Y") continue;
      QVERIFY(!m.requirement.valid());
      coordinates += m.coordinate_of.valid();
    }
    QVERIFY2(coordinates > 10, qPrintable(QString::number(coordinates)));
  }

  // A letter of a datum behind the word is no abbreviation of an angle.
  void lettersBehindWords() {
    const Plan& plan = heronPlan();
    StatedResult v = value("Ebenheit A", 0.0113);
    v.upper = 0.02;
    const PartMatches m = matchResults(plan.spec, part({v}), "k", {});
    QVERIFY(m.matches[0].requirement == balloon(plan, 1).id ||
            plan.spec.requirement(m.matches[0].requirement).kind == Characteristic::Flatness);
  }
  void decidedByAPerson() {
    const Plan& plan = heronPlan();
    const ResultsOfPart p = part({value("gauge 17", 0.011), value("other", 5)});
    PartMatches m = matchResults(plan.spec, p, "k", {});
    QVERIFY(!m.matches[0].settled());
    decide(plan.spec, p, m, 0, balloon(plan, 1).id);
    QVERIFY(m.matches[0].settled());
    QVERIFY(std::find(m.missing.begin(), m.missing.end(), balloon(plan, 1).id) == m.missing.end());
    // A second one on the same requirement is told.
    decide(plan.spec, p, m, 1, balloon(plan, 1).id);
    QVERIFY(!m.matches[0].settled());
    QVERIFY(!m.matches[0].conflicts.empty());
    decide(plan.spec, p, m, 1, {});
    QVERIFY(m.matches[0].settled());
    const auto kept = decisionsOf(p, m, "k");
    const PartMatches again = matchResults(plan.spec, p, "k", kept);
    QVERIFY(again.matches[0].settled());
    QVERIFY(again.matches[1].decided && !again.matches[1].requirement.valid());
    // Another kind of file is another matter.
    QVERIFY(!matchResults(plan.spec, p, "other", kept).matches[0].decided);
  }
  void conflictsLetStandAreNotAskedAgain() {
    const Plan& plan = heronPlan();
    StatedResult v = value("2 Bore", 32.012);
    v.nominal = 32, v.upper = 32.02, v.lower = 32.0;
    const ResultsOfPart p = part({v});
    PartMatches m = matchResults(plan.spec, p, "k", {});
    decide(plan.spec, p, m, 0, balloon(plan, 2).id);
    QVERIFY(!m.matches[0].settled());
    m.matches[0].let_stand = true;
    const auto kept = decisionsOf(p, m, "k");
    QVERIFY(matchResults(plan.spec, p, "k", kept).matches[0].settled());
    // Other limits than those that were seen are told again.
    ResultsOfPart other = p;
    other.values[0].upper = 32.05;
    QVERIFY(!matchResults(plan.spec, other, "k", kept).matches[0].settled());
  }

  // Brought in, judged, undone, done again; saved and opened.
  void broughtIn() {
    const Plan& plan = heronPlan();
    Project project = projectOfHeron();
    const MadeResultFile made = madeResultFile(0, plan.spec, 9);
    const ResultFile file = read(made);
    auto matches = matched(plan, file);
    decideAll(plan, made, file, matches);
    ProjectHistory history;
    history.apply(project, bringingIn(project, file, matches));
    QCOMPARE(project.runs.size(), std::size_t(1));
    QCOMPARE(project.runs[0].name, made.parts[0].serial);
    QCOMPARE(project.runs[0].operated_by, made.parts[0].operated_by);
    QCOMPARE(project.brought.files.size(), std::size_t(1));
    const auto measured = measurementsIn(project.runs[0].csv, "run", plan);
    VERIFY_OK(measured);
    const auto evaluations = judgeAll(plan, *measured);
    int judged = 0;
    for (const Evaluation& e : evaluations) {
      const Requirement& r = plan.spec.requirement(e.requirement);
      std::optional<double> worst, share;
      for (const auto& v : made.parts[0].values) {
        if (v.requirement != r.id) continue;
        const double width = v.geometric ? v.above : (v.above - v.below) / 2;
        const double used = v.geometric
                                ? v.actual / v.above
                                : std::abs(v.actual - v.nominal - (v.above + v.below) / 2) / width;
        if (!share || used > *share) share = used, worst = v.actual;
      }
      QCOMPARE(e.actual.has_value(), worst.has_value());
      if (!worst) continue;
      ++judged;
      NEAR(*e.actual * (r.kind == Characteristic::Angle ? degrees(1) : 1), *worst, 1e-6);
      QVERIFY2(e.how.find(file.name) != std::string::npos, e.how.c_str());
      if (r.material == MaterialModifier::None && std::abs(*share - 1) > 0.02)
        QCOMPARE(e.verdict == Verdict::Outside, *share > 1);
    }
    QVERIFY(judged >= 30);

    QTemporaryDir dir;
    const std::string path = dir.filePath("r.alder").toStdString();
    VERIFY_OK(saveProject(project, path));
    const auto back = openProject(path);
    VERIFY_OK(back);
    QVERIFY(back->brought == project.brought);
    QCOMPARE(*back->brought.files[0].bytes, made.bytes);
    QCOMPARE(back->runs[0].csv, project.runs[0].csv);

    const Project with = project;
    QVERIFY(history.undo(project) == ProjectHistory::Step::Results);
    QVERIFY(project.runs.empty());
    QVERIFY(project.brought.empty());
    QVERIFY(history.redo(project) == ProjectHistory::Step::Results);
    QCOMPARE(project.runs.size(), std::size_t(1));
    QCOMPARE(project.runs[0].csv, with.runs[0].csv);
    QVERIFY(project.brought == with.brought);
  }
  // Points and values in one part: what was touched is judged, what is stated is stated, and values
  // of a second file join those of the first.
  void mixedWithPoints() {
    const Plan& plan = heronPlan();
    Project project = projectOfHeron();
    std::string csv = "# run: 1\nfeature,touch,x,y,z\n";
    for (const auto& [id, m] : test::exactly(plan))
      for (std::size_t k = 0; k < m.points.size(); ++k)
        csv += fmt::format("{},{},{:.6f},{:.6f},{:.6f}\n", idText(id), k + 1, m.points[k].x(),
                           m.points[k].y(), m.points[k].z());
    project.runs.push_back({"TW-7", csv});
    const auto before = measurementsIn(csv, "run", plan);
    VERIFY_OK(before);
    const BriefVerdicts known = brief(judgeAll(plan, *before));
    ResultFile file;
    file.name = "gauge.csv", file.bytes = "x", file.kind.name = "gauge";
    ResultsOfPart p = part({value("flatness", 0.013)});
    p.serial = "TW-7";
    file.read.parts.push_back(p);
    std::vector<PartMatches> matches{
        matchResults(plan.spec, p, "gauge", {}, knownFigures(plan.spec, known))};
    decide(plan.spec, p, matches[0], 0, balloon(plan, 1).id);
    QVERIFY(!matches[0].matches[0].settled()); // it has a figure already
    matches[0].matches[0].let_stand = true;
    ProjectHistory history;
    history.apply(project, bringingIn(project, file, matches));
    QCOMPARE(project.runs.size(), std::size_t(1));
    const auto after = measurementsIn(project.runs[0].csv, "run", plan);
    VERIFY_OK(after);
    for (const Requirement& r : plan.spec.requirements) {
      const Evaluation e = judge(plan, r, *after);
      if (r.balloon == 1) {
        NEAR(*e.actual, 0.013, 1e-12);
        QVERIFY(e.how.find("gauge.csv") != std::string::npos);
      } else {
        QVERIFY(brief(e) == known.at(r.id));
      }
    }
    // The run was touched: taking the values back leaves its points.
    history.undo(project);
    QCOMPARE(project.runs.size(), std::size_t(1));
    QCOMPARE(project.runs[0].csv, csv);
  }
  // Serial numbers that make the same name are two parts all the same.
  void partsOfLikeNames() {
    const Plan& plan = heronPlan();
    Project project = projectOfHeron();
    ResultFile file;
    file.name = "two.csv", file.bytes = "x", file.kind.name = "two";
    for (const char* serial : {"A/1", "A.1"}) {
      file.read.parts.push_back(part({value("1 flatness", 0.01)}));
      file.read.parts.back().serial = serial;
    }
    auto matches = matched(plan, file);
    for (std::size_t p = 0; p < 2; ++p)
      decide(plan.spec, file.read.parts[p], matches[p], 0, balloon(plan, 1).id);
    apply(project, bringingIn(project, file, matches));
    QCOMPARE(project.runs.size(), std::size_t(2));
    QCOMPARE(statedIn(project.runs[0].csv).size(), std::size_t(1));
    QCOMPARE(statedIn(project.runs[1].csv).size(), std::size_t(1));
  }
  // Edits of the plan and results brought in are undone in the order in which they were done.
  void historyOfBoth() {
    Project project = projectOfHeron();
    ProjectHistory history;
    VERIFY_OK(history.apply(project, EditGroup{"Name", {SetName{"one"}}}));
    ResultsEdit edit{"Bring in a", {}, {}};
    edit.brought.kinds.push_back({});
    history.apply(project, edit);
    VERIFY_OK(history.apply(project, EditGroup{"Name", {SetName{"two"}}}));
    history.markSaved();
    QVERIFY(history.undo(project) == ProjectHistory::Step::Plan);
    QCOMPARE(project.plan.name, std::string("one"));
    QCOMPARE(history.undoText(), std::string("Bring in a"));
    QVERIFY(history.unsaved());
    QVERIFY(history.undo(project) == ProjectHistory::Step::Results);
    QVERIFY(project.brought.empty());
    QVERIFY(history.redo(project) == ProjectHistory::Step::Results);
    QVERIFY(history.redo(project) == ProjectHistory::Step::Plan);
    QVERIFY(!history.unsaved());
    QVERIFY(history.redo(project) == ProjectHistory::Step::None);
  }

  void patternsNeedAllOrOne() {
    const Plan& plan = heronPlan();
    const auto holes = std::find_if(
        plan.spec.requirements.begin(), plan.spec.requirements.end(), [](const Requirement& r) {
          return r.kind == Characteristic::Size && r.features.size() == 6;
        });
    QVERIFY(holes != plan.spec.requirements.end());
    Measurements m;
    const double middle = (holes->upper + holes->lower) / 2, width = holes->upper - holes->lower;
    m.stated[holes->id] = {{middle, "a"}};
    QCOMPARE(judge(plan, *holes, m).verdict, Verdict::Within);
    m.stated[holes->id] = {{middle, "a"}, {middle, "b"}, {middle, "c"}};
    QCOMPARE(judge(plan, *holes, m).verdict, Verdict::Unmeasured);
    m.stated[holes->id].push_back({middle + width, "d"});
    const Evaluation outside = judge(plan, *holes, m);
    QCOMPARE(outside.verdict, Verdict::Outside); // however many are missing
    QVERIFY(outside.how.find("d;") != std::string::npos);
    m.stated[holes->id] = std::vector<StatedFigure>(6, {middle, "a"});
    QCOMPARE(judge(plan, *holes, m).verdict, Verdict::Within);
  }
  // A modifier widens the tolerance by what the size leaves.
  void bonusByTheSize() {
    Plan plan = heronPlan();
    const auto found = std::find_if(
        plan.spec.requirements.begin(), plan.spec.requirements.end(), [&](const Requirement& r) {
          return r.kind == Characteristic::Position && r.features.size() == 1 &&
                 plan.spec.sizeOf(r.features[0]);
        });
    QVERIFY(found != plan.spec.requirements.end());
    Requirement r = *found;
    r.material = MaterialModifier::Maximum;
    plan.spec.requirements.at(r.id) = r;
    const Requirement& size = *plan.spec.sizeOf(r.features[0]);
    const bool hole = plan.nominal(r.features[0]).ideal.hole;
    const double room = (size.upper - size.lower) / 2;
    Measurements m;
    m.stated[r.id] = {{r.tolerance + room / 2, "a"}};
    QCOMPARE(judge(plan, r, m).verdict, Verdict::Outside); // nothing is known of the size
    m.stated[size.id] = {{hole ? size.lower + room : size.upper - room, "a"}};
    const Evaluation e = judge(plan, r, m);
    NEAR(e.upper, r.tolerance + room, 1e-12);
    QVERIFY(e.verdict != Verdict::Outside);
  }

  // The best of all assignments, tried one by one.
  void assignmentIsBest() {
    Random random(3);
    for (int k = 0; k < 300; ++k) {
      const std::size_t rows = 1 + random.bits() % 5, columns = rows + random.bits() % 3;
      std::vector<std::vector<double>> gain(rows, std::vector<double>(columns));
      for (auto& row : gain)
        for (double& g : row)
          g = std::round(random.uniform(-5, 5));
      std::vector<std::size_t> order(columns);
      std::iota(order.begin(), order.end(), std::size_t(0));
      double best = -1e9;
      do {
        double sum = 0;
        for (std::size_t r = 0; r < rows; ++r)
          sum += gain[r][order[r]];
        best = std::max(best, sum);
      } while (std::next_permutation(order.begin(), order.end()));
      const auto found = bestAssignment(gain);
      QCOMPARE(std::set<std::size_t>(found.begin(), found.end()).size(), rows);
      double sum = 0;
      for (std::size_t r = 0; r < rows; ++r)
        sum += gain[r][found[r]];
      NEAR(sum, best, 1e-9);
    }
  }
};

ALDER_TEST(ResultMatchingTest)
#include "result_matching_test.moc"
