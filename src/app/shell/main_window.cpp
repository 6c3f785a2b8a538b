#include "shell/main_window.h"

#include "document/file_kinds.h"
#include "exchange/qif/qif_file.h"
#include "results/cloud_window.h"
#include "results/results_window.h"
#include "shell/focus_keys.h"
#include "shell/program_proposal.h"
#include <QBuffer>
#include <QCloseEvent>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QMenuBar>
#include <QMessageBox>
#include <QMimeData>
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
  new FocusKeys(*this);
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
  connect(&document_, &Document::resultsRead, this, [this](const ResultFile& file) {
    if (results_) results_->close();
    results_ = new ResultsWindow(document_, file, theme_, this);
    results_->show();
  });
  connect(&document_, &Document::programRead, this,
          [this](const ProgramRead& read, const QString& name) {
            ProgramProposal proposal(read, name, theme_, this);
            if (proposal.exec() == QDialog::Accepted && mayDiscard()) document_.takeProgram(read);
          });
  connect(&document_.jobs(), &JobRunner::busyChanged, this, [this](bool busy) {
    // What is done at once shows no bar: it would only flicker.
    constexpr int kSoon = 200; // ms
    progress_->hide();
    cancel_->setVisible(busy);
    if (busy)
      progress_soon_.start(kSoon);
    else
      progress_soon_.stop();
    if (!busy && message_->property("job").toBool()) {
      message_->clear();
      // What was told just before the work began is told again.
      if (const auto told = std::exchange(told_before_job_, std::nullopt))
        showMessage(told->first, told->second);
    }
  });
  progress_soon_.setSingleShot(true);
  connect(&progress_soon_, &QTimer::timeout, progress_, &QWidget::show);
  connect(&document_.jobs(), &JobRunner::progressed, this,
          [this](double fraction, const QString& what) {
            progress_->setValue(static_cast<int>(100 * fraction));
            constexpr int kJustNow = 1500; // ms
            const bool just_now = !told_.isValid() || told_.elapsed() < kJustNow;
            if (!message_->property("job").toBool() && just_now && !message_->text().isEmpty())
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
  state_->setObjectName("routineState");
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
  connect(command_box_, &CommandBox::viewWanted, this, &MainWindow::showView);
  command_box_->setFixedWidth(270);
  bar->addWidget(command_box_);
}

void MainWindow::buildBottom() {
  const auto trigger = [this](const QString& action) { actions_.find(action)->trigger(); };
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
  type_line_ = new TypeLine(document_, theme_, stage_);
  connect(type_line_, &TypeLine::left, this, [this] { stage_->setFocus(); });
  drawing_ = new DrawingPane(document_, drawings_, theme_);
  drawing_->hide();
  revision_pane_ = new RevisionPane(document_, revision_, theme_);
  revision_pane_->hide();
  buildReport();
  connect(&drawings_, &OpenDrawings::changed, this, &MainWindow::placeBeside);
  connect(&revision_, &OpenRevision::changed, this, &MainWindow::placeBeside);
  connect(
      &drawing_->view(), &DrawingView::framed, this,
      [this](const QString& text, int page, const QPointF& middle) {
        type_line_->begin(text, DrawingSpot{drawings_.shown()->name, page, middle.x(), middle.y()});
      });
  card_ = new Card(document_, theme_);
  const auto trigger = [this](const QString& action) { actions_.find(action)->trigger(); };
  connect(card_, &Card::wanted, this, trigger);
  connect(card_, &Card::viewWanted, this,
          [this](const QString& name) { stage_->showKept(name.toStdString()); });
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
  buildBottom();
  auto* across = new QSplitter(Qt::Horizontal);
  across->setHandleWidth(1);
  across->addWidget(sheet_);
  middle_ = new QSplitter(Qt::Horizontal);
  middle_->setHandleWidth(1);
  middle_->addWidget(stage_);
  middle_->addWidget(drawing_);
  middle_->addWidget(revision_pane_);
  middle_->addWidget(pages_);
  for (int i = 0; i < middle_->count(); ++i)
    middle_->setStretchFactor(i, 1);
  middle_->setChildrenCollapsible(false);
  across->addWidget(middle_);
  across->addWidget(card_);
  across->addWidget(layout_card_);
  across->addWidget(operator_);
  across->addWidget(help_);
  across->setSizes({300, 710, 270, 300, 430, 380});
  across->setStretchFactor(1, 1);
  across->setCollapsible(1, false);
  across->setCollapsible(3, false);
  across->setCollapsible(4, false);
  down_ = new QSplitter(Qt::Vertical);
  down_->setHandleWidth(1);
  down_->addWidget(across);
  down_->addWidget(bottom_);
  down_->setSizes({500, 190});
  down_->setStretchFactor(0, 1);

  auto* centre = new QWidget;
  auto* layout = new QVBoxLayout(centre);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(0);
  layout->addWidget(top_bar_);
  layout->addWidget(rule());
  layout->addWidget(action_bar_);
  layout->addWidget(rule());
  layout->addWidget(buildOffer());
  layout->addWidget(down_, 1);
  layout->addWidget(rule());
  layout->addWidget(buildFoot());
  setCentralWidget(centre);
}

// A revision while it is gone through, else the drawing.
void MainWindow::placeBeside() {
  const bool room = desk_ == Desk::Part && !operator_->isVisibleTo(this);
  const bool revision = room && revision_.active();
  const bool drawing = room && !revision && drawing_wanted_ && drawings_.shown();
  if (drawing == drawing_->isVisibleTo(middle_) && revision == revision_pane_->isVisibleTo(middle_))
    return;
  const bool began = revision && !revision_pane_->isVisibleTo(middle_);
  drawing_->setVisible(drawing);
  revision_pane_->setVisible(revision);
  constexpr double kOfStage = 0.38; // a sheet is wide
  const int stage = static_cast<int>(kOfStage * middle_->width()), rest = middle_->width() - stage;
  if (drawing || revision) middle_->setSizes({stage, drawing ? rest : 0, revision ? rest : 0});
  sizeTimeline(desk_ == Desk::Bench || drawing || revision);
  if (began) revision_pane_->list().setFocus();
}

void MainWindow::openRevision(const QStringList& paths) {
  if (paths.isEmpty()) return;
  setDesk(Desk::Part);
  revision_.begin(paths, drawings_.shown() ? drawings_.shown()->name : std::string());
}

void MainWindow::addDrawing(const QString& path) {
  drawing_wanted_ = true;
  setDesk(Desk::Part);
  // Another state of a drawing that requirements came from is not taken over unseen.
  const std::string name = QFileInfo(path).fileName().toStdString();
  if (document_.isOpen())
    for (const Requirement& r : document_.plan().spec.requirements)
      if (r.spot && r.spot->drawing == name) return openRevision({path});
  drawings_.add(path);
}

QWidget* MainWindow::buildFoot() {
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
  return foot;
}

void MainWindow::setOperating(bool operating) {
  if (operating && !document_.isOpen()) return showMessage("Open a routine first", true);
  if (!operating && operator_->running()) return;
  setComposing(false);
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

// Bench and drawing need the height: there the timeline keeps its angles only.
void MainWindow::sizeTimeline(bool bench) {
  constexpr int kAngles = 84;
  if (bench) {
    if (height_elsewhere_ == 0) height_elsewhere_ = down_->sizes().back();
    down_->setSizes({down_->height() - kAngles, kAngles});
  } else if (height_elsewhere_ > 0) {
    down_->setSizes({down_->height() - height_elsewhere_, height_elsewhere_});
    height_elsewhere_ = 0;
  }
}

void MainWindow::setDesk(Desk desk) {
  if (desk != Desk::Verdict || operator_->isVisibleTo(this)) setComposing(false);
  desk_ = desk;
  if (desk != Desk::Part) type_line_->hide();
  desks_[static_cast<std::size_t>(desk)]->setChecked(true);
  sheet_->setDesk(desk);
  stage_->setDesk(desk);
  card_->setDesk(desk);
  if (desk == Desk::Verdict)
    bottom_->setCurrentWidget(parts_);
  else if (bottom_->currentWidget() == parts_)
    bottom_->setCurrentWidget(timeline_);
  sizeTimeline(desk == Desk::Bench ||
               (desk == Desk::Part &&
                (drawing_->isVisibleTo(middle_) || revision_pane_->isVisibleTo(middle_))));
  placeBeside();
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
  const Plan& plan = document_.plan();
  const QString name = QString::fromStdString(plan.name);
  name_->setText(name_->fontMetrics().elidedText(name, Qt::ElideRight, 190));
  name_->setToolTip(name);
  const QString setup = plan.setups.size() > 1
                            ? QString::fromStdString(nameOfSetup(plan, plan.setup)) + " · "
                            : QString();
  state_->setText(setup + (document_.path().isEmpty() ? "not saved yet"
                           : document_.unsaved()      ? "changed"
                                                      : "saved"));
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
  if (revision_.revision() && revision_.open() < revision_.revision()->entries.size()) {
    QMessageBox box(QMessageBox::NoIcon, "Unfinished revision",
                    "What was decided on of the revision is lost when it is not finished.",
                    QMessageBox::NoButton, this);
    auto* drop = box.addButton("Give the revision up", QMessageBox::DestructiveRole);
    auto* stay = box.addButton("Stay here", QMessageBox::RejectRole);
    box.setDefaultButton(stay);
    box.exec();
    if (box.clickedButton() != drop) return false;
    revision_.giveUp();
  }
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
  const QString path = QFileDialog::getOpenFileName(
      this, "Open a part or a routine", {}, "Parts and routines (*.alder " + kPartPatterns + ")");
  if (!path.isEmpty()) document_.open(path);
}

void MainWindow::showMessage(const QString& text, bool bad) {
  // Counted from when the window is at rest: the work that it was told of may take its time.
  told_.invalidate();
  QTimer::singleShot(0, this, [this] { told_.start(); });
  told_bad_ = bad;
  last_told_ = text;
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
  document_.finishNewParts();
  document_.jobs().cancel();
  recovery_.end(); // saved or given up
  event->accept();
}

void MainWindow::bringIn(const QString& path) {
  const QString ending = QFileInfo(path).suffix().toLower();
  if (ending == "pdf" || ending == "png" || ending == "jpg" || ending == "jpeg" ||
      ending == "tif" || ending == "tiff")
    addDrawing(path);
  else if (ending == "ply" || ending == "stl" || ending == "xyz" || ending == "pts")
    openCloud(path);
  else if (ending == "qif" && !holdsQifResults(path.toStdString()))
    document_.readProgramFile(path);
  else
    document_.readResults(path);
}

void MainWindow::openCloud(const QString& path) {
  if (cloud_) cloud_->close();
  cloud_ = new CloudWindow(document_, path, theme_, this);
  cloud_->show();
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
  if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event) {
  const auto urls = event->mimeData()->urls();
  if (urls.isEmpty()) return;
  const QString path = urls.first().toLocalFile();
  if (urls.size() > 1 && document_.isOpen()) { // a newer model with its drawing
    QStringList paths;
    for (const QUrl& url : urls)
      paths << url.toLocalFile();
    return openRevision(paths);
  }
  const QString ending = QFileInfo(path).suffix().toLower();
  const bool routine = ending == "alder" || isPartFile(path);
  if (!routine && document_.isOpen())
    bringIn(path);
  else if (mayDiscard())
    document_.open(path);
}

} // namespace alder::app
