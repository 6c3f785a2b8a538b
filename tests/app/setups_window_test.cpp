#include "exchange/routine/project.h"
#include "judge/setup_join.h"
#include "operator_driver.h"
#include "part/step_import.h"
#include "random_parts.h"
#include "route/draft.h"
#include <QLineEdit>

using namespace alder;
using namespace alder::app;

// A part that needs two set-ups, from all sides of the window.
class SetupsWindowTest : public OperatorDriver {
  Q_OBJECT

  const Plan& plan() { return document().plan(); }
  int unmeasured() {
    int count = 0;
    for (const Requirement& r : plan().spec.requirements) {
      const BriefVerdict* v = document().verdict(r.id);
      count += !v || v->verdict == Verdict::Unmeasured;
    }
    return count;
  }
  QString state() { return window_->findChild<QLabel*>("routineState")->text(); }

 private slots:
  void initTestCase() {
    qputenv("ALDERPOINT_RUNS", runs_.path().toUtf8());
    const auto random = test::randomPart(1007);
    QVERIFY(random.has_value());
    const auto part = importStep(random->step, random->name);
    QVERIFY(part.has_value());
    auto bench = defaultBench();
    const auto drafted = draftPlan(*part, std::move(*bench));
    QVERIFY2(drafted.has_value(), drafted ? "" : drafted.error().message.c_str());
    QCOMPARE(drafted->setups.size(), std::size_t(2));
    const auto path = dir_.filePath("both.alder");
    QVERIFY(saveProject({*drafted, {}, {}}, path.toStdString()).has_value());
    makeWindow();
    document().open(path);
    QVERIFY(idle());
  }
  void cleanupTestCase() { window_.reset(); }
  void cleanup() { stopAndLeave(); }

  // From one to the other by key and by the card; the part lies otherwise, and undo goes back.
  void workedOnInTurn() {
    window_->setDesk(Desk::Bench);
    document().clearSelection();
    QVERIFY(field<QPushButton>("workOn1"));
    const SetupId first = plan().setup;
    const Frame lay = plan().placement;
    QTest::keyClick(window_.get(), Qt::Key_S, Qt::ControlModifier | Qt::AltModifier);
    QVERIFY(idle());
    QVERIFY(plan().setup != first);
    QVERIFY(!plan().placement.isApprox(lay));
    QVERIFY(state().contains("set-up 2"));
    QVERIFY(cardSays("joined by"));
    QVERIFY(document().routed()->way.positions.size() > 20);
    // What was not rehearsed now is not shown as clear.
    int clear = 0;
    for (const Requirement& r : plan().spec.requirements)
      clear += document().progressOf(r)[3];
    QVERIFY(clear > 0 && clear < static_cast<int>(plan().spec.requirements.size()));
    press("undo");
    QVERIFY(idle());
    QVERIFY(plan().setup == first && plan().placement.isApprox(lay));
    press("redo");
    QVERIFY(idle());
    type("setupHow", "Turn it over, then close both clamps.");
    QCOMPARE(plan().setups[1].how, std::string("Turn it over, then close both clamps."));
    type("setupMisfit", "-1");
    QCOMPARE(plan().setups[1].most_misfit, kMostMisfit);
    type("setupName", "upside down");
    QVERIFY(state().contains("upside down"));
    click("workOn0");
    QVERIFY(idle());
    QVERIFY(plan().setup == first);
    QCOMPARE(plan().setups[1].name, std::string("upside down"));
  }
  // All of them are measured, and what is asked for across both is judged.
  void measuredInAll() {
    document().run({}, 3);
    QVERIFY(idle());
    QTRY_COMPARE_WITH_TIMEOUT(document().runs().size(), std::size_t(1), 60000);
    QVERIFY(idle());
    QCOMPARE(unmeasured(), 0);
    window_->setDesk(Desk::Bench);
    document().clearSelection();
    QVERIFY(cardSays("fits with a misfit of"));
  }
  // A program is of one set-up, which is said.
  void programIsOfOne() {
    QVERIFY(document().exportTo(dir_.filePath("both.dmi"), ""));
    QVERIFY(told().contains("alone; work on the others"));
  }
  // The operator turns the part in between; both go to one part.
  void operatorTurnsIt() {
    document().workOn(plan().setups[1].id); // it begins with the first all the same
    QVERIFY(idle());
    press("operate");
    view().findChild<QComboBox*>("operatorPace")->setCurrentIndex(0);
    QVERIFY(says("Ready to measure"));
    QTest::keyClick(&view(), Qt::Key_Return);
    QVERIFY(says("Not ready yet"));
    QVERIFY(idle());
    QVERIFY(plan().setup == plan().setups[0].id);
    QTest::keyClick(&view(), Qt::Key_Return);
    QVERIFY2(says("Turn it over", 120000), qPrintable(headline() + ": " + detail()));
    QVERIFY(detail().contains("2 of 2"));
    QCOMPARE(document().runs().size(), std::size_t(2));
    QVERIFY(unmeasured() > 0);
    QVERIFY(idle());
    // Both ways of lying are drawn, with what comes to lie below lit where it can be seen.
    auto* picture = view().findChild<QLabel*>("operatorPicture");
    QTRY_VERIFY_WITH_TIMEOUT(picture->isVisible() && !picture->pixmap().isNull(), 20000);
    const QImage drawn = picture->pixmap().toImage();
    for (const int from : {0, drawn.width() / 2 + 20}) {
      int of_part = 0;
      for (int x = from; x < from + drawn.width() / 2 - 20; ++x)
        for (int y = 0; y < drawn.height() - 30; ++y)
          of_part += drawn.pixelColor(x, y) != drawn.pixelColor(0, 0);
      QVERIFY2(of_part > 2000, qPrintable(QString::number(of_part)));
    }
    QTest::keyClick(&view(), Qt::Key_Return);
    QVERIFY2(says("limits", 120000), qPrintable(headline() + ": " + detail()));
    QCOMPARE(document().runs().size(), std::size_t(2));
    QCOMPARE(unmeasured(), 0);
    QVERIFY(document().measuredAgain().empty());
    QVERIFY(!picture->isVisible());
    QTest::keyClick(&view(), Qt::Key_Escape);
    QVERIFY(!view().isVisible());
  }
};
ALDER_TEST(SetupsWindowTest)
#include "setups_window_test.moc"
