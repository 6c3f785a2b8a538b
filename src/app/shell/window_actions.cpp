// The actions of the window: name, key, the desk whose bar offers them, what they do.
#include "shell/main_window.h"

#include "document/file_kinds.h"
#include "plan/numbering.h"
#include "shell/program_proposal.h"

#include <QApplication>
#include <QClipboard>
#include <QFileDialog>
#include <QFileInfo>
#include <QMenuBar>
#include <QSettings>
#include <QTimer>

namespace alder::app {

void MainWindow::addActions() {
  addPartActions();
  addBenchActions();
  addStepActions();
  addRehearsalActions();
  addPartsActions();
}

void MainWindow::addDrawingActions() {
  using std::nullopt;
  actions_.add("addDrawing", "Add a drawing …", "Ctrl+Shift+O", nullopt, [this] {
    if (!document_.isOpen()) return showMessage("Open the part of the drawing first", true);
    const QString path = QFileDialog::getOpenFileName(
        this, "Drawing of the part", {}, "Drawings (*.pdf *.png *.jpg *.jpeg *.tif *.tiff)");
    if (!path.isEmpty()) addDrawing(path);
  });
  actions_.add("readList", "Requirements from a list …", "Ctrl+Shift+L", nullopt, [this] {
    if (!document_.isOpen()) return showMessage("Open the part that the list is of first", true);
    const QString path = QFileDialog::getOpenFileName(this, "List of requirements", {},
                                                      "Tables (*.csv *.txt *.tsv *.xlsx)");
    if (path.isEmpty()) return;
    setDesk(Desk::Part);
    document_.readList(path);
  });
  actions_.add("bodies", "Bodies of the part …", "Ctrl+Alt+B", nullopt, [this] {
    if (!document_.isOpen()) return;
    if (document_.plan().part->bodies.size() < 2)
      return showMessage("The file holds one body", false);
    setDesk(Desk::Part);
    document_.clearSelection();
    QTimer::singleShot(0, this, [this] { // once the card is built
      if (auto* tree = findChild<QWidget*>("bodies")) tree->setFocus();
    });
  });
  actions_.add("pasteList", "Paste a list of requirements", "Ctrl+Shift+V", nullopt, [this] {
    setDesk(Desk::Part);
    document_.pasteList(QApplication::clipboard()->text());
  });
  actions_.add("tieToPicked", "Tie the requirement to what is picked", "Alt+T", nullopt,
               [this] { document_.tieToPicked(); });
  actions_.add("openRevision", "Newer model or drawing …", "Ctrl+Alt+N", nullopt, [this] {
    if (!document_.isOpen())
      return showMessage("Open the routine that is to be revised first", true);
    openRevision(QFileDialog::getOpenFileNames(this, "Newer model and drawing of this part", {},
                                               "Models and drawings (" + kPartPatterns +
                                                   " *.pdf *.png *.jpg *.jpeg *.tif *.tiff)"));
  });
  actions_.add("finishRevision", "Finish the revision", "Ctrl+Alt+Return", nullopt, [this] {
    if (!revision_.active()) return showMessage("No revision is open (Ctrl+Alt+N)", true);
    revision_.finish();
  });
  actions_.add("giveUpRevision", "Give the revision up", "", nullopt, [this] {
    if (!revision_.active()) return showMessage("No revision is open (Ctrl+Alt+N)", true);
    revision_.giveUp();
    showMessage("The revision is given up; nothing was changed", false);
  });
  actions_.add("showDrawing", "Drawing beside the stage", "D", nullopt, [this] {
    if (!drawings_.shown()) return showMessage("Add a drawing first (Ctrl+Shift+O)", true);
    drawing_wanted_ = desk_ != Desk::Part || !drawing_wanted_;
    setDesk(Desk::Part);
    if (drawing_wanted_)
      drawing_->view().setFocus();
    else
      stage_->setFocus();
  });
  actions_.add("takeAllSure", "Take what the drawing asks for and is sure", "Alt+D", nullopt,
               [this] {
                 if (!drawings_.shown())
                   return showMessage("Add a drawing first (Ctrl+Shift+O)", true);
                 setDesk(Desk::Part);
                 drawings_.takeAllSure();
               });
  actions_.add("takeTitle", "Take the part data from the drawing", "", nullopt,
               [this] { drawings_.takeTitle(); });
  actions_.add("attachDocument", "Attach a document of the part …", "", nullopt, [this] {
    if (!document_.isOpen()) return showMessage("Open a part first", true);
    const QString path = QFileDialog::getOpenFileName(this, "Document of the part");
    if (!path.isEmpty()) document_.attachDocument(path);
  });
  actions_.add("writeBallooned", "Write the drawing with balloons …", "", nullopt, [this] {
    if (!drawings_.shown()) return showMessage("Add a drawing first (Ctrl+Shift+O)", true);
    const QString path = QFileDialog::getSaveFileName(
        this, "Drawing with balloons", suggested("-balloons.pdf"), "Drawing (*.pdf)");
    if (!path.isEmpty()) drawings_.writeBallooned(path);
  });
  const auto number = [this](Numbering by, const char* words) {
    if (!document_.isOpen()) return;
    document_.edit(words, {SetSpecification{numbered(document_.plan(), by)}});
  };
  actions_.add("numberAsMeasured", "Number as measured", "", nullopt,
               [=] { number(Numbering::AsMeasured, "Number as measured"); });
  actions_.add("numberOnDrawing", "Number clockwise by page", "", nullopt,
               [=] { number(Numbering::OnDrawing, "Number clockwise by page"); });
  actions_.add("numberEarlier", "Earlier numbers for the selected requirements", "", nullopt,
               [this] { document_.shiftNumbers(-1); });
  actions_.add("numberLater", "Later numbers for the selected requirements", "", nullopt,
               [this] { document_.shiftNumbers(1); });
  actions_.add("removeDrawing", "Remove the drawing", "", nullopt, [this] { drawings_.remove(); });
}

void MainWindow::addPartActions() {
  using std::nullopt;
  actions_.add("open", "Open …", "Ctrl+O", Desk::Part, [this] { openWithDialog(); });
  actions_.add("save", "Save", "Ctrl+S", Desk::Part, [this] { save(false); });
  actions_.add("saveAs", "Save as …", "Ctrl+Shift+S", nullopt, [this] { save(true); });
  actions_.add("pickLargest", "Pick the largest face", "", nullopt, [this] {
    setDesk(Desk::Part);
    document_.pickLargestFace();
  });
  actions_.add("addFirst", "Add sizes of bores and bosses, flatness of the largest plane", "",
               nullopt, [this] { document_.addFirstRequirements(); });
  actions_.add("typeRequirement", "Type requirements on what is picked", "T", Desk::Part, [this] {
    if (!document_.isOpen()) return showMessage("Open a part first", true);
    setDesk(Desk::Part);
    type_line_->begin();
  });
  addDrawingActions();
  actions_.add("nextUncovered", "Next uncovered", "Ctrl+U", Desk::Part,
               [this] { sheet_->selectNext(false); });
  actions_.add("construct", "Construct the likeliest feature", "Ctrl+Shift+D", nullopt,
               [this] { document_.constructLikeliest(); });
  actions_.add("addValue", "Add a value by formula", "", nullopt, [this] {
    setDesk(Desk::Part);
    document_.addValue();
  });
  actions_.add("removeRequirements", "Remove the selected requirements", "", nullopt,
               [this] { document_.removeRequirements(); });
  actions_.add("undo", "Undo", "Ctrl+Z", nullopt, [this] { document_.undo(); });
  actions_.add("redo", "Redo", "Ctrl+Shift+Z", nullopt, [this] { document_.redo(); });
  actions_.add("startFromTemplate", "New routine from a template …", "Ctrl+N", nullopt, [this] {
    if (!mayDiscard()) return;
    const QString start = QFileDialog::getOpenFileName(this, "Template to start from", {},
                                                       "Templates (*.alder-template)");
    if (start.isEmpty()) return;
    const QString part = QFileDialog::getOpenFileName(this, "Part of the new routine", {},
                                                      "Parts (" + kPartPatterns + ")");
    if (!part.isEmpty()) document_.open(part, start);
  });
  actions_.add("saveTemplate", "Save as a template …", "", nullopt, [this] {
    if (!document_.isOpen()) return;
    const QString path =
        QFileDialog::getSaveFileName(this, "Template for new routines",
                                     suggested(".alder-template"), "Templates (*.alder-template)");
    if (!path.isEmpty()) document_.saveTemplate(path);
  });
}

void MainWindow::addBenchActions() {
  actions_.add("bench", "Change bench …", "", Desk::Bench, [this] {
    const QString path = QFileDialog::getOpenFileName(this, "Bench", {}, "Bench (*.json)");
    if (!path.isEmpty()) document_.changeBench(path);
  });
  actions_.add("quarterTurn", "Turn part a quarter", "", Desk::Bench, [this] {
    if (!document_.isOpen()) return;
    // about the upright line through the middle of the part
    const Plan& plan = document_.plan();
    const Vec3 middle = plan.placement * plan.part->mesh.box().center();
    document_.edit(
        "Turn the part",
        {SetPlacement{smallMotion(Vec3(0, 0, kPi / 2), Vec3::Zero(), middle) * plan.placement}});
  });
  actions_.add("takeStylus", "Take on the stylus that would reach", "Alt+Y", {},
               [this] { document_.takeFittingStylus(); });
  actions_.add("otherStandings", "Other standings of the part …", "Ctrl+Alt+U", {}, [this] {
    if (!document_.isOpen()) return;
    setDesk(Desk::Bench);
    document_.clearSelection();
    document_.tryOtherStandings();
  });
  actions_.add("nextSetup", "Work on the next set-up", "Ctrl+Alt+S", {}, [this] {
    if (!document_.isOpen()) return;
    const Plan& plan = document_.plan();
    if (plan.setups.size() < 2) {
      emit document_.message("The routine has one set-up", false);
      return;
    }
    document_.workOn(document_.setupAfter(plan.setup).value_or(plan.setups.front().id));
  });
  actions_.add("draft", "Draft from requirements", "Ctrl+D", Desk::Routine,
               [this] { document_.draftAgain(); });
  actions_.add("addTouch", "Add a touch where picked", "Ctrl+T", {},
               [this] { document_.addTouchWherePicked(); });
  actions_.add("removeTouch", "Remove the touch next to the pick", "Ctrl+Shift+T", {},
               [this] { document_.removeTouchWherePicked(); });
  actions_.add("moveTouch", "Move the next touch to the pick", "Ctrl+Alt+T", {},
               [this] { document_.moveTouchWherePicked(); });
  actions_.add("pointAlong", "Point the stylus along the last selected", "Alt+A", {},
               [this] { document_.pointAlongLast(); });
  actions_.add("hopProposed", "Enter as proposed", "Alt+P", {},
               [this] { document_.enterBy(HopMode::Proposed); });
  actions_.add("hopOver", "Enter over the shell", "Alt+O", {},
               [this] { document_.enterBy(HopMode::Over); });
  actions_.add("hopClose", "Enter directly", "Alt+C", {},
               [this] { document_.enterBy(HopMode::Close); });
  actions_.add("measureFaces", "Measure the picked faces", "Alt+M", {},
               [this] { document_.measureFaces(); });
  actions_.add("leaveOutSteps", "Leave steps out, or take them in again", "Alt+X", {},
               [this] { document_.leaveOutSteps(); });
  actions_.add("groupSteps", "Group the selected steps", "Alt+G", {},
               [this] { document_.groupSteps(); });
  actions_.add("repeatSteps", "Repeat the selected steps elsewhere", "Alt+E", {},
               [this] { document_.repeatSteps(); });
  actions_.add("ungroupSteps", "Ungroup, or write copies out", "Alt+Shift+G", {},
               [this] { document_.ungroupSteps(); });
  actions_.add("stepsOn", "Move steps on", "", {}, [this] { document_.shiftSteps(1); });
  actions_.add("stepsBack", "Move steps back", "", {}, [this] { document_.shiftSteps(-1); });
  actions_.add("removeSteps", "Remove the selected steps", "", {},
               [this] { document_.removeSteps(); });
  for (const StepOffer& offer : Card::offers(document_))
    if (!offer.action.isEmpty() && offer.body)
      actions_.add(offer.action_id, offer.action, offer.key, {},
                   [this, body = *offer.body] { document_.insertStep(body); });
  actions_.add("pictureFromStage", "Show the stage as it is now in the selected wait", "", {},
               [this] { pictureFromStage(); });
  actions_.add("pictureFromFile", "Show a picture in the selected wait …", "", {}, [this] {
    if (!document_.isOpen()) return;
    const QString path = QFileDialog::getOpenFileName(this, "Picture for the operator", {},
                                                      "Pictures (*.png *.jpg *.jpeg *.PNG *.JPG)");
    if (!path.isEmpty()) document_.showPictureFile(path);
  });
}

void MainWindow::addStepActions() {
  actions_.add("insertFrame", "Use a frame from what is selected", "Alt+F", {},
               [this] { document_.insertFrame(); });
  actions_.add("insertMoveStep", "Insert a move to the current position", "", {},
               [this] { document_.insertMoveHere(); });
  actions_.add("order", "Order for time", "", Desk::Routine, [this] { document_.orderForTime(); });
  actions_.add("writeProgram", "Write DMIS …", "", Desk::Routine, [this] {
    const QString path = QFileDialog::getSaveFileName(this, "Program for the machine",
                                                      suggested(".dmi"), "DMIS (*.dmi)");
    if (!path.isEmpty()) document_.exportTo(path.endsWith(".dmi") ? path : path + ".dmi");
  });
  actions_.add("writeModel", "Write STEP with requirements …", "", Desk::Part, [this] {
    if (!document_.isOpen()) return;
    const QString path = QFileDialog::getSaveFileName(
        this, "Model with its requirements", suggested("-pmi.step"), "STEP AP242 (*.step *.stp)");
    const bool ends =
        path.endsWith(".step", Qt::CaseInsensitive) || path.endsWith(".stp", Qt::CaseInsensitive);
    if (!path.isEmpty()) document_.writeModel(ends ? path : path + ".step");
  });
  actions_.add("readProgram", "Read DMIS or QIF …", "", Desk::Routine, [this] {
    const QString path =
        QFileDialog::getOpenFileName(this, "Program of a machine, or a model with its requirements",
                                     {}, "DMIS and QIF (*.dmi *.qif *.DMI *.QIF)");
    if (!path.isEmpty()) document_.readProgramFile(path);
  });
  actions_.add("writeQif", "Write QIF …", "", std::nullopt, [this] {
    if (!document_.isOpen()) return;
    const QString path = QFileDialog::getSaveFileName(this, "Routine and results as QIF",
                                                      suggested(".qif"), "QIF 3 (*.qif)");
    const bool ends = path.endsWith(".qif", Qt::CaseInsensitive);
    if (!path.isEmpty()) document_.writeQif(ends ? path : path + ".qif");
  });
  actions_.add("path", "Write machine positions …", "", Desk::Routine, [this] {
    const QString path = QFileDialog::getSaveFileName(
        this, "Machine positions", suggested("-path.csv"), "Positions (*path.csv)");
    if (!path.isEmpty()) document_.exportTo(path.endsWith("path.csv") ? path : path + "-path.csv");
  });
}

void MainWindow::addRehearsalActions() {
  using std::nullopt;
  actions_.add("rehearse", "Rehearse", "Ctrl+R", Desk::Rehearsal,
               [this] { document_.rehearseAgain(); });
  actions_.add("play", "Play", "Space", Desk::Rehearsal, [this] { timeline_->togglePlay(); });
  actions_.add("faster", "Play faster", "Ctrl+Up", Desk::Rehearsal,
               [this] { timeline_->changeSpeed(1); });
  actions_.add("slower", "Play slower", "Ctrl+Down", Desk::Rehearsal,
               [this] { timeline_->changeSpeed(-1); });
  actions_.add("nextMove", "One move on", "Ctrl+Right", {}, [this] { timeline_->step(1); });
  actions_.add("lastMove", "One move back", "Ctrl+Left", {}, [this] { timeline_->step(-1); });
  actions_.add("follow", "Follow the ball", "Ctrl+B", {},
               [this] { stage_->setFollowing(!stage_->following()); });
  actions_.add("nextClash", "Next clash", "Ctrl+G", Desk::Rehearsal,
               [this] { timeline_->nextClash(); });
  actions_.add("run", "Run on the simulated machine", "Ctrl+Return", Desk::Verdict,
               [this] { runIfQualified({}); });
  actions_.add("operate", "Operator view", "Ctrl+Alt+O", Desk::Verdict,
               [this] { setOperating(true); });
  actions_.add("measureAgain", "Measure again what is selected", "Ctrl+Alt+M", nullopt,
               [this] { measureAgain(); });
}

void MainWindow::addPartsActions() {
  using std::nullopt;
  actions_.add("writeFrames", "Write part frames …", "", nullopt, [this] {
    if (!document_.isOpen()) return;
    const QString path = QFileDialog::getSaveFileName(
        this, "Part frames", suggested("-frames.json"), "Part frames (*.json)");
    if (!path.isEmpty()) document_.writeFrames(path);
  });
  actions_.add("readFrames", "Bring in part frames …", "", nullopt, [this] {
    if (!document_.isOpen()) return;
    const QString path =
        QFileDialog::getOpenFileName(this, "Part frames", {}, "Part frames (*.json)");
    if (!path.isEmpty()) document_.readFrames(path);
  });
  actions_.add("bringRuns", "Bring in parts kept elsewhere", "", nullopt,
               [this] { document_.bringRuns(); });
  actions_.add("history", "Write the table of parts …", "", nullopt, [this] {
    if (!document_.isOpen()) return;
    const QString path =
        QFileDialog::getSaveFileName(this, "Table of parts", suggested(".csv"), "Table (*.csv)");
    if (!path.isEmpty()) document_.writeHistory(path);
  });
  actions_.add("goOnWithRun", "Go on with the run that was broken off", "Ctrl+Alt+R", nullopt,
               [this] { goOnWithRun(); });
  actions_.add("runAnyway", "Run with tips as they are", "Ctrl+Shift+Return", nullopt,
               [this] { document_.run({}, seed_++); });
  actions_.add("qualify", "Qualify tips", "Ctrl+Shift+Q", Desk::Bench, [this] {
    if (const auto tips = document_.tipsToQualify(); !tips.empty())
      document_.qualify(tips, false);
    else
      showMessage("All tips of the routine are qualified", false);
  });
  actions_.add("runDefects", "Run a part with defects …", "", nullopt, [this] {
    const QString path =
        QFileDialog::getOpenFileName(this, "Defects of the simulated part", {}, "Defects (*.json)");
    if (!path.isEmpty()) runIfQualified(path);
  });
  actions_.add("judgeFile", "Open measured points …", "", nullopt, [this] {
    const QString path =
        QFileDialog::getOpenFileName(this, "Measured points", {}, "Points (*.csv)");
    if (!path.isEmpty()) document_.judgeFile(path);
  });
  actions_.add("bringResults", "Bring in results …", "Ctrl+I", Desk::Verdict, [this] {
    if (!document_.isOpen()) return;
    const QString path = QFileDialog::getOpenFileName(
        this, "Results of a machine", {},
        "Results (*.csv *.txt *.xlsx *.qif *.dmo *.dmi *.dat *.rpt *.asc "
        "*.ply *.stl *.xyz *.pts *.CSV *.TXT);;All files (*)");
    if (!path.isEmpty()) bringIn(path);
  });
  actions_.add("bringCloud", "Bring in a point cloud …", "Ctrl+Shift+I", nullopt, [this] {
    if (!document_.isOpen()) return;
    const QString path = QFileDialog::getOpenFileName(
        this, "Points of a scanner", {},
        "Points (*.ply *.stl *.xyz *.txt *.csv *.asc *.pts *.PLY *.STL);;All files (*)");
    if (!path.isEmpty()) openCloud(path);
  });
  actions_.add("resultsAgain", "Look again at results that were brought in", "", nullopt, [this] {
    if (const auto& files = document_.project().brought.files; !files.empty())
      document_.readKeptResults(files.back());
    else
      showMessage("No results of another machine were brought in", false);
  });
  addReportActions();
  actions_.add("correction", "Write setup correction …", "", nullopt, [this] {
    const QString path = QFileDialog::getSaveFileName(
        this, "Setup correction", suggested("-correction.json"),
        "JSON (*.json);;Table (*.csv);;4x4 matrix (*.txt);;STEP placement (*.step);;"
        "Program by ISO 6983 (*.nc)");
    if (!path.isEmpty()) document_.writeSetupCorrection(path);
  });
  actions_.add("nextSection", "Section: next way, or none", "Ctrl+Alt+X", nullopt,
               [this] { document_.nextSection(); });
  actions_.add("sectionOn", "Section on by a place or a millimetre", "Ctrl+Shift+Right", nullopt,
               [this] { document_.shiftSection(1); });
  actions_.add("sectionBack", "Section back by a place or a millimetre", "Ctrl+Shift+Left", nullopt,
               [this] { document_.shiftSection(-1); });
  actions_.add("leaveOutOfMap", "Leave the selected features out of the map, or take them in",
               "Ctrl+Alt+H", nullopt, [this] { document_.leaveOutOfMap(); });
  actions_.add("leaveOutAbout", "Leave out of the map about the place clicked", "Ctrl+Alt+J",
               nullopt, [this] { document_.leaveOutAboutPicked(); });
  actions_.add("allOnMap", "All on the map again", "", nullopt,
               [this] { document_.allOnMapAgain(); });
  actions_.add("nextOutside", "Next outside", "Ctrl+J", Desk::Verdict,
               [this] { sheet_->selectNext(true); });
}

void MainWindow::addViewActions() {
  using std::nullopt;
  using Standard = OcctView::Standard;
  for (std::size_t i = 0; i < kDeskNames.size(); ++i)
    actions_.add(kDeskNames[i], QString("Go to the %1 desk").arg(kDeskNames[i]),
                 QString("Alt+%1").arg(i + 1), nullopt,
                 [this, i] { setDesk(static_cast<Desk>(i)); });
  actions_.add("help", "Help on what is in focus", "F1", nullopt, [this] { showHelp(); });
  actions_.add("keys", "All keys", "Ctrl+/", nullopt, [this] {
    help_->showKeys(actions_);
    help_->show();
    help_->setFocus();
  });
  actions_.add("menuBar", "Show or hide the menu bar", "Ctrl+M", nullopt, [this] {
    QSettings().setValue("menu", !menuWanted());
    menuBar()->setVisible(menuWanted());
  });
  actions_.add("find", "Find", "Ctrl+K", nullopt, [this] {
    command_box_->setFocus();
    command_box_->selectAll();
  });
  actions_.add("stepList", "Steps as a list or to scale", "L", nullopt, [this] {
    if (desk_ != Desk::Verdict)
      bottom_->setCurrentWidget(
          bottom_->currentWidget() == steps_ ? static_cast<QWidget*>(timeline_) : steps_);
  });
  actions_.add("fitTimeline", "Fit the timeline", "F", nullopt, [this] { timeline_->fit(); });
  actions_.add("fitStage", "See the whole part", "Ctrl+0", nullopt, [this] { stage_->seeAll(); });
  actions_.add("frameSelection", "Look at the selection", "Ctrl+E", nullopt,
               [this] { stage_->frameSelection(); });
  const std::tuple<const char*, const char*, const char*, Standard> views[]{
      {"viewIso", "Look from the corner", "Ctrl+1", Standard::Iso},
      {"viewTop", "Look from above", "Ctrl+2", Standard::Top},
      {"viewFront", "Look from the front", "Ctrl+3", Standard::Front},
      {"viewRight", "Look from the right", "Ctrl+4", Standard::Right},
      {"viewBack", "Look from behind", "Ctrl+5", Standard::Back},
      {"viewLeft", "Look from the left", "Ctrl+6", Standard::Left},
      {"viewBottom", "Look from below", "Ctrl+7", Standard::Bottom}};
  for (const auto& [id, text, key, direction] : views)
    actions_.add(id, text, key, nullopt,
                 [this, direction = direction] { stage_->look(direction); });
  actions_.add("keepView", "Keep this view", "Ctrl+9", nullopt, [this] {
    if (!document_.isOpen() || !stage_->view().ready()) return;
    const KeptView* shown = stage_->keptView();
    const std::string name = document_.keepView(stage_->seenNow(), shown ? shown->name : "");
    if (name.empty()) return;
    stage_->showKept(name);
    showMessage(QString("The view %1 is kept; callouts are dragged where they belong")
                    .arg(QString::fromStdString(name)),
                false);
  });
  actions_.add("nextView", "Next view", "Ctrl+8", nullopt, [this] {
    const auto shown = stage_->shownView();
    showView(shown ? *shown + 1 : 0);
  });
  actions_.add("clearSelection", "Select nothing", "Ctrl+Shift+A", nullopt,
               [this] { document_.clearSelection(); });
  actions_.add("quit", "Quit", "Ctrl+Q", nullopt, [this] { close(); });
}

} // namespace alder::app
