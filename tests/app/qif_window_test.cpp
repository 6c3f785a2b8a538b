#include "base/files.h"
#include "exchange/points/points_file.h"
#include "exchange/qif/qif_file.h"
#include "judge/judge.h"
#include "qif_document.h"
#include "results/results_window.h"
#include "run/simulated_run.h"
#include "support.h"
#include "window_driver.h"
#include <QFileDialog>
#include <QLabel>
#include <QTableWidget>

using namespace alder;
using namespace alder::app;

// QIF as a programmer and a quality engineer meet it in the window: written, dropped as a plan,
// dropped as results, with what is not understood told.
class QifWindowTest : public WindowDriver {
  Q_OBJECT

  // Drops a plan; what then is done with what it proposes.
  void proposed(const QString& path, const std::function<void(QDialog&)>& then) {
    bool seen = false;
    QTimer poll;
    whenProposed(poll, seen, then);
    drop(path);
    QVERIFY(QTest::qWaitFor([&] { return seen && !modal(); }, 40000));
  }
  QString write(const char* name, const std::string& text) {
    const QString path = dir_.filePath(name);
    return writeFile(path.toStdString(), text) ? path : QString();
  }

 private slots:
  void initTestCase() {
    makeWindow();
    document().open(data("heron.alder"));
    QVERIFY(idle());
  }
  void cleanupTestCase() { window_.reset(); }

  // By the menu, into a name without its ending.
  void written() {
    const QString path = dir_.filePath("routine");
    QTimer::singleShot(0, this, [&] {
      QVERIFY(QTest::qWaitFor([&] { return qobject_cast<QFileDialog*>(modal()); }, 5000));
      auto* files = qobject_cast<QFileDialog*>(modal());
      files->selectFile(path);
      QMetaObject::invokeMethod(files, "accept");
    });
    press("writeQif");
    QTRY_VERIFY(told().startsWith("Wrote routine.qif with the plan"));
    const auto text = readFile((path + ".qif").toStdString());
    QVERIFY(text.has_value());
    const test::QifDocument doc(*text);
    QVERIFY(doc.faults().empty());
    QCOMPARE(doc.texts("//q:CharacteristicItems/*").size(),
             document().plan().spec.requirements.size());
  }

  void resultsDropped() {
    const auto run =
        runOnSimulatedMachine(test::heronPlan(), test::heronWay(), Defects{}, 4, Progress{});
    QVERIFY(run.has_value());
    const std::string csv = "# run: 4\n" + pointsText(*run);
    const QString path =
        write("guest.qif", qifDocument({document().plan(), {}, {}}, {{"guest-7", csv}}).text);
    const auto parts = document().runs().size();
    drop(path);
    ResultsWindow* w = nullptr;
    QVERIFY(QTest::qWaitFor(
        [&] {
          for (QWidget* top : QApplication::topLevelWidgets())
            if (auto* r = qobject_cast<ResultsWindow*>(top); r && r->isVisible()) w = r;
          return w != nullptr;
        },
        20000));
    for (const ResultMatch& m : w->matches(0).matches)
      QVERIFY(m.settled() && m.identified);
    QTest::keyClick(w, Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(idle());
    QCOMPARE(document().runs().size(), parts + 1);
    const JudgedRun* judged = document().currentRun();
    QCOMPARE(judged->name, std::string("guest-7"));
    const auto measured = measurementsIn(csv, "csv", document().plan());
    QVERIFY(measured.has_value());
    for (const Evaluation& e : judgeAll(document().plan(), *measured)) {
      const BriefVerdict& there = judged->verdicts.at(e.requirement);
      QVERIFY(there.verdict == e.verdict && there.actual == e.actual);
    }
    document().undo();
    QVERIFY(idle());
    QCOMPARE(document().runs().size(), parts);
    document().redo();
    QVERIFY(idle());
    QCOMPARE(document().runs().size(), parts + 1);
    document().undo();
  }

  // Of another program, with something that nobody here knows: told before it is taken, kept when
  // it is saved, written again.
  void planDropped() {
    std::string text = qifDocument({document().plan(), {}, {}}, {}).text;
    const auto at = text.find("<FeatureNominals");
    QVERIFY(at != std::string::npos);
    text.insert(text.find("</Features>"), "<FeatureZones><Zone>rim</Zone></FeatureZones>");
    const auto bore = text.find("<ToleranceValue>0.015");
    QVERIFY(bore != std::string::npos);
    text.replace(bore, 21, "<ToleranceValue>0.017");
    const QString path = write("plan.qif", text);
    const auto requirements = document().plan().spec.requirements.size();
    const auto looked = [&](QDialog& dialog) {
      auto* lines = dialog.findChild<QTableWidget*>("proposalLines");
      bool zone = false, changed = false;
      for (int row = 0; row < lines->rowCount(); ++row)
        changed |= lines->item(row, 3)->text().startsWith(
            "requirement 4 was cylindricity 0.015, in the file it is cylindricity 0.017");
      QVERIFY(changed);
      for (int row = 0; row < lines->rowCount(); ++row)
        zone |= lines->item(row, 1)->text().contains("FeatureZones") &&
                lines->item(row, 2)->text() == "note" &&
                lines->item(row, 3)->text().contains("not understood");
      QVERIFY(zone);
    };
    proposed(path, [&](QDialog& dialog) {
      looked(dialog);
      QTest::keyClick(dialog.findChild<QTableWidget*>("proposalLines"), Qt::Key_Escape);
    });
    NEAR(balloonOf(4).tolerance, 0.015, 1e-12);
    QVERIFY(document().save(dir_.filePath("before.alder"))); // so that nothing is asked
    proposed(path, [&](QDialog& dialog) {
      QTest::keyClick(dialog.findChild<QTableWidget*>("proposalLines"), Qt::Key_Return);
    });
    QVERIFY(idle());
    NEAR(balloonOf(4).tolerance, 0.017, 1e-12);
    QCOMPARE(document().plan().spec.requirements.size(), requirements);
    QVERIFY(document().unsaved());
    const QString kept = dir_.filePath("kept.alder");
    QVERIFY(document().save(kept));
    const auto back = openProject(kept.toStdString());
    QVERIFY(back.has_value());
    QVERIFY(qifDocument(*back, {}).text.find("<Zone>rim</Zone>") != std::string::npos);
  }

  void damagedIsOneLine() {
    const QString path =
        write("cut.qif", qifDocument({document().plan(), {}, {}}, {}).text.substr(0, 9000));
    drop(path);
    QTRY_VERIFY(told().startsWith("cut.qif: line "));
    QVERIFY(told().contains("is not valid XML"));
  }

 private:
  const Requirement& balloonOf(int number) {
    return document().plan().spec.requirement(balloon(number));
  }
};

ALDER_TEST(QifWindowTest)
#include "qif_window_test.moc"
