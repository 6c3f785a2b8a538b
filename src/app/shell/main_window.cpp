#include "shell/main_window.h"

#include "shell/menus.h"

#include <QBuffer>
#include <QCloseEvent>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QMenuBar>
#include <QMessageBox>
#include <QMimeData>
#include <QSettings>
#include <QSplitter>
#include <QTimer>
#include <QUrl>
#include <utility>

namespace alder::app {

MainWindow::MainWindow(const Theme& theme)
    : theme_(theme)
    , actions_(*this)
    , top_bar_(new QWidget)
    , action_bar_(new QWidget)
    , name_(new QLabel)
    , state_(new QLabel)
    , message_(new QLabel)
    , progress_(new QProgressBar)
    , cancel_(new QPushButton("Cancel")) {
  setWindowTitle("Alderpoint[*]");
  resize(1280, 800);
  setAcceptDrops(true);
  setStyleSheet(theme.styleSheet());
  setFont(theme.text());
  buildTopBar();
  buildRegions();
  addActions();
  addViewActions();
  buildMenuBar();
  connect(&document_, &Document::opened, this, [this] {
    refreshTitle();
    refreshActions();
    rememberRecent();
  });
  for (auto signal : {&Document::savedChanged, &Document::planChanged, &Document::runsChanged,
                      &Document::routedChanged})
    connect(&document_, signal, this, [this] {
      refreshTitle();
      refreshActions();
    });
  // The run that is gone on with needs its way first; another routine that is opened instead, or
  // one that does not open, ends the wish.
  connect(&document_, &Document::routedChanged, this, [this] {
    if (going_on_with_.empty() || !document_.routed()) return;
    const bool meant = routineKey(document_.plan()) == std::exchange(going_on_with_, {});
    if (meant) setOperating(true);
  });
  connect(&document_, &Document::saved, this, &MainWindow::rememberRecent);
  connect(&document_, &Document::openFailed, this, [this] { going_on_with_.clear(); });
  connect(&document_, &Document::message, this, &MainWindow::showMessage);
  connect(&document_.jobs(), &JobRunner::busyChanged, this, [this](bool busy) {
    progress_->setVisible(busy);
    cancel_->setVisible(busy);
    if (!busy && message_->property("job").toBool()) {
      message_->clear();
      // What was told just before the work began is told again.
      if (const auto told = std::exchange(told_before_job_, std::nullopt))
        showMessage(told->first, told->second);
    }
  });
  connect(&document_.jobs(), &JobRunner::progressed, this,
          [this](double fraction, const QString& what) {
            progress_->setValue(static_cast<int>(100 * fraction));
            constexpr int kJustNow = 1500; // ms
            if (!message_->property("job").toBool() && told_.isValid() &&
                told_.elapsed() < kJustNow && !message_->text().isEmpty())
              told_before_job_.emplace(message_->text(), told_bad_);
            message_->setProperty("job", true);
            message_->setStyleSheet({});
            message_->setText(what + " …");
          });
  setDesk(Desk::Part);
  refreshTitle();
  refreshActions();
  tellOfBrokenOffRuns();
  offerLeftWork();
}

MainWindow::~MainWindow() {
  stage_->view().release();
}

void MainWindow::buildTopBar() {
  top_bar_->setObjectName("topBar");
  top_bar_->setFixedHeight(44);
  auto* bar = new QHBoxLayout(top_bar_);
  bar->setContentsMargins(16, 0, 16, 0);
  name_->setFont(theme_.strong(10.5));
  state_->setFont(theme_.text(8.5));
  state_->setProperty("role", "second");
  auto* left = new QWidget;
  auto* left_layout = new QHBoxLayout(left);
  left_layout->setContentsMargins(0, 0, 0, 0);
  left_layout->addWidget(name_);
  left_layout->addWidget(state_, 1);
  left->setMinimumWidth(300);
  bar->addWidget(left, 1);
  for (std::size_t i = 0; i < kDeskNames.size(); ++i) {
    desks_[i] = new QPushButton(kDeskNames[i]);
    desks_[i]->setObjectName(QString("desk") + kDeskNames[i]);
    desks_[i]->setProperty("role", "desk");
    desks_[i]->setCheckable(true);
    desks_[i]->setAutoExclusive(true);
    desks_[i]->setToolTip(QString("Alt+%1").arg(i + 1));
    connect(desks_[i], &QPushButton::clicked, this, [this, i] { setDesk(static_cast<Desk>(i)); });
    bar->addWidget(desks_[i]);
  }
  bar->addStretch(1);
  command_box_ = new CommandBox(document_, actions_, top_bar_);
  command_box_->setFixedWidth(270);
  bar->addWidget(command_box_);
}

void MainWindow::buildRegions() {
  const auto rule = [] {
    auto* line = new QWidget;
    line->setObjectName("rule");
    line->setFixedHeight(1);
    return line;
  };
  action_bar_->setObjectName("actionBar");
  action_bar_->setFixedHeight(40);
  auto* actions = new QHBoxLayout(action_bar_);
  actions->setContentsMargins(16, 0, 16, 0);
  actions->setSpacing(8);
  sheet_ = new RequirementSheet(document_, theme_);
  stage_ = new Stage(document_, theme_);
  card_ = new Card(document_, theme_);
  const auto trigger = [this](const QString& action) { actions_.find(action)->trigger(); };
  connect(card_, &Card::wanted, this, trigger);
  connect(sheet_, &RequirementSheet::wanted, this, trigger);
  help_ = new HelpPane(theme_);
  help_->hide();
  connect(help_, &HelpPane::closed, this, [this] {
    help_->hide();
    stage_->setFocus();
  });
  operator_ = new OperatorView(document_, theme_);
  operator_->hide();
  connect(operator_, &OperatorView::left, this, [this] { setOperating(false); });
  timeline_ = new Timeline(document_, theme_);
  steps_ = new StepList(document_, theme_);
  parts_ = new PartsChart(document_, theme_);
  connect(timeline_, &Timeline::wanted, this, trigger);
  connect(parts_, &PartsChart::wanted, this, trigger);
  bottom_ = new QStackedWidget;
  bottom_->setObjectName("bottom");
  for (QWidget* w : {static_cast<QWidget*>(timeline_), static_cast<QWidget*>(steps_),
                     static_cast<QWidget*>(parts_)})
    bottom_->addWidget(w);
  auto* across = new QSplitter(Qt::Horizontal);
  across->setHandleWidth(1);
  across->addWidget(sheet_);
  across->addWidget(stage_);
  across->addWidget(card_);
  across->addWidget(operator_);
  across->addWidget(help_);
  across->setSizes({300, 710, 270, 430, 380});
  across->setStretchFactor(1, 1);
  across->setCollapsible(1, false);
  across->setCollapsible(3, false);
  auto* down = new QSplitter(Qt::Vertical);
  down->setHandleWidth(1);
  down->addWidget(across);
  down->addWidget(bottom_);
  down->setSizes({500, 190});
  down->setStretchFactor(0, 1);

  auto* foot = new QWidget;
  foot->setObjectName("actionBar");
  foot->setFixedHeight(28);
  auto* foot_layout = new QHBoxLayout(foot);
  foot_layout->setContentsMargins(16, 0, 16, 0);
  message_->setObjectName("message");
  message_->setFont(theme_.text(8.5));
  progress_->setFixedWidth(180);
  progress_->setTextVisible(false);
  progress_->hide();
  cancel_->setFixedHeight(22);
  cancel_->setFont(theme_.text(8.5));
  cancel_->setObjectName("cancelJob");
  cancel_->hide();
  connect(cancel_, &QPushButton::clicked, this, [this] {
    document_.jobs().cancel();
    showMessage("Cancelled; nothing was changed", false);
  });
  foot_layout->addWidget(message_, 1);
  foot_layout->addWidget(progress_);
  foot_layout->addWidget(cancel_);

  auto* centre = new QWidget;
  auto* layout = new QVBoxLayout(centre);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(0);
  layout->addWidget(top_bar_);
  layout->addWidget(rule());
  layout->addWidget(action_bar_);
  layout->addWidget(rule());
  layout->addWidget(buildOffer());
  layout->addWidget(down, 1);
  layout->addWidget(rule());
  layout->addWidget(foot);
  setCentralWidget(centre);
}

bool MainWindow::menuWanted() const {
  return QSettings().value("menu", true).toBool();
}

void MainWindow::buildMenuBar() {
  recent_ = new QMenu("Open recent", this);
  recent_->setObjectName("menuRecent");
  connect(recent_, &QMenu::aboutToShow, this, &MainWindow::fillRecent);
  fillMenuBar(*menuBar(), actions_, recent_);
  menuBar()->setFont(theme_.text(9.5));
  menuBar()->setVisible(menuWanted());
  // No letters of the menus: Alt with a letter belongs to actions. F10 opens the first.
  auto* open = new QAction(this);
  open->setShortcut(QKeySequence("F10"));
  connect(open, &QAction::triggered, this, [this] {
    if (!menuBar()->isVisible()) return;
    menuBar()->setFocus();
    menuBar()->setActiveAction(menuBar()->actions().first());
  });
  addAction(open);
}

void MainWindow::rememberRecent() {
  if (document_.path().isEmpty()) return;
  QSettings settings;
  QStringList files = settings.value("recent").toStringList();
  files.removeAll(document_.path());
  files.prepend(document_.path());
  constexpr int kMost = 10;
  while (files.size() > kMost)
    files.removeLast();
  settings.setValue("recent", files);
}

void MainWindow::fillRecent() {
  recent_->clear();
  for (const QString& file : QSettings().value("recent").toStringList())
    recent_->addAction(QFileInfo(file).fileName(), this, [this, file] {
      if (mayDiscard()) document_.open(file);
    })->setToolTip(file);
  if (recent_->isEmpty()) recent_->addAction("Nothing was saved or opened yet")->setEnabled(false);
}

// The page of the manual on the region with the keyboard, else on the desk.
void MainWindow::showHelp() {
  const QWidget* focus = focusWidget();
  const auto within = [&](const QWidget* region) {
    return focus && (focus == region || region->isAncestorOf(focus));
  };
  QString heading = kDeskNames[static_cast<std::size_t>(desk_)];
  if (operator_->isVisible())
    heading = "Operator";
  else if (!document_.isOpen() || within(sheet_) || within(command_box_))
    heading = document_.isOpen() && within(sheet_) ? "Part" : "The window";
  help_->showManual(heading);
  help_->show();
  help_->showManual(heading); // now that it has its width
  help_->setFocus();
}

// What a crash left behind, offered without standing in the way.
QWidget* MainWindow::buildOffer() {
  offer_ = new QWidget;
  offer_->setObjectName("offer");
  auto* layout = new QHBoxLayout(offer_);
  layout->setContentsMargins(16, 6, 16, 6);
  offer_words_ = new QLabel;
  offer_words_->setObjectName("offerWords");
  offer_words_->setWordWrap(true);
  auto* open = new QPushButton("Open it");
  open->setObjectName("openLeft");
  auto* drop = new QPushButton("Drop it");
  drop->setObjectName("dropLeft");
  connect(open, &QPushButton::clicked, this, [this] {
    if (!left_ || !mayDiscard()) return;
    const LeftWork left = *left_;
    const auto opened = std::make_shared<std::vector<QMetaObject::Connection>>();
    const auto done = [opened] {
      for (const auto& c : *opened)
        disconnect(c);
    };
    opened->push_back(connect(&document_, &Document::opened, this, [this, left, done] {
      done();
      recovery_.takeOver(left);
      offer_->hide();
    }));
    opened->push_back(connect(&document_, &Document::openFailed, this, done));
    document_.openLeft(left.file, left.path);
  });
  connect(drop, &QPushButton::clicked, this, [this] {
    if (left_) dropLeft(*left_);
    offerLeftWork();
  });
  layout->addWidget(offer_words_, 1);
  layout->addWidget(open);
  layout->addWidget(drop);
  offer_->hide();
  return offer_;
}

void MainWindow::offerLeftWork() {
  const auto all = leftWork();
  left_ = all.empty() ? std::nullopt : std::optional(all.front());
  offer_->setVisible(left_.has_value());
  if (!left_) return;
  QString words = QString("The program ended with unsaved work on %1, kept at %2")
                      .arg(left_->routine, left_->when.toString("hh:mm, d MMMM"));
  if (!left_->last_edit.isEmpty()) words += QString(" after “%1”").arg(left_->last_edit);
  words += left_->path.isEmpty() ? ". It was never saved." : ". The file is " + left_->path + ".";
  if (all.size() > 1) words += QString(" %1 more behind it.").arg(all.size() - 1);
  offer_words_->setText(words);
}

void MainWindow::setOperating(bool operating) {
  if (operating && !document_.isOpen()) return showMessage("Open a routine first", true);
  if (!operating && operator_->running()) return;
  for (QWidget* w : {top_bar_, action_bar_, static_cast<QWidget*>(sheet_),
                     static_cast<QWidget*>(card_), static_cast<QWidget*>(bottom_)})
    w->setVisible(!operating);
  operator_->setVisible(operating);
  stage_->setCalm(operating);
  menuBar()->setVisible(!operating && menuWanted());
  for (const auto& e : actions_.all()) // their keys are the operator's now
    e.action->setEnabled(!operating || e.action->objectName() == "help");
  refreshActions();
  if (operating) {
    setDesk(Desk::Rehearsal);
    document_.clearSelection();
    showMessage({}, false);
    operator_->enter();
  } else {
    document_.lightTouch({}, -1);
    setDesk(document_.runs().empty() ? Desk::Routine : Desk::Verdict);
    if (const auto requirement = std::exchange(again_of_, {}))
      document_.selectRequirement(*requirement);
  }
}

void MainWindow::tellOfBrokenOffRuns() {
  const auto runs = brokenOffRuns();
  if (runs.empty()) return;
  const OpenRun& run = runs.front();
  showMessage(QString("A run of %1 was broken off after %2 touches; Ctrl+Alt+R goes on with it.")
                  .arg(QString::fromStdString(run.head.routine))
                  .arg(run.touches),
              false);
}

void MainWindow::pictureFromStage() {
  const auto& steps = document_.selection().steps;
  if (steps.size() != 1) return showMessage("Select the wait that is to show the picture", true);
  QByteArray bytes;
  QBuffer buffer(&bytes);
  buffer.open(QIODevice::WriteOnly);
  stage_->view().grabFramebuffer().save(&buffer, "PNG");
  document_.showPicture(steps.front(), "stage.png", bytes);
}

void MainWindow::measureAgain() {
  if (!document_.currentRun()) return showMessage("Measure a part first", true);
  const auto features = document_.featuresForAgain();
  if (features.empty())
    return showMessage("Select a requirement, or features that are measured, first", true);
  const auto requirement = document_.selection().requirement;
  setOperating(true);
  operator_->enterAgain(features);
  again_of_ = requirement;
}

void MainWindow::runIfQualified(const QString& defects) {
  const auto open = document_.tipsToQualify();
  if (open.empty()) return document_.run(defects, seed_++);
  showMessage(
      QString("%1 of %2 tips are not qualified. Qualify tips (Ctrl+Shift+Q), or run with tips "
              "as they are (Ctrl+Shift+Return).")
          .arg(open.size())
          .arg(accessesUsed(document_.plan()).size()),
      true);
}

void MainWindow::addActions() {
  using std::nullopt;
  actions_.add("open", "Open …", "Ctrl+O", Desk::Part, [this] { openWithDialog(); });
  actions_.add("save", "Save", "Ctrl+S", Desk::Part, [this] { save(false); });
  actions_.add("saveAs", "Save as …", "Ctrl+Shift+S", nullopt, [this] { save(true); });
  actions_.add("pickLargest", "Pick the largest face", "", nullopt, [this] {
    setDesk(Desk::Part);
    document_.pickLargestFace();
  });
  actions_.add("addFirst", "Add sizes of bores and bosses, flatness of the largest plane", "", nullopt,
               [this] { document_.addFirstRequirements(); });
  actions_.add("nextUncovered", "Next uncovered", "Ctrl+U", Desk::Part,
               [this] { sheet_->selectNext(false); });
  actions_.add("derive", "Derive the likeliest feature", "Ctrl+Shift+D", nullopt,
               [this] { document_.deriveLikeliest(); });
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
                                                      "Parts (*.step *.stp *.STEP *.STP)");
    if (!part.isEmpty()) document_.open(part, start);
  });
  actions_.add("saveTemplate", "Save as a template …", "", nullopt, [this] {
    if (!document_.isOpen()) return;
    const QString path =
        QFileDialog::getSaveFileName(this, "Template for new routines",
                                     suggested(".alder-template"), "Templates (*.alder-template)");
    if (!path.isEmpty()) document_.saveTemplate(path);
  });
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
  const auto insert = [this](const char* id, const char* words, const QString& key,
                             const StepBody& body) {
    actions_.add(id, words, key, {}, [this, body] { document_.insertStep(body); });
  };
  insert("insertWaitStep", "Insert a wait for the operator", "Alt+W", WaitStep{});
  actions_.add("pictureFromStage", "Show the stage as it is now in the selected wait", "", {},
               [this] { pictureFromStage(); });
  actions_.add("pictureFromFile", "Show a picture in the selected wait …", "", {}, [this] {
    if (!document_.isOpen()) return;
    const QString path = QFileDialog::getOpenFileName(this, "Picture for the operator", {},
                                                      "Pictures (*.png *.jpg *.jpeg *.PNG *.JPG)");
    if (!path.isEmpty()) document_.showPictureFile(path);
  });
  insert("insertAskStep", "Insert a question to the operator", "",
         AskStep{"Serial number", false, ""});
  insert("insertNoteStep", "Insert a note", "Alt+N", NoteStep{"Note"});
  actions_.add("insertFrame", "Use a frame from what is selected", "Alt+F", {},
               [this] { document_.insertFrame(); });
  insert("insertTurnStep", "Insert a head turn", "", TurnStep{});
  insert("insertQualifyStep", "Insert qualifying the tips that need it", "", QualifyStep{});
  insert("insertEvaluateStep", "Insert evaluating what is measured", "", EvaluateStep{});
  insert("insertOutputStep", "Insert writing a file", "", OutputStep{});
  actions_.add("insertMoveStep", "Insert a move to the current position", "", {},
               [this] { document_.insertMoveHere(); });
  actions_.add("order", "Order for time", "", Desk::Routine, [this] { document_.orderForTime(); });
  actions_.add("dmis", "Write DMIS …", "", Desk::Routine, [this] {
    const QString path = QFileDialog::getSaveFileName(this, "Program for the machine",
                                                      suggested(".dmi"), "DMIS (*.dmi)");
    if (!path.isEmpty()) document_.exportTo(path.endsWith(".dmi") ? path : path + ".dmi");
  });
  actions_.add("readDmis", "Read DMIS …", "", Desk::Routine, [this] {
    const QString path =
        QFileDialog::getOpenFileName(this, "Program of a machine", {}, "DMIS (*.dmi *.DMI)");
    if (!path.isEmpty() && mayDiscard()) document_.readDmisFile(path);
  });
  actions_.add("path", "Write machine positions …", "", Desk::Routine, [this] {
    const QString path = QFileDialog::getSaveFileName(
        this, "Machine positions", suggested("-path.csv"), "Positions (*path.csv)");
    if (!path.isEmpty()) document_.exportTo(path.endsWith("path.csv") ? path : path + "-path.csv");
  });
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
  actions_.add("runDefects", "Run a part with defects …", "", Desk::Verdict, [this] {
    const QString path =
        QFileDialog::getOpenFileName(this, "Defects of the simulated part", {}, "Defects (*.json)");
    if (!path.isEmpty()) runIfQualified(path);
  });
  actions_.add("judgeFile", "Open measured points …", "", Desk::Verdict, [this] {
    const QString path =
        QFileDialog::getOpenFileName(this, "Measured points", {}, "Points (*.csv)");
    if (!path.isEmpty()) document_.judgeFile(path);
  });
  actions_.add("report", "Report …", "Ctrl+P", Desk::Verdict, [this] {
    const QString path = QFileDialog::getSaveFileName(this, "Report", suggested(".pdf"),
                                                      "PDF (*.pdf);;Table (*.csv)");
    if (!path.isEmpty())
      document_.exportTo(path.endsWith(".csv") || path.endsWith(".pdf") ? path : path + ".pdf");
  });
  actions_.add("correction", "Write setup correction …", "", nullopt, [this] {
    const QString path = QFileDialog::getSaveFileName(
        this, "Setup correction", suggested("-correction.json"),
        "JSON (*.json);;Table (*.csv);;4x4 matrix (*.txt);;STEP placement (*.step);;"
        "Program by ISO 6983 (*.nc)");
    if (!path.isEmpty()) document_.writeSetupCorrection(path);
  });
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
  actions_.add("fitStage", "See the whole part", "Ctrl+0", nullopt,
               [this] { stage_->view().fitAll(); });
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
                 [this, direction = direction] { stage_->view().look(direction); });
  actions_.add("clearSelection", "Select nothing", "Ctrl+Shift+A", nullopt,
               [this] { document_.clearSelection(); });
  actions_.add("quit", "Quit", "Ctrl+Q", nullopt, [this] { close(); });
}

void MainWindow::setDesk(Desk desk) {
  desk_ = desk;
  desks_[static_cast<std::size_t>(desk)]->setChecked(true);
  sheet_->setDesk(desk);
  stage_->setDesk(desk);
  card_->setDesk(desk);
  if (desk == Desk::Verdict)
    bottom_->setCurrentWidget(parts_);
  else if (bottom_->currentWidget() == parts_)
    bottom_->setCurrentWidget(timeline_);
  fillActionBar();
}

void MainWindow::fillActionBar() {
  auto* layout = static_cast<QHBoxLayout*>(action_bar_->layout());
  while (QLayoutItem* item = layout->takeAt(0)) {
    if (item->widget()) item->widget()->deleteLater();
    delete item;
  }
  layout->addSpacing(285);
  for (const auto& e : actions_.all()) {
    if (e.desk != desk_) continue;
    auto* button = new QPushButton(e.action->text());
    button->setObjectName("do_" + e.action->objectName());
    button->setEnabled(e.action->isEnabled());
    button->setToolTip(e.action->shortcut().toString());
    connect(button, &QPushButton::clicked, e.action, &QAction::trigger);
    connect(e.action, &QAction::changed, button,
            [button, a = e.action] { button->setEnabled(a->isEnabled()); });
    layout->addWidget(button);
  }
  layout->addStretch();
}

void MainWindow::refreshTitle() {
  if (!document_.isOpen()) {
    name_->setText("Alderpoint");
    state_->setText("nothing open");
    return;
  }
  const QString name = QString::fromStdString(document_.plan().name);
  name_->setText(name_->fontMetrics().elidedText(name, Qt::ElideRight, 190));
  name_->setToolTip(name);
  state_->setText(document_.path().isEmpty() ? "not saved yet"
                  : document_.unsaved()      ? "changed"
                                             : "saved");
  setWindowTitle(name + "[*] · Alderpoint");
  setWindowModified(document_.unsaved());
}

void MainWindow::refreshActions() {
  if (operator_->isVisibleTo(this)) return;
  const bool open = document_.isOpen();
  for (const auto& e : actions_.all())
    if (e.desk && e.action->objectName() != "open") e.action->setEnabled(open);
  auto* undo = actions_.find("undo");
  undo->setEnabled(!document_.undoText().isEmpty());
  undo->setText(document_.undoText().isEmpty() ? "Undo" : "Undo: " + document_.undoText());
  auto* redo = actions_.find("redo");
  redo->setEnabled(!document_.redoText().isEmpty());
  redo->setText(document_.redoText().isEmpty() ? "Redo" : "Redo: " + document_.redoText());
}

QString MainWindow::suggested(const QString& ending) const {
  QString base = document_.path();
  if (base.isEmpty())
    base = QString::fromStdString(document_.plan().name).replace(' ', '-') + ".alder";
  return base.left(base.lastIndexOf('.')) + ending;
}

bool MainWindow::save(bool ask_for_name) {
  if (!document_.isOpen()) return false;
  QString path = document_.path();
  if (path.isEmpty() || ask_for_name)
    path = QFileDialog::getSaveFileName(this, "Save the routine", suggested(".alder"),
                                        "Routine (*.alder)");
  if (path.isEmpty()) return false;
  if (!path.endsWith(".alder")) path += ".alder";
  return document_.save(path);
}

bool MainWindow::mayDiscard() {
  if (!document_.unsaved()) return true;
  QMessageBox box(QMessageBox::NoIcon, "Unsaved work",
                  "This routine has changes that are not saved.", QMessageBox::NoButton, this);
  auto* keep = box.addButton("Save", QMessageBox::AcceptRole);
  auto* drop = box.addButton("Drop the changes", QMessageBox::DestructiveRole);
  box.addButton("Stay here", QMessageBox::RejectRole);
  box.setDefaultButton(keep);
  box.exec();
  if (box.clickedButton() == keep) return save(false);
  return box.clickedButton() == drop;
}

void MainWindow::openWithDialog() {
  if (!mayDiscard()) return;
  const QString path =
      QFileDialog::getOpenFileName(this, "Open a part or a routine", {},
                                   "Parts and routines (*.alder *.step *.stp *.STEP *.STP)");
  if (!path.isEmpty()) document_.open(path);
}

void MainWindow::showMessage(const QString& text, bool bad) {
  told_.start();
  told_bad_ = bad;
  told_before_job_.reset();
  message_->setProperty("job", false);
  message_->setStyleSheet(bad ? QString("color: %1").arg(theme_.color("outside").name())
                              : QString());
  message_->setText(text);
  message_->setToolTip(text);
}

// Opens the routine as it was when the run was begun, unless that is what is open.
void MainWindow::goOnWithRun() {
  const auto runs = brokenOffRuns();
  if (runs.empty()) return showMessage("No run was broken off", false);
  const OpenRun run = runs.front();
  if (document_.isOpen() && routineKey(document_.plan()) == run.head.key) return setOperating(true);
  if (!mayDiscard()) return;
  going_on_with_ = run.head.key;
  document_.open(run.routine);
}

void MainWindow::closeEvent(QCloseEvent* event) {
  // What was touched is kept; the run can go on.
  if (operator_->running()) operator_->worker().stop();
  if (!mayDiscard()) return event->ignore();
  document_.jobs().cancel();
  recovery_.end(); // saved or given up
  event->accept();
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
  if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event) {
  const auto urls = event->mimeData()->urls();
  if (!urls.isEmpty() && mayDiscard()) document_.open(urls.first().toLocalFile());
}

} // namespace alder::app
