#include "operator_driver.h"
#include "run/live_gauge.h"
#include <QScopeGuard>
#include <QStandardPaths>

using namespace alder;
using namespace alder::app;

// A run as an operator does it, with the keyboard alone.
class OperatorWindowTest : public OperatorDriver {
  Q_OBJECT
 private:
  void key(Qt::Key k) {
    QWidget* target = QApplication::focusWidget();
    QTest::keyClick(target ? target : &view(), k);
  }
  // A routine short enough to be run by hand: three features, a question, a wait.
  void makeShort() {
    document().open(data("heron.alder"));
    QTest::qWait(100);
    QVERIFY(idle());
    const Plan& plan = document().plan();
    std::vector<StepId> rest;
    for (const RoutineStep& s : plan.steps)
      if (const auto* m = std::get_if<MeasureStep>(&s.body))
        if (std::find(plan.alignment.begin(), plan.alignment.end(), m->feature) ==
            plan.alignment.end())
          rest.push_back(s.id);
    document().selectSteps(rest);
    document().removeSteps();
    QVERIFY(idle());
    document().selectSteps({document().plan().steps.front().id});
    document().insertStep(AskStep{"Serial number", false, "", QuestionRole::SerialNumber});
    QVERIFY(idle());
    document().clearSelection();
    document().insertStep(WaitStep{"Take the part out"});
    QVERIFY(idle());
    QImage picture(60, 40, QImage::Format_RGB32);
    picture.fill(Qt::darkCyan);
    QVERIFY(picture.save(dir_.filePath("out.png")));
    document().showPictureFile(dir_.filePath("out.png"));
    QVERIFY(idle());
  }
  void settings(const char* box, int index) {
    auto* combo = view().findChild<QComboBox*>(box);
    combo->setCurrentIndex(index);
  }

 private slots:
  // Five states are five sentences, the worst first.
  void outcomes() {
    using enum Verdict;
    const std::map<Verdict, int> none;
    QSet<QString> all{OperatorView::outcomeOf(none)};
    for (const Verdict v : {Near, NotProved, Unmeasured, Outside})
      all.insert(OperatorView::outcomeOf({{v, 1}, {Within, 30}}));
    all.insert(OperatorView::outcomeOf({{Within, 30}}));
    QCOMPARE(all.size(), 6); // also where there is nothing to judge it by
    QVERIFY(!OperatorView::outcomeOf(none).contains("Within"));
    QCOMPARE(OperatorView::outcomeOf({{Near, 1}, {NotProved, 1}}),
             OperatorView::outcomeOf({{NotProved, 2}}));
    QCOMPARE(OperatorView::outcomeOf({{Outside, 1}, {NotProved, 1}, {Unmeasured, 2}}),
             OperatorView::outcomeOf({{Outside, 1}}));
  }
  void initTestCase() {
    qputenv("ALDERPOINT_RUNS", runs_.path().toUtf8());
    makeWindow();
    makeShort();
  }
  void init() {
    for (const OpenRun& run : brokenOffRuns())
      forget(run);
  }
  void cleanup() { stopAndLeave(); }

  // Start, tell the serial number, wait, done: four keys and what is typed.
  void aWholeRun() {
    press("operate");
    QVERIFY(view().isVisible() && !window_->sheet().isVisible());
    QCOMPARE(headline(), QString("Ready to measure a part"));
    settings("operatorPace", 0);
    key(Qt::Key_Return);
    QVERIFY(says("Serial number"));
    key(Qt::Key_Return); // nothing told yet
    QTest::qWait(50);
    QVERIFY(says("Serial number"));
    QTest::keyClicks(QApplication::focusWidget(), "HB-0042");
    key(Qt::Key_Return);
    QVERIFY(says("Take the part out"));
    QVERIFY(view().findChild<QLabel*>("operatorPicture")->isVisible());
    QCOMPARE(view().findChild<QLabel*>("operatorPicture")->pixmap().size(), QSize(60, 40));
    QVERIFY(view().findChild<QLabel*>("operatorCount")->text().contains("touches"));
    key(Qt::Key_Return);
    QTRY_VERIFY_WITH_TIMEOUT(!view().running(), 30000);
    QVERIFY(says("Measured in part")); // only the part frame's features are in this routine
    QVERIFY(detail().contains("HB-0042"));
    QCOMPARE(document().runs().back().name, std::string("HB-0042"));
    QVERIFY(brokenOffRuns().empty());
    // Where it sat is handed on.
    document().writeSetupCorrection(dir_.filePath("c.json"));
    QVERIFY(told().contains("HB-0042: move") && told().contains("xyz"));
    QVERIFY(QFile::exists(dir_.filePath("c.json")));
    document().writeSetupCorrection(dir_.filePath("c.xyz"));
    QVERIFY(told().contains("kind of file"));
    key(Qt::Key_Escape);
    QVERIFY(!view().isVisible() && window_->sheet().isVisible());
    QCOMPARE(int(window_->desk()), int(Desk::Verdict));
    QVERIFY(window_->actions().find("undo")->isEnabled());
  }

  // A controller that is not ours: it is homed when it may be, its tools are asked for once.
  void anotherController() {
    view().setSimulated({"--strict"});
    const auto ours = qScopeGuard([&] { view().setSimulated({}); });
    const auto begin = [&](const QString& serial) {
      press("operate");
      settings("operatorPace", 0);
      key(Qt::Key_Return);
      QVERIFY(says("Serial number"));
      // Another window on the same screen may be the active one.
      QTest::keyClicks(view().findChild<QLineEdit*>("operatorAnswer"), serial);
      const int serial_asked = view().worker().scene().question;
      key(Qt::Key_Return);
      QVERIFY2(says("Home the machine?"), qPrintable(headline() + ": " + detail()));
      // A key pressed for what was asked before lets no machine move.
      view().worker().reply({serial_asked, true, {}, FaultChoice::Retry});
      QTest::qWait(100);
      QVERIFY2(says("Home the machine?", 0), qPrintable(headline() + ": " + detail()));
      key(Qt::Key_Return);
    };
    begin("HB-0060");
    QString asked;
    for (int tools = 0;; ++tools) {
      const bool goes_on = QTest::qWaitFor(
          [&] {
            return ((headline().startsWith("Which tool is") ||
                     headline().startsWith("Move the machine clear")) &&
                    headline() != asked) ||
                   headline().contains("Take the part out");
          },
          60000);
      QVERIFY2(goes_on, qPrintable(headline() + ": " + detail()));
      if (headline().startsWith("Move the machine clear")) { // nobody knows what it holds
        key(Qt::Key_Return);
        --tools;
        asked = headline();
        continue;
      }
      if (!headline().startsWith("Which tool is")) {
        QVERIFY(tools > 0);
        break;
      }
      asked = headline();
      auto* box = view().findChild<QComboBox*>("operatorTool");
      QVERIFY(box->isVisible() && box->window()->focusWidget() == box);
      key(Qt::Key_Return); // nothing chosen
      QVERIFY(detail().contains("Choose one"));
      // Its tools are the tips of the bench, one after the other.
      int number = 0, wanted = 0;
      for (const Stylus& stylus : document().plan().bench.styli)
        for (const Tip& tip : stylus.tips) {
          ++number;
          if (asked ==
              QString::fromStdString("Which tool is " + stylus.name + "/" + tip.name + "?"))
            wanted = number;
        }
      QVERIFY(wanted > 0);
      while (box->currentText() != QString("T%1").arg(wanted))
        QTest::keyClick(box, Qt::Key_Down);
      key(Qt::Key_Return);
    }
    key(Qt::Key_Return);
    QTRY_VERIFY_WITH_TIMEOUT(!view().running(), 30000);
    QVERIFY(says("Measured in part"));
    QVERIFY(!document().plan().bench.controller.tools.empty()); // kept in the bench
    key(Qt::Key_Escape);
    QVERIFY(idle());
    begin("HB-0061");
    // It is not asked again.
    QVERIFY(QTest::qWaitFor(
        [&] { return headline().contains("Take the part out") || headline().contains("clear"); },
        60000));
    if (headline().contains("clear")) key(Qt::Key_Return);
    QVERIFY(says("Take the part out"));
    key(Qt::Key_Escape);
    QTRY_VERIFY_WITH_TIMEOUT(!view().running(), 30000);
    key(Qt::Key_Escape);
    document().undo();
    QVERIFY(document().plan().bench.controller.tools.empty());
    QVERIFY(idle());
  }

  // What the routine judges on its way is told, its warning is answered, its file written; a frame
  // that is used again says by how much the part moved.
  void whatTheRoutineDoesBesides() {
    const QString file = dir_.filePath("on the way.csv");
    PartFrame frame;
    frame.name = "check";
    for (FeatureId id : document().plan().alignment)
      frame.stages.push_back({{id}, ""});
    QVERIFY(document().edit("Frame", {SetFrames{{frame}}}));
    const std::vector<StepBody> bodies{UseFrameStep{"check"}, EvaluateStep{{balloon(2)}},
                                       BranchStep{balloon(2), BranchWhen::Within, BranchDoes::Warn},
                                       OutputStep{OutputKind::TouchedPoints, file.toStdString()}};
    const StepId last = document().plan().steps.back().id; // the wait
    for (const StepBody& body : bodies) {
      document().selectSteps({last});
      document().insertStep(body);
      QVERIFY(idle());
    }
    window_->setOperating(true);
    settings("operatorPace", 0);
    key(Qt::Key_Return);
    QVERIFY(says("Serial number"));
    QTest::keyClicks(QApplication::focusWidget(), "HB-0050");
    key(Qt::Key_Return);
    QVERIFY(says("Requirement 2 is within."));
    QCOMPARE(view().worker().scene().verdicts, QString("2 within"));
    QVERIFY(!QFile::exists(file)); // it comes behind
    key(Qt::Key_Return);
    QVERIFY(says("Take the part out"));
    const auto points = readFile(file.toStdString());
    QVERIFY(points && std::count(points->begin(), points->end(), '\n') > 20);
    key(Qt::Key_Return);
    QTRY_VERIFY_WITH_TIMEOUT(!view().running(), 30000);
    QVERIFY(says("Measured in part"));
    QVERIFY2(detail().contains("check moved by 0.0"), qPrintable(detail()));
    window_->setOperating(false);
    for (std::size_t k = 0; k <= bodies.size(); ++k)
      document().undo();
    QVERIFY(idle());
  }

  // Pause and go on, by the keys; the numbers are live.
  void pauseAndGoOn() {
    window_->setOperating(true);
    settings("operatorPace", 1);
    key(Qt::Key_Return);
    QVERIFY(says("Serial number"));
    QTest::keyClicks(QApplication::focusWidget(), "7");
    key(Qt::Key_Return);
    auto* gauge = dynamic_cast<LiveGauge*>(view().findChild<QWidget*>("liveGauge"));
    QVERIFY(gauge);
    QVERIFY(QTest::qWaitFor([&] { return gauge->figureText().endsWith(" mm"); }, 20000));
    QTRY_VERIFY_WITH_TIMEOUT(document().lit().has_value(), 20000);
    key(Qt::Key_Space);
    QVERIFY(QTest::qWaitFor(
        [&] { return view().worker().scene().phase == RunScene::Phase::Paused; }, 20000));
    const int done = view().worker().scene().done;
    QTest::qWait(300);
    QCOMPARE(view().worker().scene().done, done);
    QTest::qWait(50);
    key(Qt::Key_Return);
    QVERIFY(QTest::qWaitFor([&] { return view().worker().scene().done > done; }, 20000));
    QVERIFY(view().grab().toImage().pixelColor(200, 200).isValid());
  }

  // A fault: try again, and stop; what was touched is kept, and the run goes on.
  void aFaultAndARunThatGoesOn() {
    window_->setOperating(true);
    settings("operatorPace", 0);
    view().setSimulated({"--fault", "missed@40", "--fault", "stop@70"});
    key(Qt::Key_Return);
    QVERIFY(says("Serial number"));
    QTest::keyClicks(QApplication::focusWidget(), "HB-0043");
    key(Qt::Key_Return);
    QVERIFY(says("Missed touch"));
    QVERIFY(detail().contains("No surface was met"));
    key(Qt::Key_Return); // try again
    QVERIFY(says("Emergency stop"));
    key(Qt::Key_Escape);
    QTRY_VERIFY_WITH_TIMEOUT(!view().running(), 20000);
    QCOMPARE(headline(), QString("Stopped"));
    QCOMPARE(int(brokenOffRuns().size()), 1);
    const int kept = brokenOffRuns().front().touches;
    QVERIFY(kept > 5);
    window_->setOperating(false);
    // The next start tells of it, and goes on with it; the machine begins anew, clear of the part.
    view().setSimulated({});
    press("goOnWithRun");
    QVERIFY(view().isVisible());
    QCOMPARE(headline(), QString("A run was broken off"));
    QVERIFY(detail().contains(QString::number(kept)));
    settings("operatorPace", 0);
    key(Qt::Key_Return);
    QVERIFY(says("Move the machine clear"));
    key(Qt::Key_Return);
    QVERIFY(says("Take the part out"));
    key(Qt::Key_Return);
    QTRY_VERIFY_WITH_TIMEOUT(!view().running(), 30000);
    QCOMPARE(document().runs().back().name, std::string("HB-0043"));
    int planned = 0;
    for (FeatureId id : measured())
      planned += static_cast<int>(document().plan().feature(id).touches.size());
    int points = 0;
    for (const auto& [id, m] : document().runs().back().measured())
      points += static_cast<int>(m.points.size());
    QCOMPARE(points, planned);
    QVERIFY(brokenOffRuns().empty());
  }

  // Guided by hand: each place is lit, and taken when the operator has touched it.
  void guidedByHand() {
    window_->setOperating(true);
    settings("operatorKind", 1);
    settings("operatorHand", 1);
    key(Qt::Key_Return);
    QVERIFY(says("Serial number"));
    QTest::keyClicks(QApplication::focusWidget(), "HB-0044");
    key(Qt::Key_Return);
    for (int touches = 0; touches < 4; ++touches) {
      QVERIFY(says("Touch "));
      QVERIFY(QTest::qWaitFor(
          [&] {
            const RunScene now = view().worker().scene();
            return now.done == touches && now.phase == RunScene::Phase::Touching;
          },
          20000));
      QTest::qWait(50);
      QVERIFY(document().lit().has_value());
      key(Qt::Key_Return);
    }
    QVERIFY(QTest::qWaitFor([&] { return view().worker().scene().done == 4; }, 20000));
    key(Qt::Key_Escape);
    QTRY_VERIFY_WITH_TIMEOUT(!view().running(), 20000);
    QCOMPARE(brokenOffRuns().front().touches, 4);
    // Given up for a new one, it is set aside and no longer offered.
    window_->setOperating(false);
    window_->setOperating(true);
    QCOMPARE(headline(), QString("A run was broken off"));
    settings("operatorKind", 0);
    QTest::mouseClick(view().findChild<QPushButton*>("operator1"), Qt::LeftButton);
    QVERIFY(says("Serial number"));
    QCOMPARE(int(QDir(runs_.path()).entryList({"*given-up*"}).size()), 1);
    key(Qt::Key_Escape);
    view().worker().stop();
  }

  void aMachineThatIsNotThere() {
    window_->setOperating(true);
    settings("operatorKind", 0);
    auto* machine = view().findChild<QComboBox*>("operatorMachine");
    machine->setEditText("127.0.0.1:1");
    view().setFocus();
    key(Qt::Key_Return);
    QVERIFY(says("Serial number"));
    QTest::keyClicks(QApplication::focusWidget(), "1");
    key(Qt::Key_Return);
    QVERIFY(says("Lost connection"));
    key(Qt::Key_Escape);
    QTRY_VERIFY_WITH_TIMEOUT(!view().running(), 20000);
    machine->setEditText("nonsense");
    key(Qt::Key_Return);
    QVERIFY(QTest::qWaitFor([&] { return detail().contains("HOST:PORT"); }, 20000));
    machine->setCurrentIndex(0);
  }
};
ALDER_TEST(OperatorWindowTest)
#include "operator_window_test.moc"
