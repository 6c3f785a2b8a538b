#include "document/document.h"
#include "judge/judge.h"
#include "route/order.h"

#include "base/files.h"
#include "base/random.h"
#include "base/units.h"
#include "plan/steps/step_edit.h"
#include "support.h"
#include <QFile>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTimer>

using namespace alder;
using namespace alder::app;

// The document without a window: what follows from what, and what is said.
class DocumentTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;

  static QString data(const char* name) { return QString::fromStdString(test::dataPath(name)); }
  static bool idle(Document& d) {
    return QTest::qWaitFor([&] { return !d.jobs().busy() && !d.judging() && d.routed(); }, 600000);
  }
  static bool open(Document& d, const char* name = "heron.alder") {
    d.open(data(name));
    return idle(d);
  }

 private slots:
  void openingAnnouncesEverything() {
    Document d;
    QSignalSpy opened(&d, &Document::opened), plan(&d, &Document::planChanged),
        routed(&d, &Document::routedChanged);
    QVERIFY(open(d));
    QCOMPARE(opened.count(), 1);
    QVERIFY(plan.count() >= 1 && routed.count() >= 2); // emptied, then there
    QVERIFY(!d.unsaved());
    QCOMPARE(d.path(), data("heron.alder"));
    QVERIFY(d.routed()->rehearsal.clear());
    QCOMPARE(d.playhead(), 0.0);
  }
  // A part is seen before it is drafted; a draft that was cancelled can be asked for again.
  void partsAreSeenFirst() {
    Document d;
    std::optional<std::array<bool, 5>> at_first;
    connect(&d, &Document::opened, this, [&] {
      at_first = d.progressOf(d.plan().spec.requirements[0]);
      QTimer::singleShot(0, &d, [&] { d.jobs().cancel(); }); // the draft has begun by then
    });
    d.open(data("heron.step"), data("bench.json"));
    QVERIFY(QTest::qWaitFor([&] { return at_first.has_value(); }, 20000));
    QVERIFY(*at_first == (std::array<bool, 5>{true, false, false, false, false}));
    QCOMPARE(d.plan().spec.requirements.size(), std::size_t(35));
    QTest::qWait(1500);
    QVERIFY(d.isOpen() && !d.routed());
    d.draftAgain();
    QVERIFY(idle(d));
    for (const Requirement& r : d.plan().spec.requirements)
      QVERIFY(isCovered(d.plan(), r));
  }
  void progressCellsTellTheTruth() {
    Document d;
    QVERIFY(open(d));
    const Requirement& r = d.plan().spec.requirements[8];
    QCOMPARE(d.progressOf(r), (std::array<bool, 5>{true, true, true, true, false}));
    d.run({}, 1);
    QVERIFY(idle(d));
    QVERIFY(d.progressOf(r)[4]);
    // a feature whose touches nothing reaches
    Recipe few = d.plan().feature(r.features[0]).recipe;
    QVERIFY(d.edit(
        "drop", {SetRecipe{r.features[0], few, std::vector<Touch>{}, std::string("taken out")}}));
    QVERIFY(idle(d));
    QCOMPARE(d.progressOf(r)[1], false);
    d.undo();
    QVERIFY(idle(d));
    QVERIFY(d.progressOf(r)[1]);
  }
  void selectionsGoTogether() {
    Document d;
    QVERIFY(open(d));
    QSignalSpy changed(&d, &Document::selectionChanged);
    d.selectRequirement(RequirementId{8});
    QCOMPARE(d.selection().features.size(), std::size_t(6));
    d.selectRequirement(RequirementId{8}); // the same again is no change
    QCOMPARE(changed.count(), 1);
    // a feature keeps the requirement that is about it
    d.selectFeatures({d.plan().spec.requirements[8].features[2]});
    QCOMPARE(d.selection().requirement->value, 8);
    // another feature brings its own
    d.selectFeatures({d.plan().spec.requirements[0].features[0]});
    QCOMPARE(d.selection().requirement->value, 0);
    // a step brings its feature
    for (std::size_t i = 0; i < d.routed()->way.steps.size(); ++i)
      if (d.routed()->way.steps[i].kind == StepKind::Measure) {
        d.selectStep(static_cast<int>(i));
        QCOMPARE(d.selection().features.front(), d.routed()->way.steps[i].feature);
        QCOMPARE(d.selection().step, static_cast<int>(i));
        break;
      }
    d.selectStep(100000); // not there: nothing happens
    d.clearSelection();
    QVERIFY(!d.selection().requirement && d.selection().features.empty() &&
            d.selection().step == -1);
  }
  void editsRejudgeOldRuns() {
    Document d;
    QVERIFY(open(d));
    d.run(data("heron-defects.json"), 2);
    QVERIFY(idle(d));
    const RequirementId position{8};
    QVERIFY(d.evaluation(position)->verdict == Verdict::Outside);
    Requirement wider = d.plan().spec.requirement(position);
    wider.tolerance = 0.8;
    QVERIFY(d.edit("wider", {SetRequirement{wider}}));
    QVERIFY(!d.evaluation(position)); // what no longer stands is not shown
    QVERIFY(idle(d));
    QVERIFY(d.evaluation(position)->verdict == Verdict::Within);
    d.undo();
    QVERIFY(idle(d));
    QVERIFY(d.evaluation(position)->verdict == Verdict::Outside);
  }
  void refusedEditsSaySo() {
    Document d;
    QVERIFY(open(d));
    QSignalSpy messages(&d, &Document::message);
    Requirement negative = d.plan().spec.requirements[0];
    negative.tolerance = -1;
    QVERIFY(!d.edit("negative", {SetRequirement{negative}}));
    QCOMPARE(messages.count(), 1);
    QVERIFY(messages[0][1].toBool());                   // bad news
    QVERIFY(!d.edit("same", {SetName{d.plan().name}})); // no change is no news
    QCOMPARE(messages.count(), 1);
    QVERIFY(!d.unsaved());
    QVERIFY(d.undoText().isEmpty());
  }
  void draftingIsOneStepBack() {
    Document d;
    QVERIFY(open(d));
    const auto before = toJson(d.plan()).dump();
    Recipe recipe = d.plan().features[1].recipe;
    recipe.per_row = 5;
    QVERIFY(d.edit("fewer", {SetRecipe{FeatureId{1}, recipe, {}, {}},
                             SetHop{FeatureId{4}, HopMode::Close, {}}}));
    QVERIFY(idle(d));
    const auto edited = toJson(d.plan()).dump();
    QVERIFY(before != edited);
    d.draftAgain();
    QVERIFY(idle(d));
    QCOMPARE(toJson(d.plan()).dump(), before); // the draft is what it was at first
    d.undo();
    QVERIFY(idle(d));
    QCOMPARE(toJson(d.plan()).dump(), edited);
    d.redo();
    QVERIFY(idle(d));
    QCOMPARE(toJson(d.plan()).dump(), before);
  }
  void orderForTimeFindsTheShortOrderAgain() {
    Document d;
    QVERIFY(open(d));
    const double best = d.routed()->rehearsal.seconds;
    auto order = measuringOrder(d.plan().steps);
    std::reverse(order.begin() + 3, order.end());
    std::swap(order[5], order[15]);
    QVERIFY(d.edit("shuffle", {*orderFeatures(d.plan(), order)}));
    QVERIFY(idle(d));
    QVERIFY(d.routed()->rehearsal.seconds > best);
    d.orderForTime();
    QVERIFY(idle(d));
    NEAR(d.routed()->rehearsal.seconds, best, 1e-6);
  }
  void movingThePartRoutesAnew() {
    Document d;
    QVERIFY(open(d));
    Frame f = d.plan().placement;
    f.translation().z() += 40; // off its rests
    QVERIFY(d.edit("up", {SetPlacement{f}}));
    QVERIFY(idle(d));
    for (const Position& p : d.routed()->way.positions)
      if (p.contact) {
        const Touch& t = d.plan().feature(p.feature).touches[static_cast<std::size_t>(p.touch)];
        NEAR((p.ball - d.plan().placement * t.point).norm(),
             d.plan().tip(p.access).ball_diameter / 2, 1e-9);
      }
    // into the plate: rehearsal says so
    f.translation().z() = 15;
    QVERIFY(d.edit("down", {SetPlacement{f}}));
    QVERIFY(idle(d));
    QVERIFY(!d.routed()->rehearsal.clear() || !d.routed()->way.notes.empty());
  }
  void exportsByEnding() {
    Document d;
    QVERIFY(open(d));
    d.run({}, 1);
    QVERIFY(idle(d));
    for (const char* name : {"r.pdf", "r.csv", "m-path.csv"}) {
      const QString path = dir_.filePath(name);
      QVERIFY(d.exportTo(path));
      QFile f(path);
      QVERIFY(f.open(QIODevice::ReadOnly));
      const QByteArray start = f.readLine();
      if (path.endsWith("path.csv"))
        QVERIFY(start.startsWith("seq,seconds,step,kind"));
      else if (path.endsWith(".csv"))
        QVERIFY(start.startsWith("balloon,requirement"));
      else
        QVERIFY(start.startsWith("%PDF"));
    }
    QSignalSpy messages(&d, &Document::message);
    QVERIFY(!d.exportTo(dir_.filePath("no/such/r.pdf")));
    QVERIFY(messages.last()[1].toBool());
  }
  // Run in the moment after an edit: the old way may not be run with the new touches.
  void noRunOnAnOutdatedWay() {
    Document d;
    QVERIFY(open(d));
    QSignalSpy messages(&d, &Document::message);
    Recipe few = d.plan().features[1].recipe;
    few.per_row = 5, few.rows = 2;
    QVERIFY(d.edit("fewer", {SetRecipe{FeatureId{1}, few, {}, {}}}));
    d.run({}, 1);
    QVERIFY(messages.last()[1].toBool());
    QVERIFY(!d.exportTo(dir_.filePath("x-path.csv")));
    QVERIFY(!QFile::exists(dir_.filePath("x-path.csv")));
    QVERIFY(idle(d));
    d.run({}, 1);
    QVERIFY(idle(d));
    QCOMPARE(d.runs().size(), std::size_t(1));
  }
  void runsFromElsewhere() {
    Document d;
    QVERIFY(open(d));
    QSignalSpy messages(&d, &Document::message);
    QFile bad(dir_.filePath("bad.csv"));
    QVERIFY(bad.open(QIODevice::WriteOnly));
    bad.write("feature,x,y,z\nF1,1,2,three\n");
    bad.close();
    d.judgeFile(bad.fileName());
    QVERIFY(messages.last()[0].toString().contains("line 2"));
    QVERIFY(d.runs().empty());
    QFile good(dir_.filePath("good.csv"));
    QVERIFY(good.open(QIODevice::WriteOnly));
    good.write("feature,x,y,z\n");
    for (const Touch& t : d.plan().features[0].touches)
      good.write(QString("F1,%1,%2,%3\n")
                     .arg(t.point.x(), 0, 'f', 6)
                     .arg(t.point.y(), 0, 'f', 6)
                     .arg(t.point.z() + 0.002, 0, 'f', 6)
                     .toUtf8());
    good.close();
    d.judgeFile(good.fileName());
    QCOMPARE(d.runs().size(), std::size_t(1));
    QVERIFY(idle(d));
    const Evaluation* flatness = d.evaluation(RequirementId{0});
    QVERIFY(flatness && flatness->actual);
    NEAR(*flatness->actual, 0.0, 1e-5);
    QVERIFY(d.evaluation(RequirementId{1})->verdict == Verdict::Unmeasured);
    QVERIFY(d.unsaved());
  }
  // However edits and judging meet, in the end each verdict is that of the routine as it is.
  void editsWhileJudging() {
    Document d;
    QVERIFY(open(d));
    for (std::uint64_t seed = 1; seed <= 3; ++seed) {
      d.run(seed == 2 ? data("heron-defects.json") : QString(), seed);
      QVERIFY(idle(d));
    }
    Random random(7);
    const auto any = [&](std::size_t count) {
      return std::min(count - 1,
                      static_cast<std::size_t>(random.uniform() * static_cast<double>(count)));
    };
    int made = 0;
    for (int k = 0; k < 26; ++k) {
      const auto& all = d.plan().spec.requirements;
      Requirement r = all[any(all.size())];
      switch (any(8)) {
      case 0:
        d.undo();
        break;
      case 1:
        d.redo();
        break;
      case 2: {
        const FeatureId id = d.plan().features[any(d.plan().features.size())].id;
        Recipe recipe = d.plan().feature(id).recipe;
        recipe.per_row += 1;
        made += d.edit("Touches", {SetRecipe{id, recipe, {}, {}}});
        break;
      }
      case 3: {
        Specification spec = d.plan().spec;
        spec.near_share = spec.near_share > 0.7 ? 0.6 : 0.9;
        made += d.edit("Near", {SetSpecification{spec}});
        break;
      }
      case 4:
        d.setCurrentRun(static_cast<int>(any(3)));
        break;
      default:
        r.upper += 0.003;
        if (!isDimension(r.kind)) r.tolerance = r.upper;
        made += d.edit("Limit", {SetRequirement{r}});
        d.selectRequirement(r.id);
      }
      QTest::qWait(static_cast<int>(any(60)));
    }
    QVERIFY2(made > 12, qPrintable(QString::number(made)));
    QVERIFY(idle(d));
    QCOMPARE(d.runs().size(), std::size_t(3));
    for (const JudgedRun& run : d.runs()) {
      const auto points = measurementsIn(*run.csv, run.name, d.plan());
      VERIFY_OK(points);
      const auto anew = brief(judgeAll(d.plan(), *points));
      for (const auto& [id, verdict] : anew)
        QVERIFY2(run.verdicts.at(id) == verdict,
                 describe(d.plan().spec, d.plan().spec.requirement(id)).c_str());
      QCOMPARE(run.verdicts.size(), anew.size());
      for (const auto& [id, e] : run.details)
        QVERIFY(brief(e) == anew.at(id));
    }
    QCOMPARE(d.currentRun()->details.size(), d.plan().spec.requirements.size());
  }
  // Points of a feature by a name that it no longer has cannot be read; with the name they can
  // again.
  void renamedAway() {
    Document d;
    QVERIFY(open(d));
    const std::string name = d.plan().spec.features[0].name;
    QFile file(dir_.filePath("named.csv"));
    QVERIFY(file.open(QIODevice::WriteOnly));
    file.write("feature,x,y,z\n");
    for (const Touch& t : d.plan().features[0].touches)
      file.write(QString("%1,%2,%3,%4\n")
                     .arg(QString::fromStdString(name))
                     .arg(t.point.x(), 0, 'f', 6)
                     .arg(t.point.y(), 0, 'f', 6)
                     .arg(t.point.z(), 0, 'f', 6)
                     .toUtf8());
    file.close();
    d.judgeFile(file.fileName());
    QVERIFY(idle(d));
    const RequirementId flatness = d.plan().spec.requirements[0].id;
    QVERIFY(d.verdict(flatness)->actual);
    Specification spec = d.plan().spec;
    spec.features[0].name = "another";
    QSignalSpy messages(&d, &Document::message);
    QVERIFY(d.edit("Rename", {SetSpecification{spec}}));
    QVERIFY(idle(d));
    QVERIFY(!d.runs()[0].unreadable.empty());
    for (const Requirement& r : d.plan().spec.requirements)
      QVERIFY(d.verdict(r.id)->verdict == Verdict::Unmeasured);
    QVERIFY(std::any_of(messages.begin(), messages.end(), [](const QList<QVariant>& m) {
      return m[0].toString().contains("stays in the file");
    }));
    d.undo();
    QVERIFY(idle(d));
    QVERIFY(d.runs()[0].unreadable.empty() && d.verdict(flatness)->actual);
    QCOMPARE(d.runs()[0].verdicts.size(), d.plan().spec.requirements.size());
    QCOMPARE(d.runs()[0].details.size(), d.plan().spec.requirements.size());
  }
  void theWrongFileChangesNothing() {
    Document d;
    QVERIFY(open(d));
    const auto before = toJson(d.plan()).dump();
    QSignalSpy messages(&d, &Document::message);
    for (const QString& path :
         {dir_.filePath("none.step"), dir_.filePath("none.alder"), data("bench.json")}) {
      d.open(path);
      QVERIFY(QTest::qWaitFor([&] { return !d.jobs().busy(); }, 20000));
      QVERIFY(messages.last()[1].toBool());
      QCOMPARE(toJson(d.plan()).dump(), before);
    }
    d.changeBench(data("heron.step"));
    QVERIFY(QTest::qWaitFor([&] { return !d.jobs().busy(); }, 20000));
    QCOMPARE(toJson(d.plan()).dump(), before);
    d.run(data("bench.json"),
          1); // no defects file: its features are missing, so nothing is wrong with the part
    QVERIFY(QTest::qWaitFor([&] { return !d.jobs().busy(); }, 20000));
  }
  void playheadStaysInTheRoutine() {
    Document d;
    QVERIFY(open(d));
    d.setPlayhead(-5);
    QCOMPARE(d.playhead(), 0.0);
    d.setPlayhead(1e9);
    QCOMPARE(d.playhead(), d.routed()->rehearsal.seconds);
  }
};
ALDER_TEST(DocumentTest)
#include "document_test.moc"
