#include "base/random.h"
#include "support.h"
#include "window_driver.h"

#include "made_parts.h"
#include "run/journal.h"
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <QSignalSpy>

using namespace alder;
using namespace alder::app;

// What a person meets on a bad day: damaged files, runs that cannot be read, parts without
// tolerances, work that a crash left behind.
class UnluckyWindowTest : public WindowDriver {
  Q_OBJECT

  QString written(const QString& name, const std::string& bytes) {
    const QString path = dir_.filePath(name);
    (void)writeFile(path.toStdString(), bytes);
    return path;
  }

 private slots:
  void init() {
    makeWindow();
    document().open(data("heron.alder"));
    QVERIFY(idle());
  }
  void cleanup() { window_.reset(); }

  // Unsaved work stays as it is, whatever file is opened instead and does not open.
  void damagedFilesLeaveTheWorkAlone() {
    const std::string good = *readFile(data("heron.step").toStdString());
    document().edit("Rename", {SetName{"mine"}});
    QVERIFY(idle());
    Random random(3);
    int refused = 0;
    for (int k = 0; k < 50; ++k) {
      std::string bytes = good;
      for (int i = 0; i < 40; ++i)
        bytes[static_cast<std::size_t>(random.uniform() * static_cast<double>(bytes.size()))] =
            static_cast<char>(32 + random.uniform() * 95);
      QSignalSpy failed(&document(), &Document::openFailed), opened(&document(), &Document::opened);
      document().open(written("damaged.step", bytes));
      QVERIFY(QTest::qWaitFor([&] { return failed.count() + opened.count() > 0; }, 60000));
      if (failed.count() > 0) {
        ++refused;
        QVERIFY(told().contains("damaged.step") && !told().contains('\n'));
        QCOMPARE(document().plan().name, std::string("mine"));
        QVERIFY(document().unsaved() && document().undoText() == "Rename");
        continue;
      }
      document().jobs().cancel(); // little enough was damaged
      document().open(data("heron.alder"));
      QVERIFY(idle());
      document().edit("Rename", {SetName{"mine"}});
    }
    QVERIFY2(refused > 5, qPrintable(QString::number(refused)));
  }
  // A run that cannot be read is told, shown with the reason, and saved again as it was.
  void unreadableRunsAreKept() {
    auto project = openProject(data("heron.alder").toStdString());
    VERIFY_OK(project);
    project->runs.push_back({"part-0007", "this,is,no,run\n1,2,3,4\n"});
    const QString path = dir_.filePath("odd.alder");
    VERIFY_OK(saveProject(*project, path.toStdString()));
    document().open(path);
    QVERIFY(QTest::qWaitFor([&] { return document().path() == path; }, 60000));
    QVERIFY(idle());
    QTRY_VERIFY(told().contains("part-0007") && told().contains("stays in the file"));
    QCOMPARE(document().runs().size(), std::size_t(1));
    QVERIFY(!document().runs()[0].unreadable.empty());
    QVERIFY(document().verdict(balloon(1))->verdict == Verdict::Unmeasured);
    document().edit("Rename", {SetName{"with a run"}});
    QVERIFY(idle());
    QVERIFY(document().save(path));
    const auto again = openProject(path.toStdString());
    VERIFY_OK(again);
    QCOMPARE(again->runs.size(), std::size_t(1));
    QCOMPARE(again->runs[0].csv, project->runs[0].csv);
  }
  // The wish to go on with a run ends with an opening that fails; another routine that is opened
  // later stays at its desk.
  void aFailedOpeningIsForgotten() {
    const auto key = routineKey(document().plan());
    const QString folder = qEnvironmentVariable("ALDERPOINT_RUNS");
    QDir().mkpath(folder);
    const QString base = folder + "/0123456789abcdef";
    const auto journal =
        JournalFile::create((base + ".journal").toStdString(),
                            {"Lost", "0123456789abcdef", RunKind::Automatic, 1000, {}});
    VERIFY_OK(journal);
    QSignalSpy failed(&document(), &Document::openFailed);
    press("goOnWithRun"); // its routine is gone
    QTRY_COMPARE_WITH_TIMEOUT(failed.count(), 1, 60000);
    document().open(data("heron-clamp.alder"));
    QVERIFY(QTest::qWaitFor([&] { return document().path() == data("heron-clamp.alder"); }, 60000));
    QVERIFY(idle());
    QTest::qWait(200);
    QVERIFY(!window_->operatorView().isVisible());
    QFile::remove(base + ".journal");
    QVERIFY(!key.empty());
  }
  // A part without tolerances: each empty region says what fills it, and does it by one click.
  void aPartWithoutTolerances() {
    document().open(plainStep());
    QVERIFY(QTest::qWaitFor(
        [&] {
          return document().isOpen() && document().plan().name != "" &&
                 document().plan().spec.requirements.empty() && !document().jobs().busy();
        },
        60000));
    window_->setDesk(Desk::Part);
    auto* first = field<QPushButton>("empty_addFirst");
    QVERIFY(first && first->isVisible());
    auto* empty = window_->findChild<QWidget*>("sheetEmpty");
    QVERIFY(empty->isVisible());
    // One click picks a face, and the card offers the likeliest first.
    QTest::mouseClick(field<QPushButton>("empty_pickLargest"), Qt::LeftButton);
    auto* flat = field<QPushButton>("add_flatness");
    QVERIFY(flat);
    QTest::mouseClick(flat, Qt::LeftButton);
    QVERIFY(
        QTest::qWaitFor([&] { return document().plan().spec.requirements.size() == 1; }, 60000));
    QVERIFY(document().plan().spec.requirements[0].kind == Characteristic::Flatness);
    QVERIFY(idle());
    QVERIFY(!empty->isVisible());
    undoAll();
    QVERIFY(document().plan().spec.requirements.empty());
    // And all at once.
    press("addFirst");
    QVERIFY(
        QTest::qWaitFor([&] { return document().plan().spec.requirements.size() == 3; }, 60000));
    QVERIFY(idle());
    for (const Requirement& r : document().plan().spec.requirements)
      QVERIFY2(document().whyNotCovered(r).empty(), document().whyNotCovered(r).c_str());
  }
  // Routing that breaks off is told where the way would be, with what to do; other work that does
  // leaves the way alone.
  void workThatBreaksOff() {
    document().open(data("heron.alder"));
    QVERIFY(
        QTest::qWaitFor([&] { return document().isOpen() && !document().jobs().busy(); }, 60000));
    QVERIFY(idle());
    window_->setDesk(Desk::Rehearsal);
    const auto breakOff = [&](JobKind kind) {
      const auto work = [](const Progress&) -> JobRunner::Apply {
        throw std::runtime_error("out of memory");
      };
      document().jobs().start("Working", work, kind);
      return QTest::qWaitFor([&] { return !document().jobs().busy(); }, 5000);
    };
    QVERIFY(document().routed());
    QVERIFY(breakOff(JobKind::Other));
    QVERIFY(document().routingFailure().isEmpty() && cardSays("No clash"));
    QVERIFY(breakOff(JobKind::Routing));
    QVERIFY(cardSays("There is no way"));
    QVERIFY(cardSays("out of memory"));
    click("rehearseAgain");
    QVERIFY(idle());
    QVERIFY(cardSays("No clash"));
    QVERIFY(document().routingFailure().isEmpty());
  }
  // The card still shows a feature of the part before; its reach map must not ask for it.
  void anotherPartWhileAnglesAreTried() {
    document().open(data("heron.alder"));
    QVERIFY(
        QTest::qWaitFor([&] { return document().isOpen() && !document().jobs().busy(); }, 60000));
    QVERIFY(idle());
    const auto& features = document().plan().features;
    const auto last = std::find_if(features.rbegin(), features.rend(),
                                   [](const Feature& f) { return !f.touches.empty(); });
    document().selectFeatures({last->id});
    window_->setDesk(Desk::Routine);
    QVERIFY(QTest::qWaitFor([&] { return field<QWidget>("reachPlot") != nullptr; }, 20000));
    const auto old = last->id;
    bool asked = false;
    const auto once = connect(&document(), &Document::opened, this, [&] {
      QVERIFY(static_cast<std::size_t>(old.value) >= document().plan().features.size());
      emit document().reachChanged();
      QVERIFY(document().reachOf(old) == nullptr);
      asked = true;
    });
    document().open(plainStep());
    QVERIFY(QTest::qWaitFor([&] { return asked && !document().jobs().busy(); }, 60000));
    disconnect(once);
  }
  void leftWorkIsOffered() {
    const QString state = qEnvironmentVariable("ALDERPOINT_STATE");
    QDir().mkpath(state);
    auto project = openProject(data("heron.alder").toStdString());
    VERIFY_OK(project);
    project->plan.name = "left behind";
    for (const char* name : {"one", "two"}) {
      VERIFY_OK(saveProject(*project, (state + "/" + name + ".alder").toStdString()));
      (void)writeFile((state + "/" + name + ".json").toStdString(),
                      R"({"routine": "left behind", "path": "", "last_edit": "Change rows",
                          "seconds": 1764000000, "pid": 999999, "began": "1"})");
    }
    window_.reset();
    makeWindow();
    auto* words = window_->findChild<QLabel*>("offerWords");
    QVERIFY(words->isVisible());
    QVERIFY(words->text().contains("left behind") && words->text().contains("Change rows") &&
            words->text().contains("1 more"));
    QTest::mouseClick(field<QPushButton>("dropLeft"), Qt::LeftButton);
    QVERIFY(words->isVisible() && !words->text().contains("more"));
    QTest::mouseClick(field<QPushButton>("openLeft"), Qt::LeftButton);
    QVERIFY(QTest::qWaitFor([&] { return document().isOpen(); }, 60000));
    QVERIFY(idle());
    QCOMPARE(document().plan().name, std::string("left behind"));
    QVERIFY(document().unsaved() && !words->isVisible());
    window_->recovery().keepNow();
    QTRY_VERIFY_WITH_TIMEOUT(
        !QFile::exists(state + "/one.json") && !QFile::exists(state + "/two.json"), 20000);
    QVERIFY(document().save(dir_.filePath("kept.alder")));
    QTRY_COMPARE(QDir(state).entryList(QDir::Files).size(), 0);
  }
  // What is wrong stands first in the card, and long lines do not widen it.
  void whatIsWrongStandsFirst() {
    document().open(data("heron-clamp.alder"));
    QVERIFY(QTest::qWaitFor([&] { return document().path() == data("heron-clamp.alder"); }, 60000));
    QVERIFY(idle());
    const Routed& routed = *document().routed();
    QVERIFY(!routed.rehearsal.clear());
    FeatureId at;
    for (const Clash& c : routed.rehearsal.clashes)
      if (const FeatureId f = routed.way.steps[static_cast<std::size_t>(c.step)].feature; f.valid())
        at = f;
    QVERIFY(at.valid());
    window_->setDesk(Desk::Routine);
    document().selectFeatures({at});
    QTest::qWait(60);
    auto* area = window_->findChild<QScrollArea*>("cardArea");
    auto* wrong = area->widget()->findChild<QLabel*>("wrong");
    QVERIFY(wrong && wrong->text().contains("Clash"));
    for (const QLabel* label : area->widget()->findChildren<QLabel*>())
      QVERIFY(label->mapTo(area->widget(), QPoint()).y() >=
              wrong->mapTo(area->widget(), QPoint()).y());
    QVERIFY(area->widget()->width() <= area->viewport()->width());
    for (const QPushButton* button : area->widget()->findChildren<QPushButton*>("clash"))
      QVERIFY(button->mapTo(area->viewport(), QPoint(button->width(), 0)).x() <=
              area->viewport()->width());
  }
  // Thousands of clashes are a few lines.
  void clashesAreGrouped() {
    Routed routed = *document().routed();
    routed.rehearsal.clashes.clear();
    for (int k = 0; k < 3000; ++k) {
      Clash c;
      c.step = k % static_cast<int>(routed.way.steps.size());
      c.moving = k % 2 ? "probe" : "shaft";
      c.still = "clamp 1";
      c.depth = k / 1000.0;
      routed.rehearsal.clashes.push_back(c);
    }
    const auto groups = groupsOf(routed, [](const Clash&) { return true; });
    QVERIFY(groups.size() <= 2 * (document().plan().features.size() + 1));
    std::size_t all = 0;
    double deepest = 0;
    for (const ClashGroup& g : groups)
      all += g.count, deepest = std::max(deepest, g.deepest);
    QCOMPARE(all, std::size_t(3000));
    NEAR(deepest, 2.999, 1e-9);
  }

 private:
  // A plate with two bores, and not a word on tolerances.
  QString plainStep();
};

QString UnluckyWindowTest::plainStep() {
  TopoDS_Shape plate = BRepPrimAPI_MakeBox(gp_Pnt(0, 0, 0), gp_Pnt(100, 70, 12)).Shape();
  for (const double x : {25., 75.})
    plate = BRepAlgoAPI_Cut(
                plate,
                BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(x, 35, -1), gp_Dir(0, 0, 1)), 8, 20).Shape())
                .Shape();
  auto writer = demo::PmiWriter::begin(plate, "plain", "MM");
  return written("made.step", writer ? writer->text() : "");
}
ALDER_TEST(UnluckyWindowTest)
#include "unlucky_window_test.moc"
