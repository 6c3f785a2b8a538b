// Steps that touch nothing, put in and changed as a user would.
#include "registry.h"
#include "timeline/step_list.h"
#include "window_driver.h"
#include <QCheckBox>
#include <QClipboard>
#include <QFileDialog>
#include <QTableWidget>
#include <set>

using namespace alder;
using namespace alder::app;

class StepsWindowTest : public WindowDriver {
  Q_OBJECT

  const Plan& plan() { return document().plan(); }
  const RoutineStep& selectedStep() {
    return plan().steps[indexOf(plan().steps, document().selection().steps.at(0))];
  }
  FeatureId named(const char* name) {
    for (const NominalFeature& f : plan().spec.features)
      if (f.name == name) return f.id;
    return {};
  }
  template <class Body> Body body() { return std::get<Body>(selectedStep().body); }
  // The step list, with these steps selected.
  StepList* listWith(const std::vector<StepId>& ids) {
    auto* list = window_->findChild<StepList*>();
    list->clearSelection();
    const auto& steps = document().routed()->way.steps;
    for (std::size_t i = 0; i < steps.size(); ++i)
      if (std::count(ids.begin(), ids.end(), steps[i].origin) &&
          (steps[i].kind == StepKind::Measure || steps[i].kind == StepKind::Wait ||
           steps[i].kind == StepKind::Note || steps[i].kind == StepKind::Group))
        list->selectionModel()->select(list->model()->index(static_cast<int>(i), 0),
                                       QItemSelectionModel::Select | QItemSelectionModel::Rows);
    return list;
  }

  // Reads a program by the menu's action; what then is done with what it proposes.
  void proposed(const QString& path, const std::function<void(QDialog&)>& then) {
    bool seen = false;
    QTimer poll;
    QTimer::singleShot(0, this, [&] {
      QVERIFY(QTest::qWaitFor([&] { return qobject_cast<QFileDialog*>(modal()); }, 5000));
      auto* files = qobject_cast<QFileDialog*>(modal());
      whenProposed(poll, seen, then);
      files->selectFile(path);
      QMetaObject::invokeMethod(files, "accept");
    });
    press("readProgram");
    QVERIFY(QTest::qWaitFor([&] { return seen && !modal(); }, 30000));
  }

 private slots:
  void initTestCase() {
    makeWindow();
    document().open(data("heron.alder"));
    QVERIFY(idle());
  }
  void init() {
    document().clearSelection();
    window_->setDesk(Desk::Routine);
    QTest::qWait(50);
  }
  void cleanup() { undoAll(); }
  void cleanupTestCase() { window_.reset(); }

  void waitThatOpensAClamp() {
    const double before = document().routed()->rehearsal.seconds;
    document().selectFeatures({measured()[9]});
    click("insertWait");
    QVERIFY(std::holds_alternative<WaitStep>(selectedStep().body));
    QCOMPARE(measured()[9], std::get<MeasureStep>(plan().steps[10].body).feature);
    type("waitText", "Take the clamp off");
    QVERIFY(idle());
    choose("waitClamp", "open clamp 1");
    type("waitSeconds", "45");
    QVERIFY(idle());
    QCOMPARE(body<WaitStep>().text, std::string("Take the clamp off"));
    QCOMPARE(*body<WaitStep>().clamp, std::string("clamp 1"));
    QCOMPARE(body<WaitStep>().seconds, 45.0);
    QVERIFY(document().routed()->rehearsal.seconds > before + 45);
    QVERIFY(document().routed()->rehearsal.clear());
    QCOMPARE(document().routed()->way.states.size(), std::size_t(2));
    // The clamp is seen open from then on.
    window_->setDesk(Desk::Rehearsal);
    document().setPlayhead(1);
    QTest::qWait(300);
    const QImage closed = window_->stage().view().grabFramebuffer();
    document().setPlayhead(document().routed()->rehearsal.seconds - 1);
    QTest::qWait(300);
    QVERIFY(window_->stage().view().grabFramebuffer() != closed);
  }
  void betweenTouches() {
    document().selectFeatures({measured()[9]});
    click("insertWait");
    const FeatureId f = measured()[9];
    click("putWithin");
    QCOMPARE(selectedStep().depth, 1);
    type("stepBefore", "4");
    QVERIFY(idle());
    QCOMPARE(selectedStep().before, 3);
    QCOMPARE(measured()[9], f);
    QVERIFY(document().routed()->rehearsal.clear());
    click("putOutside");
    QCOMPARE(selectedStep().depth, 0);
  }
  void questionsAndNotes() {
    click("insertAsk"); // nothing is selected: at the end
    QVERIFY(std::holds_alternative<AskStep>(plan().steps.back().body));
    type("askWhat", "Temperature");
    choose("askNumber", "a number");
    type("askUnit", "°C");
    QVERIFY(idle());
    QVERIFY(body<AskStep>() == (AskStep{"Temperature", true, "°C"}));
    type("askWhat", "");
    QVERIFY2(told().contains("what the operator is asked"), qPrintable(told()));
    QCOMPARE(body<AskStep>().what, std::string("Temperature"));
    press("insertNoteStep");
    QVERIFY(idle());
    type("noteText", "see drawing");
    QCOMPARE(body<NoteStep>().text, std::string("see drawing"));
  }
  void movesTurnsAndSwaps() {
    document().selectFeatures({measured()[9]});
    document().setPlayhead(20);
    click("insertMove");
    QVERIFY(std::holds_alternative<MoveStep>(selectedStep().body));
    choose("moveFrom", "Bore ø32");
    for (int k = 0; k < 3; ++k)
      type(QString("movePlace%1").arg(k).toLatin1(), k == 2 ? "100" : "0");
    QVERIFY(idle());
    QVERIFY(body<MoveStep>().place == Vec3(0, 0, 100));
    QCOMPARE(plan().nominal(body<MoveStep>().feature).name, std::string("Bore ø32"));
    QVERIFY(document().routed()->rehearsal.clear());
    click("insertTurn");
    type("turnA", "30");
    type("turnB", "-45");
    QVERIFY(idle());
    QVERIFY(std::abs(body<TurnStep>().b + radians(45)) < 1e-9);
    QVERIFY(document().routed()->rehearsal.clear());
    click("insertSwap");
    choose("swapStylus", "long ø4");
    QCOMPARE(body<SwapStep>().stylus, std::string("long ø4"));
    QVERIFY(document().routed()->rehearsal.clear());
  }
  void qualifiesWithinTheRoutine() {
    const double before = document().routed()->rehearsal.seconds;
    document().selectFeatures({measured()[5]});
    click("insertQualify");
    QVERIFY(std::holds_alternative<QualifyStep>(selectedStep().body));
    QVERIFY(document().routed()->rehearsal.seconds > before + 30);
    QVERIFY(document().routed()->rehearsal.clear());
    const auto tips = [&] {
      const auto& steps = document().routed()->way.steps;
      return std::count_if(steps.begin(), steps.end(),
                           [](const Step& s) { return s.kind == StepKind::Qualify; });
    };
    const auto all = static_cast<std::ptrdiff_t>(accessesUsed(plan()).size());
    QCOMPARE(tips(), all);
    choose("qualifyWhich", "all, the sphere was moved");
    QVERIFY(body<QualifyStep>().sphere_moved);
    choose("qualifyReported", "no");
    QVERIFY(!body<QualifyStep>().reported);
    QVERIFY(document().routed()->rehearsal.clear());
    QCOMPARE(tips(), all);
  }
  void evaluatesBranchesAndWrites() {
    document().selectFeatures({measured()[9]});
    click("insertEvaluate");
    type("evaluateWhich", "2, 999");
    QVERIFY2(told().contains("999"), qPrintable(told()));
    type("evaluateWhich", "2, 3");
    QVERIFY(idle());
    QVERIFY(body<EvaluateStep>() == (EvaluateStep{{balloon(2), balloon(3)}}));
    click("insertBranch");
    choose("branchIf", document().plan().spec.requirements[1].balloon == 2
                           ? QString("2 ") + QString::fromStdString(
                                                 describe(document().plan().spec.requirements[1]))
                           : QString());
    choose("branchWhen", "near its limit, or outside");
    // Only what stands in a group can leave one.
    auto* does = field<QComboBox>("branchDoes");
    does->setCurrentIndex(1);
    emit does->activated(1);
    QVERIFY2(told().contains("must stand in one"), qPrintable(told()));
    choose("branchDoes", "end the routine");
    QVERIFY(body<BranchStep>() ==
            (BranchStep{balloon(2), BranchWhen::NearOrOutside, BranchDoes::Stop}));
    click("insertOutput");
    choose("outputKind", "report");
    QVERIFY(body<OutputStep>().file.ends_with(".pdf"));
    type("outputFile", "{routine} {Serial number}");
    QVERIFY(idle());
    QVERIFY(body<OutputStep>() == (OutputStep{OutputKind::Report, "{routine} {Serial number}"}));
    type("outputFile", "");
    QVERIFY2(told().contains("Name the file"), qPrintable(told()));
    QVERIFY(document().routed()->rehearsal.clear());
    // They all stand in the list of steps.
    const auto& steps = document().routed()->way.steps;
    for (const StepKind kind : {StepKind::Evaluate, StepKind::Branch, StepKind::Output})
      QCOMPARE(
          std::count_if(steps.begin(), steps.end(), [&](const Step& s) { return s.kind == kind; }),
          1);
  }
  void constructsByAStep() {
    document().selectFeatures({named("Bore ø11 · 1"), named("Bore ø11 · 2")});
    press("construct");
    const FeatureId constructed = document().selection().features.front();
    QVERIFY(plan().nominal(constructed).isConstructed());
    document().clearSelection();
    click("insertConstruct"); // at the end
    QVERIFY(body<ConstructStep>().feature == constructed);
    QVERIFY(std::none_of(
        document().routed()->way.notes.begin(), document().routed()->way.notes.end(),
        [](const Note& n) { return n.text.find("constructed before") != std::string::npos; }));
  }
  // One hole of the circle stands for all; a copy is left out, changed and made to follow again.
  void repeats() {
    const auto all = measured();
    const FeatureId one = named("Bore ø11 · 1"), third = named("Bore ø11 · 3");
    document().selectFeatures({one});
    press("repeatSteps");
    QVERIFY(idle());
    QVERIFY(std::holds_alternative<RepeatStep>(selectedStep().body));
    const StepId repeat = selectedStep().id;
    QVERIFY(told().contains("5 other places"));
    QVERIFY(std::set(all.begin(), all.end()) == [&] {
      const auto now = measured();
      return std::set(now.begin(), now.end());
    }());
    QVERIFY(document().routed()->rehearsal.clear());
    // A copy left out by a click, and taken in by its own card.
    click("copy3");
    QCOMPARE(measured().size(), all.size() - 1);
    QVERIFY(body<RepeatStep>().copies[1].skipped);
    document().selectFeatures({body<RepeatStep>().copies[1].features.front().second});
    QVERIFY(cardSays("Left out."));
    click("skipCopy");
    QCOMPARE(measured().size(), all.size());
    // The original changes its copies; one that was changed by itself stays.
    document().selectFeatures({third});
    QVERIFY(cardSays("It follows its original"));
    type("perRow", "8");
    QVERIFY(idle());
    QVERIFY(cardSays("no longer follows"));
    document().selectFeatures({one});
    type("perRow", "5");
    QVERIFY(idle());
    const auto touches = [&](FeatureId id) { return plan().feature(id).touches.size(); };
    QCOMPARE(touches(named("Bore ø11 · 2")), touches(one));
    QVERIFY(touches(third) != touches(one));
    document().selectFeatures({third});
    click("asOriginal");
    QCOMPARE(touches(third), touches(one));
    // Delete on a copy leaves it out instead of taking the repeat away.
    document().selectFeatures({third});
    press("removeSteps");
    QVERIFY(idle());
    QCOMPARE(measured().size(), all.size() - 1);
    document().undo();
    QVERIFY(idle());
    // Other rules, by the card.
    document().selectSteps({repeat});
    type("patternCount", "0");
    QVERIFY2(told().contains("from 1 to"), qPrintable(told()));
    choose("patternKind", "in a row");
    type("patternStep", "10, x");
    QVERIFY2(told().contains("not three numbers"), qPrintable(told()));
    type("patternStep", "0, 500, 0");
    QVERIFY(idle());
    QVERIFY(cardSays("the part has no surface there"));
    choose("patternKind", "in rows");
    type("patternRows", "3");
    QVERIFY(idle());
    QCOMPARE(body<RepeatStep>().copies.size(), motionsOf(body<RepeatStep>().pattern).size());
    choose("patternKind", "mirrored");
    choose("patternAbout", "Slot 6");
    QVERIFY((body<RepeatStep>().pattern->axis - plan().nominal(named("Slot 6")).ideal.direction)
                .norm() < 1e-12);
    choose("patternKind", "about an axis");
    choose("patternAbout", "Bore ø32");
    type("patternCount", "6");
    QVERIFY(idle());
    const auto copies = body<RepeatStep>().copies;
    QCOMPARE(std::count_if(copies.begin(), copies.end(),
                           [](const RepeatCopy& c) { return !c.features.empty(); }),
             5);
    QCOMPARE(measured().size(), all.size());
    QVERIFY(document().routed()->rehearsal.clear());
    click("ungroup");
    QVERIFY(std::none_of(plan().steps.begin(), plan().steps.end(), [](const RoutineStep& s) {
      return std::holds_alternative<RepeatStep>(s.body);
    }));
    QCOMPARE(measured().size(), all.size());
  }
  // Places out of a spreadsheet; the first row is the original.
  void placesArePasted() {
    const FeatureId one = named("Bore ø11 · 1"), two = named("Bore ø11 · 2");
    document().selectFeatures({one});
    press("repeatSteps");
    QVERIFY(idle());
    choose("patternKind", "as listed");
    QVERIFY(body<RepeatStep>().copies.empty());
    const Vec3 from = plan().nominal(one).ideal.point, to = plan().nominal(two).ideal.point;
    QGuiApplication::clipboard()->setText(QString("x\ty\tz\n%1\t%2\t%3\n%4\t%5\t%6\n")
                                              .arg(from.x(), 0, 'f', 9)
                                              .arg(from.y(), 0, 'f', 9)
                                              .arg(from.z(), 0, 'f', 9)
                                              .arg(to.x(), 0, 'f', 9)
                                              .arg(to.y(), 0, 'f', 9)
                                              .arg(to.z(), 0, 'f', 9));
    click("pastePlaces");
    QCOMPARE(body<RepeatStep>().copies.size(), std::size_t(1));
    QVERIFY(body<RepeatStep>().copies.front().of(one) == two);
    QGuiApplication::clipboard()->setText("no table");
    click("pastePlaces");
    QVERIFY2(told().contains("Paste two rows"), qPrintable(told()));
    click("copyPlaces");
    QVERIFY(QGuiApplication::clipboard()->text().startsWith("0\t0\t0\n"));
    type("patternPlace0", "");
    QVERIFY(idle());
    QVERIFY(body<RepeatStep>().copies.empty());
  }
  void groupsLeftOutAndTakenIn() {
    const auto order = measured();
    document().selectFeatures({order[8], order[9]});
    press("groupSteps");
    QVERIFY(idle());
    QVERIFY(std::holds_alternative<GroupStep>(selectedStep().body));
    type("groupName", "Flange");
    QVERIFY(idle());
    QVERIFY(measured() == order);
    press("leaveOutSteps");
    QVERIFY(idle());
    QCOMPARE(measuringOrder(plan().steps, false).size(), order.size() - 2);
    QVERIFY(cardSays("Left out"));
    int uncovered = 0;
    for (const Requirement& r : plan().spec.requirements)
      uncovered += !isCovered(plan(), r);
    QVERIFY(uncovered > 0);
    press("leaveOutSteps");
    QVERIFY(idle());
    press("ungroupSteps");
    QVERIFY(idle());
    QCOMPARE(plan().steps.size(), order.size());
  }
  // The list: cut, pasted elsewhere, moved and removed by keys.
  void byKeysInTheList() {
    press("stepList");
    const auto order = measured();
    auto* list = listWith({stepOf(plan().steps, order[9])});
    QTest::keyClick(list, Qt::Key_X, Qt::ControlModifier);
    QVERIFY(idle());
    QCOMPARE(measured().size(), order.size() - 1);
    list = listWith({stepOf(plan().steps, order[5])});
    QTest::keyClick(list, Qt::Key_V, Qt::ControlModifier);
    QVERIFY(idle());
    QCOMPARE(measured()[5], order[9]);
    QCOMPARE(measured()[6], order[5]);
    // Once more: it is there already.
    QTest::keyClick(list, Qt::Key_V, Qt::ControlModifier);
    QVERIFY2(told().contains("measured in this routine already"), qPrintable(told()));
    QGuiApplication::clipboard()->setText("words");
    QTest::keyClick(list, Qt::Key_V, Qt::ControlModifier);
    QVERIFY(told().contains("no steps to paste"));
    list = listWith({stepOf(plan().steps, order[7])});
    QTest::keyClick(list, Qt::Key_Down, Qt::AltModifier);
    QVERIFY(idle());
    QCOMPARE(measured()[9], order[7]);
    QTest::keyClick(list, Qt::Key_Delete);
    QVERIFY(idle());
    QCOMPARE(measured().size(), order.size() - 1);
    // Of the part frame nothing goes.
    list = listWith({stepOf(plan().steps, order[0])});
    QTest::keyClick(list, Qt::Key_Delete);
    QVERIFY2(told().contains("part frame"), qPrintable(told()));
    press("stepList");
  }
  void waitsAreDraggedInTheTimeline() {
    document().selectFeatures({measured()[9]});
    click("insertWait");
    const StepId wait = document().selection().steps.at(0);
    auto& timeline = window_->timeline();
    const Routed& routed = *document().routed();
    double middle = 0;
    for (const Step& s : routed.way.steps)
      if (s.origin == wait && s.kind == StepKind::Wait)
        middle = (routed.rehearsal.times[static_cast<std::size_t>(s.first) - 1] +
                  routed.rehearsal.times[static_cast<std::size_t>(s.last)]) /
                 2;
    const QPoint from(static_cast<int>(timeline.xOf(middle)), 168),
        to(static_cast<int>(timeline.blockOf(measured()[6]).left()) + 2, 168);
    QTest::mousePress(&timeline, Qt::LeftButton, {}, from);
    QTest::mouseMove(&timeline, from - QPoint(12, 0));
    QTest::mouseMove(&timeline, to);
    QTest::mouseRelease(&timeline, Qt::LeftButton, {}, to);
    QVERIFY(idle());
    QCOMPARE(indexOf(plan().steps, wait), std::size_t(6));
  }
  // A wait shows what the stage showed, or a file; taken away, undone, refused.
  void picturesInWaits() {
    undoAll();
    const Plan& plan = document().plan();
    document().selectSteps({plan.steps[2].id});
    document().insertStep(WaitStep{"Clamp off"});
    QVERIFY(idle());
    const StepId wait = document().selection().steps.front();
    const auto picture = [&] {
      return *std::get<WaitStep>(plan.steps[indexOf(plan.steps, wait)].body).picture;
    };
    click("waitFromStage");
    QCOMPARE(picture(), std::string("stage.png"));
    QVERIFY(field<QLabel>("waitPicture") && !field<QLabel>("waitPicture")->pixmap().isNull());
    QVERIFY(document().save(dir_.filePath("pictures.alder")));
    const auto saved = openProject(dir_.filePath("pictures.alder").toStdString());
    QVERIFY(saved && saved->plan.pictures == plan.pictures);
    // Another one of the same name is kept beside it.
    QVERIFY(window_->grab().toImage().save(dir_.filePath("stage.png")));
    document().showPictureFile(dir_.filePath("stage.png"));
    QVERIFY(idle());
    QCOMPARE(picture(), std::string("stage 2.png"));
    QCOMPARE(plan.pictures.size(), std::size_t(2));
    document().showPictureFile(data("bench.json"));
    QVERIFY2(told().contains("is no PNG or JPEG"), qPrintable(told()));
    QCOMPARE(picture(), std::string("stage 2.png"));
    click("waitNoPicture");
    QCOMPARE(picture(), std::string());
    document().undo();
    QVERIFY(idle());
    QCOMPARE(picture(), std::string("stage 2.png"));
    document().clearSelection();
    document().showPictureFile(dir_.filePath("stage.png"));
    QVERIFY(told().contains("Select the wait"));
    undoAll();
    QVERIFY(plan.pictures.empty());
  }
  // A frame from features that are selected, one after the other; changed, renamed, undone.
  void framesAsSteps() {
    undoAll();
    const Plan& plan = document().plan();
    document().selectFeatures({plan.alignment[0], plan.alignment[1]});
    press("insertFrame");
    QVERIFY(idle());
    QCOMPARE(plan.frames.size(), std::size_t(1));
    QVERIFY(cardSays("Use a part frame"));
    QVERIFY(cardSays("turn about z")); // can still move
    const std::size_t at = indexOf(plan.steps, document().selection().steps.front());
    QVERIFY(std::holds_alternative<UseFrameStep>(plan.steps[at].body));
    QVERIFY(at > indexOf(plan.steps, stepOf(plan.steps, plan.alignment[1])));
    type("frameName", "clamped");
    QVERIFY(idle());
    QCOMPARE(plan.frames.front().name, std::string("clamped"));
    QCOMPARE(std::get<UseFrameStep>(plan.steps[at].body).frame, std::string("clamped"));
    choose("frameFit", "minimax");
    QCOMPARE(plan.frames.front().fit, FrameFit::LeastWorst);
    type("frameHeld", "uvk"); // no such direction
    QVERIFY(idle());
    QVERIFY(told().contains("x y z"));
    QCOMPARE(plan.frames.front().held, std::string());
    type("frameHeld", "uv");
    QVERIFY(idle());
    QCOMPARE(plan.frames.front().held, std::string("uv"));
    type("frameShift2", "0.5");
    QVERIFY(idle());
    QCOMPARE(plan.frames.front().shift.z(), 0.5);
    const auto& steps = document().routed()->way.steps;
    QVERIFY(std::any_of(steps.begin(), steps.end(), [](const Step& s) {
      return s.kind == StepKind::UseFrame && s.frame == "clamped";
    }));
    // Weights and bands, found until it rests; features taken together and apart again.
    type("frameWeight0", "2.5");
    QVERIFY(idle());
    QCOMPARE(plan.frames.front().stages[0].weight, 2.5);
    choose("frameFit", "inside bands");
    for (const char* band : {"frameBand0", "frameBand1"}) {
      type(band, "-0.02, 0.05");
      QVERIFY(idle());
    }
    QVERIFY((plan.frames.front().stages[1].band == Band{-0.02, 0.05}));
    type("frameBand1", "0.05, -0.02");
    QVERIFY(told().contains("lower edge"));
    type("frameBand1", "wide");
    QVERIFY((plan.frames.front().stages[1].band == Band{-0.02, 0.05}));
    type("frameUntil", "0.01");
    QVERIFY(idle());
    type("frameMost", "3");
    QVERIFY(idle());
    QVERIFY((std::get<UseFrameStep>(plan.steps[at].body) == UseFrameStep{"clamped", 0.01, 3}));
    type("frameName", "locked degrees");
    QVERIFY(idle());
    QVERIFY(
        (std::get<UseFrameStep>(plan.steps[at].body) == UseFrameStep{"locked degrees", 0.01, 3}));
    choose("frameFit", "in order (3-2-1)");
    click("frameJoin1");
    QCOMPARE(plan.frames.front().stages.size(), std::size_t(1));
    QCOMPARE(plan.frames.front().stages[0].features.size(), std::size_t(2));
    click("frameApart0");
    QCOMPARE(plan.frames.front().stages.size(), std::size_t(2));
    undoAll();
    QVERIFY(plan.frames.empty());
    // By the datums of a requirement.
    selectBalloon(9);
    press("insertFrame");
    QVERIFY(idle());
    QCOMPARE(plan.frames.front().stages.size(), std::size_t(3));
    QVERIFY(cardSays("nothing"));
    undoAll();
    document().clearSelection();
    press("insertFrame");
    QVERIFY(told().contains("Select the features"));
  }
  // Written and read again, with a line that nobody knows.
  void dmisOutAndIn() {
    undoAll();
    const auto order = measured();
    const QString path = dir_.filePath("heron.dmi");
    QVERIFY(document().exportTo(path));
    auto text = readFile(path.toStdString());
    QVERIFY(text.has_value());
    const std::string mark = "MODE/PROG,MAN\n"; // behind the macro that qualifies
    text->insert(text->find(mark, text->find("ENDMAC")) + mark.size(), "WKPLAN/XYPLAN\n");
    QVERIFY(writeFile(path.toStdString(), *text).has_value());
    // Left as it is, nothing has changed.
    proposed(path, [&](QDialog& dialog) {
      auto* lines = dialog.findChild<QTableWidget*>("proposalLines");
      auto* open_only = dialog.findChild<QCheckBox*>("proposalOpenOnly");
      QVERIFY(open_only->isChecked());
      bool note = false;
      for (int row = 0; row < lines->rowCount(); ++row)
        note |=
            lines->item(row, 1)->text() == "WKPLAN/XYPLAN" && lines->item(row, 2)->text() == "note";
      QVERIFY(note);
      const int open = lines->rowCount();
      QTest::keyClick(open_only, Qt::Key_Space);
      QVERIFY(lines->rowCount() > open + 100);
      QVERIFY(dialog.findChild<QLabel*>("proposalSummary")->text().contains("1 stays as a note"));
      QTest::keyClick(lines, Qt::Key_Escape);
    });
    QVERIFY(measured() == order);
    QVERIFY(document().save(dir_.filePath("kept.alder"))); // so that nothing is asked
    proposed(path, [](QDialog& dialog) {
      QTest::keyClick(dialog.findChild<QTableWidget*>("proposalLines"), Qt::Key_Return);
    });
    QVERIFY(told().contains("1 kept as notes"));
    QVERIFY(idle());
    QVERIFY(measured() == order);
    QVERIFY(document().path().isEmpty() && document().unsaved());
    const auto& steps = document().routed()->way.steps;
    QVERIFY(std::any_of(steps.begin(), steps.end(), [](const Step& s) {
      return s.text.find("WKPLAN/XYPLAN") != std::string::npos;
    }));
    document().readProgramFile(data("bench.json"));
    QTRY_VERIFY(told().contains("holds no DMIS program"));
    QVERIFY(measured() == order);
  }
};
ALDER_TEST(StepsWindowTest)
#include "steps_window_test.moc"
