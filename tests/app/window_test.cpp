#include "base/units.h"
#include "card/feature/reach_plot.h"
#include "card/requirement/indicator_edit.h"
#include "registry.h"
#include "window_driver.h"

#include <QWheelEvent>

#include <QComboBox>
#include <QElapsedTimer>
#include <QFile>
#include <QLabel>
#include <QMessageBox>
#include <QPushButton>
#include <QTimer>

using namespace alder;
using namespace alder::app;

class WindowTest : public WindowDriver {
  Q_OBJECT

 private slots:
  // One window for all that leave it as they found it, since drafting takes its time; see openDemo.
  void cleanupTestCase() { window_.reset(); }

  void openDemo() {
    if (window_ && window_->isVisible() && document().path().isEmpty() &&
        document().runs().empty() && !document().jobs().busy()) {
      undoAll();
      document().clearSelection();
      document().setPlayhead(0);
      window_->setDesk(Desk::Part);
      return;
    }
    window_.reset();
    makeWindow();
    document().open(data("heron.step"), data("bench.json"));
    QVERIFY(idle());
  }

  // The whole job as in the manual: open, look, change a count, undo, rehearse, run, judge, report.
  void theWholeJob() {
    openDemo();
    QCOMPARE(window_->sheet().list().model()->rowCount(), 35);
    // What was missing before the draft is not told any more, though verdicts are still being
    // tried.
    for (const Requirement& r : document().plan().spec.requirements)
      QVERIFY2(document().whyNotCovered(r).empty(), document().whyNotCovered(r).c_str());
    QTest::qWait(300);
    QVERIFY(filled() > 0.15);

    // pick a requirement in the sheet by mouse: features, card and callout follow
    auto& list = window_->sheet().list();
    QTest::mouseClick(list.viewport(), Qt::LeftButton, {},
                      list.visualRect(list.model()->index(1, 0)).center());
    QCOMPARE(document().selection().requirement->value, 1);
    QCOMPARE(document().plan().nominal(document().selection().features.front()).name,
             std::string("Bore ø32"));

    window_->setDesk(Desk::Routine);
    const FeatureId bore = document().selection().features.front();
    const auto before = document().plan().feature(bore).touches.size();
    const double seconds = document().routed()->rehearsal.seconds;
    type("perRow", "12");
    QVERIFY(idle());
    QVERIFY(document().plan().feature(bore).touches.size() > before);
    QVERIFY(document().routed()->rehearsal.seconds > seconds); // the timeline has followed
    QVERIFY(document().unsaved());
    QVERIFY(document().undoText().contains("per section"));
    QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(idle());
    QCOMPARE(document().plan().feature(bore).touches.size(), before);
    NEARLY(document().routed()->rehearsal.seconds, seconds);

    window_->setDesk(Desk::Rehearsal);
    press("rehearse");
    QVERIFY(idle());
    QVERIFY(document().routed()->rehearsal.clear());

    window_->setDesk(Desk::Verdict);
    // Tips that are not qualified block the run; qualifying them is one key.
    press("run");
    QVERIFY(window_->findChild<QLabel*>("message")->text().contains("tips are not qualified"));
    QVERIFY(document().runs().empty());
    press("qualify");
    QVERIFY(idle());
    QVERIFY(document().tipsToQualify().empty());
    QVERIFY(document().undoText().contains("Qualify"));
    press("run");
    QVERIFY(idle());
    QCOMPARE(document().runs().size(), std::size_t(1));
    QCOMPARE(document().currentRun()->details.size(), document().plan().spec.requirements.size());
    for (const auto& [id, e] : document().currentRun()->details)
      QVERIFY(e.verdict == Verdict::Within);
    document().run(data("heron-defects.json"), 3);
    QVERIFY(idle());
    QCOMPARE(document().runs().size(), std::size_t(2));
    document().clearSelection();
    press("nextOutside");
    QCOMPARE(document().plan().spec.requirement(*document().selection().requirement).balloon, 9);
    press("nextOutside");
    QCOMPARE(document().plan().spec.requirement(*document().selection().requirement).balloon, 10);

    const QString pdf = dir_.filePath("report.pdf");
    QVERIFY(document().exportTo(pdf));
    QFile file(pdf);
    QVERIFY(file.open(QIODevice::ReadOnly) && file.read(5) == "%PDF-");
    QVERIFY(window_->messageText().contains("report.pdf"));
  }

  void saveAndOpenAgain() {
    openDemo();
    document().selectFeatures({FeatureId{3}});
    window_->setDesk(Desk::Routine);
    type("approach", "1.5+1"); // fields take arithmetic
    QVERIFY(idle());
    QCOMPARE(document().plan().feature(FeatureId{3}).recipe.approach, 2.5);
    document().run({}, 1);
    QVERIFY(idle());
    QVERIFY(document().save(dir_.filePath("heron.alder")));
    QVERIFY(!document().unsaved());
    const auto path = dir_.filePath("heron.alder");
    window_.reset();
    makeWindow();
    document().open(path);
    QVERIFY(idle());
    QCOMPARE(document().plan().feature(FeatureId{3}).recipe.approach, 2.5);
    QCOMPARE(document().runs().size(), std::size_t(1));
    QVERIFY(!document().unsaved());
  }

  void badFieldsAreRefusedInPlace() {
    openDemo();
    window_->setDesk(Desk::Routine);
    document().selectFeatures({FeatureId{3}});
    auto* edit = field<QLineEdit>("approach");
    QVERIFY(edit);
    edit->setFocus();
    edit->selectAll();
    QTest::keyClicks(edit, "2 apples");
    QVERIFY(edit->property("bad").toBool());
    QVERIFY(edit->toolTip().contains("apples"));
    QTest::keyClick(edit, Qt::Key_Escape);
    QVERIFY(!edit->property("bad").toBool());
    QCOMPARE(edit->text(), QString("2.00 mm"));
    QVERIFY(!document().unsaved() || document().undoText().isEmpty());
    type("perRow", "0");
    QVERIFY(window_->messageText().contains("between 1 and 1000"));
    QVERIFY(document().undoText().isEmpty());
  }

  void severalFeaturesAtOnce() {
    openDemo();
    window_->setDesk(Desk::Routine);
    selectBalloon(8);
    QCOMPARE(document().selection().features.size(), std::size_t(6));
    type("startAngle", "22.5");
    QVERIFY(idle());
    for (FeatureId f : document().plan().spec.requirements[7].features)
      QVERIFY(std::abs(document().plan().feature(f).recipe.start_angle - radians(22.5)) < 1e-12);
    press("undo");
    QVERIFY(idle());
    QCOMPARE(document()
                 .plan()
                 .feature(document().plan().spec.requirements[7].features[5])
                 .recipe.start_angle,
             0.0);
  }

  // A click on a face in the picture selects its feature, the requirement and the block in time.
  void pickInTheStage() {
    openDemo();
    window_->stage().view().look(OcctView::Standard::Top);
    QTest::qWait(400);
    const Plan& plan = document().plan();
    const Vec3 top = plan.placement * Vec3(26 * std::cos(-2.2), 26 * std::sin(-2.2), 60);
    const QPoint at = window_->stage().project(top).toPoint();
    QTest::mouseClick(&window_->stage().view(), Qt::LeftButton, {}, at);
    QCOMPARE(document().selection().features.size(), std::size_t(1));
    const Ideal& ideal = plan.nominal(document().selection().features[0]).ideal;
    QVERIFY(ideal.type == SurfaceType::Plane && ideal.direction.z() > 0.99 &&
            std::abs(ideal.point.z() - 60) < 1e-6);
    QVERIFY(document().selection().requirement.has_value());
    QVERIFY(!window_->timeline().blockOf(document().selection().features[0]).isEmpty());
    // beside the part nothing is selected
    QTest::mouseClick(&window_->stage().view(), Qt::LeftButton, {}, QPoint(5, 150));
    QVERIFY(document().selection().features.empty());
  }

  void orbitPanZoom() {
    openDemo();
    QTest::qWait(200);
    auto& view = window_->stage().view();
    const QImage before = view.grabFramebuffer();
    const QPoint c = view.rect().center();
    QTest::mousePress(&view, Qt::LeftButton, {}, c);
    QTest::mouseMove(&view, c + QPoint(60, 20));
    QTest::mouseMove(&view, c + QPoint(120, 30));
    QTest::mouseRelease(&view, Qt::LeftButton, {}, c + QPoint(120, 30));
    QTest::qWait(100);
    QVERIFY(view.grabFramebuffer() != before);
    QVERIFY(document().selection().features.empty()); // a drag is no pick
    // the wheel keeps the place under the cursor
    const Vec3 place = document().plan().placement * Vec3(30, 0, 60);
    const QPointF at = window_->stage().project(place);
    QWheelEvent wheel(at, view.mapToGlobal(at), {}, QPoint(0, 240), Qt::NoButton, {},
                      Qt::NoScrollPhase, false);
    QApplication::sendEvent(&view, &wheel);
    const QPointF after = window_->stage().project(place);
    QVERIFY((after - at).manhattanLength() < 6);
  }

  void timelineMovesTheMachine() {
    openDemo();
    window_->setDesk(Desk::Rehearsal);
    auto& timeline = window_->timeline();
    QTest::mouseClick(&timeline, Qt::LeftButton, {}, QPoint(int(timeline.xOf(100)), 36));
    QVERIFY(std::abs(document().playhead() - 100) < 2);
    QTest::qWait(200);
    const QImage there = window_->stage().view().grabFramebuffer();
    document().setPlayhead(180);
    QTest::qWait(200);
    QVERIFY(window_->stage().view().grabFramebuffer() != there);
    timeline.setFocus();
    const double now = document().playhead();
    QTest::keyClick(&timeline, Qt::Key_Right);
    QCOMPARE(document().playhead(), now + 1);
    press("play");
    QVERIFY(QTest::qWaitFor([&] { return document().playhead() > now + 1.5; }, 5000));
    press("play");
    QVERIFY(!timeline.playing());
  }

  void dragInTheTimelineReorders() {
    openDemo();
    window_->setDesk(Desk::Routine);
    const auto order = measured();
    const FeatureId moved = order[6], target = order[4];
    dragBefore(moved, target);
    const auto now = measured();
    QVERIFY(std::find(now.begin(), now.end(), moved) < std::find(now.begin(), now.end(), target));
    press("undo");
    QVERIFY(idle());
    QVERIFY(measured() == order);
  }

  void theClashIsShown() {
    if (!window_) makeWindow();
    document().open(data("heron-clamp.alder"));
    QVERIFY(idle());
    window_->setDesk(Desk::Rehearsal);
    press("nextClash");
    const Clash& c = document().routed()->rehearsal.clashes.at(0);
    QCOMPARE(document().playhead(), c.seconds);
    QCOMPARE(document().selection().step, c.step);
    // the requirement of that feature is not free of clashes
    const auto cells = document().progressOf(
        document().plan().spec.requirement(*document().selection().requirement));
    QVERIFY(cells[2] && !cells[3]);
    // entering over the shell again takes the clash away
    auto* entry = field<QComboBox>("entry");
    QVERIFY(entry);
    document().edit("test", {SetHop{document().selection().features.front(), HopMode::Over, {}}});
    QVERIFY(idle());
    QVERIFY(document().routed()->rehearsal.clear());
  }

  // A hop led by own waypoints: taken from the way, typed, refused, undone; and the order by time.
  void ledHopsAndOrder() {
    openDemo();
    window_->setDesk(Desk::Routine);
    const FeatureId id = measured()[6];
    document().selectFeatures({id});
    auto* entry = field<QComboBox>("entry");
    QVERIFY(entry);
    QCOMPARE(entry->count(), 4);
    emit entry->activated(static_cast<int>(HopMode::Led));
    QVERIFY(idle());
    QVERIFY(document().plan().feature(id).entry == HopMode::Led);
    field<QPushButton>("takeWaypoints")->click();
    QVERIFY(idle());
    const Points taken = document().plan().feature(id).waypoints;
    type("waypoints", "0, 0"); // refused with a line, nothing changes
    QVERIFY(document().plan().feature(id).waypoints == taken);
    type("waypoints", "0, 0, 130; 10, 0, 130");
    QVERIFY(idle());
    QCOMPARE(document().plan().feature(id).waypoints.size(), std::size_t(2));
    const auto& steps = document().routed()->way.steps;
    QVERIFY(std::any_of(steps.begin(), steps.end(),
                        [](const Step& s) { return s.hop == HopMode::Led; }));
    document().undo();
    QVERIFY(idle());
    QVERIFY(document().plan().feature(id).waypoints == taken);

    // Pinned behind its neighbour it stays there when the order is made anew.
    auto order = measured();
    std::swap(order[5], order[order.size() - 2]);
    document().edit("shuffle", {*orderFeatures(document().plan(), order)});
    QVERIFY(idle());
    document().selectFeatures({order[6]});
    emit field<QComboBox>("pinned")->activated(1);
    QVERIFY(document().plan().feature(order[6]).pinned);
    QVERIFY(idle());
    press("order");
    QVERIFY(idle());
    QVERIFY(window_->findChild<QLabel*>("message")->text().startsWith("Ordered for time:"));
    const auto now = measured();
    const auto at = std::find(now.begin(), now.end(), order[6]);
    QVERIFY(at != now.begin() && *(at - 1) == order[5]);
    press("order");
    QVERIFY(window_->findChild<QLabel*>("message")->text().contains("already the shortest"));
  }

  // Faster and slower, move by move, with the ball kept in the middle of the picture.
  void playback() {
    openDemo();
    window_->setDesk(Desk::Rehearsal);
    auto& timeline = window_->timeline();
    const auto& times = document().routed()->rehearsal.times;
    press("nextMove");
    press("nextMove");
    press("nextMove");
    const double third = document().playhead();
    QVERIFY(std::find(times.begin(), times.end(), third) != times.end());
    press("nextMove");
    QVERIFY(document().playhead() > third);
    press("lastMove");
    QCOMPARE(document().playhead(), third);
    press("slower");
    press("slower");
    press("slower");
    QCOMPARE(timeline.speed(), 0.25);
    for (int k = 0; k < 9; ++k)
      press("faster");
    QCOMPARE(timeline.speed(), 50.0);
    press("play");
    QVERIFY(QTest::qWaitFor([&] { return document().playhead() > third + 20; }, 5000));
    press("play");
    document().setPlayhead(0.5 * times.back());
    QTest::qWait(100);
    press("follow");
    QVERIFY(window_->stage().following());
    const auto at = std::lower_bound(times.begin(), times.end(), document().playhead());
    const auto& positions = document().routed()->way.positions;
    document().setPlayhead(*at);
    QTest::qWait(200);
    const QPointF ball =
        window_->stage().project(positions[static_cast<std::size_t>(at - times.begin())].ball);
    const QPointF middle(window_->stage().width() / 2.0, window_->stage().height() / 2.0);
    QVERIFY(std::abs(ball.x() - middle.x()) < 3 && std::abs(ball.y() - middle.y()) < 3);
    press("follow");
    QVERIFY(!window_->stage().following());
  }

  // Touches are added and taken away where the part was picked; a bad place says why.
  void touchesByPicking() {
    openDemo();
    window_->setDesk(Desk::Routine);
    const FeatureId a = document().plan().spec.datum("A")->features[0];
    const auto touches = [&] { return document().plan().feature(a).touches; };
    const auto before = touches();
    document().selectFeatures({a}, before[0].point + Vec3(2, 0, 0));
    field<QPushButton>("addTouch")->click();
    QVERIFY(idle());
    QCOMPARE(touches().size(), before.size() + 1);
    QVERIFY((touches()[1].point - before[0].point - Vec3(2, 0, 0)).norm() < 1e-3);
    press("addTouch"); // the same place again is refused
    QCOMPARE(touches().size(), before.size() + 1);
    press("removeTouch");
    QVERIFY(idle());
    QCOMPARE(touches().size(), before.size());
    document().selectFeatures({a}, Vec3(500, 0, 0));
    press("addTouch");
    QVERIFY(window_->findChild<QLabel*>("message")->text().contains("off the material"));
    document().clearSelection();
    press("addTouch");
    QCOMPARE(touches().size(), before.size());
  }

  // What is found out aside does not take away what is being typed.
  void typingOutlivesCoverage() {
    openDemo();
    window_->setDesk(Desk::Part);
    document().selectRequirement(RequirementId{0});
    QVERIFY(QTest::qWaitFor([&] { return document().noiseShare(RequirementId{0}) > 0; }, 200000));
    QVERIFY(QTest::qWaitFor([&] { return cardSays("Probing noise"); }, 5000));
    auto* tolerance = field<QLineEdit>("tolerance");
    QVERIFY(tolerance);
    tolerance->setFocus();
    tolerance->selectAll();
    QTest::keyClicks(tolerance, "0.0");
    emit document().coverageChanged();
    emit document().routedChanged();
    emit document().runsChanged();
    emit document().setupChanged();
    QTest::qWait(100);
    QCOMPARE(field<QLineEdit>("tolerance"), tolerance);
    QCOMPARE(tolerance->text(), QString("0.0"));
    QTest::keyClick(tolerance, Qt::Key_Escape);
    // Nor a datum half typed into the indicator.
    auto* indicator = field<IndicatorEdit>("indicator");
    QVERIFY(indicator);
    indicator->setFocus();
    QTest::keyClicks(indicator, "0.0");
    emit document().routedChanged();
    QTest::qWait(400);
    QCOMPARE(field<IndicatorEdit>("indicator"), indicator);
    QTest::keyClick(indicator, Qt::Key_Escape);
    QVERIFY(!indicator->isChanged());
  }

  // The map of head angles: a free place is picked, forced, and given back.
  void anglesArePickedInTheMap() {
    openDemo();
    window_->setDesk(Desk::Routine);
    const FeatureId id = document().plan().spec.requirement(RequirementId{0}).features.front();
    document().selectFeatures({id});
    auto* plot = field<ReachPlot>("reachPlot");
    QVERIFY(plot);
    QVERIFY(QTest::qWaitFor([&] { return !plot->map().cells.empty(); }, 20000));
    const ReachMap map = plot->map();
    const Access before = document().plan().feature(id).access;
    int row = -1, column = -1;
    for (int r = 0; r < map.rows && row < 0; ++r)
      for (int c = 0; c < map.columns && row < 0; ++c)
        if (map.at(r, c).reach == Reach::Free && map.at(r, c).a != before.a) row = r, column = c;
    QVERIFY(row >= 0);
    QVERIFY(plot->wordsAt(row, column).endsWith("free"));
    QTest::mouseClick(plot, Qt::LeftButton, {}, plot->centreOf(row, column));
    QVERIFY(idle());
    const Feature& f = document().plan().feature(id);
    QVERIFY(f.access_forced);
    QVERIFY(std::abs(f.access.a - map.at(row, column).a) < 1e-9);
    QVERIFY(std::abs(f.access.b - map.at(row, column).b) < 1e-9);
    // By keys: one step to the right and Enter.
    plot = field<ReachPlot>("reachPlot");
    QVERIFY(QTest::qWaitFor([&] { return !plot->map().cells.empty(); }, 20000));
    plot->setFocus();
    QTest::keyClick(plot, Qt::Key_Right);
    QTest::keyClick(plot, Qt::Key_Return);
    QVERIFY(std::abs(std::remainder(document().plan().feature(id).access.b - map.at(row, column).b -
                                        radians(5),
                                    2 * kPi)) < 1e-6);
    document().undo();
    document().undo();
    QVERIFY(idle());
    QVERIFY(document().plan().feature(id).access == before);
  }

  void commandBoxFindsEverything() {
    openDemo();
    QTest::keyClick(window_.get(), Qt::Key_K, Qt::ControlModifier);
    auto* box = window_->findChild<QLineEdit*>("commandBox");
    QVERIFY(QTest::qWaitFor([&] { return box->hasFocus(); }, 2000));
    QTest::keyClicks(box, "position 0.3");
    QTest::keyClick(box, Qt::Key_Return);
    QCOMPARE(document().plan().spec.requirement(*document().selection().requirement).balloon, 12);
    press("find");
    QTest::keyClicks(box, "verdict desk");
    QTest::keyClick(box, Qt::Key_Return);
    QVERIFY(window_->desk() == Desk::Verdict);
  }

  void badFilesGiveOneLine() {
    QFile f(dir_.filePath("foreign.step"));
    QVERIFY(f.open(QIODevice::WriteOnly));
    f.write("hello");
    f.close();
    openDemo();
    const std::string name = document().plan().name;
    document().open(f.fileName());
    QVERIFY(
        QTest::qWaitFor([&] { return window_->messageText().contains("not a STEP file"); }, 10000));
    QCOMPARE(document().plan().name, name); // what was open stays
    QCOMPARE(window_->sheet().list().model()->rowCount(), 35);
  }

  void cancelLeavesTheWindowAlive() {
    openDemo();
    const auto order = measured();
    document().draftAgain();
    QVERIFY(document().jobs().busy());
    document().jobs().cancel();
    QVERIFY(!document().jobs().busy());
    QTest::qWait(1500); // what was cancelled has ended by now
    QVERIFY(measured() == order);
    QVERIFY(document().undoText().isEmpty());
    press("draft");
    QVERIFY(idle());
  }

  void unsavedWorkIsAskedAbout() {
    openDemo();
    bool asked = false;
    QTimer::singleShot(300, [&] {
      for (QWidget* w : QApplication::topLevelWidgets())
        if (auto* box = qobject_cast<QMessageBox*>(w)) {
          asked = true;
          box->reject(); // stay here
        }
    });
    window_->close();
    QVERIFY(asked);
    QVERIFY(window_->isVisible());
    QVERIFY(document().save(dir_.filePath("saved.alder")));
    window_->close();
    QVERIFY(!window_->isVisible());
  }

  void everyDeskShowsItself() {
    openDemo();
    for (Desk desk : {Desk::Part, Desk::Bench, Desk::Routine, Desk::Rehearsal, Desk::Verdict}) {
      QTest::keyClick(window_.get(), static_cast<Qt::Key>(Qt::Key_1 + static_cast<int>(desk)),
                      Qt::AltModifier);
      QVERIFY(window_->desk() == desk);
      QTest::qWait(150);
      QVERIFY(filled() > 0.05);
    }
    const auto dark = Theme::load(true);
    QVERIFY(dark.has_value());
    MainWindow other(*dark);
    other.show();
    QVERIFY(QTest::qWaitForWindowExposed(&other));
  }

 private:
  static void NEARLY(double a, double b) {
    QVERIFY2(std::abs(a - b) < 1e-6, qPrintable(QString("%1 %2").arg(a).arg(b)));
  }
};

ALDER_TEST(WindowTest)
#include "window_test.moc"
