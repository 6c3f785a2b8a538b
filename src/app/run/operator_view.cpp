#include "run/operator_view.h"

#include "base/files.h"
#include "base/units.h"
#include "card/fields.h"
#include "plan/frames/frame_fit.h"
#include "route/draft_setups.h"
#include "run/live_gauge.h"
#include "run/turn_picture.h"
#include "theme/pixmap_of.h"
#include <QDir>
#include <QFormLayout>
#include <QKeyEvent>
#include <QVBoxLayout>

namespace alder::app {
namespace {

constexpr int kWidth = 430;
constexpr QSize kPicture(374, 300);
constexpr QSize kTurn(374, 190);
constexpr std::array<double, 3> kPaces{0, 0.1, 1};

QString counted(int done, int left) {
  return QString("%1 of %2 touches").arg(done).arg(done + left);
}

} // namespace

OperatorView::OperatorView(Document& document, const Theme& theme, QWidget* parent)
    : QWidget(parent)
    , document_(document)
    , theme_(theme)
    , routine_(new QLabel)
    , headline_(new QLabel)
    , detail_(new QLabel)
    , picture_(new QLabel)
    , counted_(new QLabel)
    , answer_(new QLineEdit)
    , tool_(new ChoiceBox)
    , settings_(new QWidget)
    , kind_(new ChoiceBox)
    , machine_(new ChoiceBox)
    , pace_(new ChoiceBox)
    , hand_(new ChoiceBox)
    , gauge_(new LiveGauge(theme))
    , progress_(new QProgressBar) {
  setObjectName("card");
  setAttribute(Qt::WA_StyledBackground);
  setFixedWidth(kWidth);
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName("Operator");
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(28, 24, 28, 24);
  layout->setSpacing(10);
  routine_->setFont(theme.text(9.5));
  routine_->setProperty("role", "second");
  headline_->setFont(theme.strong(19));
  headline_->setWordWrap(true);
  headline_->setObjectName("operatorHeadline");
  detail_->setFont(theme.text(12));
  detail_->setWordWrap(true);
  detail_->setObjectName("operatorDetail");
  picture_->setObjectName("operatorPicture");
  picture_->setAccessibleName("Picture of what is to be done");
  picture_->hide();
  answer_->setFont(theme.text(14));
  answer_->setMinimumHeight(44);
  answer_->setObjectName("operatorAnswer");
  connect(answer_, &QLineEdit::returnPressed, this, [this] { answer(); });
  tool_->setFont(theme.text(14));
  tool_->setMinimumHeight(44);
  tool_->setObjectName("operatorTool");
  tool_->setAccessibleName("Tool of the machine");
  tool_->hide();
  kind_->addItems({"Automatic", "By hand, guided"});
  kind_->setObjectName("operatorKind");
  machine_->addItems({"Simulated"});
  machine_->setEditable(true);
  machine_->setObjectName("operatorMachine");
  machine_->setToolTip("Simulated, or HOST:PORT of a machine that speaks I++ DME");
  pace_->addItems({"At once", "Ten times faster", "Real time"});
  pace_->setCurrentIndex(1);
  pace_->setObjectName("operatorPace");
  hand_->addItems({"By themselves", "Each when told"});
  hand_->setObjectName("operatorHand");
  auto* form = new QFormLayout(settings_);
  form->setContentsMargins(0, 8, 0, 8);
  form->setVerticalSpacing(10);
  form->addRow("Run", kind_);
  form->addRow("Machine", machine_);
  form->addRow("Its pace", pace_);
  form->addRow("Touches by hand", hand_);
  gauge_->setObjectName("liveGauge");
  progress_->setTextVisible(false);
  progress_->setFixedHeight(8);
  counted_->setFont(theme.figures(11));
  counted_->setObjectName("operatorCount");
  layout->addWidget(routine_);
  layout->addSpacing(6);
  layout->addWidget(headline_);
  layout->addWidget(detail_);
  layout->addWidget(picture_);
  layout->addWidget(answer_);
  layout->addWidget(tool_);
  layout->addWidget(settings_);
  layout->addSpacing(8);
  layout->addWidget(gauge_);
  layout->addStretch(1);
  layout->addWidget(counted_);
  layout->addWidget(progress_);
  layout->addSpacing(8);
  for (std::size_t i = 0; i < buttons_.size(); ++i) {
    buttons_[i] = new QPushButton;
    buttons_[i]->setObjectName(QString("operator%1").arg(i));
    if (i == 0) buttons_[i]->setProperty("role", "primary");
    buttons_[i]->setMinimumHeight(i == 0 ? 56 : 44);
    buttons_[i]->setFont(i == 0 ? theme.strong(13) : theme.text(11));
    buttons_[i]->setFocusPolicy(Qt::NoFocus); // the keys are the view's
    connect(buttons_[i], &QPushButton::clicked, this, [this, i] {
      if (i < choices_.size()) choices_[i].does();
    });
    layout->addWidget(buttons_[i]);
  }
  connect(&worker_, &RunWorker::changed, this, &OperatorView::refresh);
  connect(&document, &Document::opened, this, [this] { named_.clear(); }); // of another bench
  connect(&worker_, &RunWorker::ended, this, &OperatorView::finished);
}

OperatorView::~OperatorView() = default;

void OperatorView::say(const QString& headline, const QString& detail) {
  headline_->setText(headline);
  detail_->setText(detail);
  detail_->setVisible(!detail.isEmpty());
}

void OperatorView::offer(std::vector<Choice> choices) {
  choices_ = std::move(choices);
  for (std::size_t i = 0; i < buttons_.size(); ++i) {
    buttons_[i]->setVisible(i < choices_.size());
    if (i < choices_.size()) buttons_[i]->setText(choices_[i].words);
  }
}

void OperatorView::showBegin(const QString& headline, const QString& detail,
                             std::vector<Choice> choices) {
  page_ = Page::Begin;
  routine_->setText(QString::fromStdString(document_.plan().name));
  answer_->hide();
  tool_->hide();
  gauge_->hide();
  picture_->hide();
  progress_->hide();
  counted_->hide();
  settings_->show();
  setFocus();
  say(headline, detail);
  choices.push_back({"Back to the desks   Esc", [this] { emit left(); }});
  offer(std::move(choices));
}

// Whether a run with this routine was broken off; then that is what is shown.
bool OperatorView::offerToGoOn(const std::string& key) {
  open_run_ = openedBefore(key);
  if (open_run_.head.key.empty()) return false;
  showBegin("A run was broken off",
            QString("%1 touches of it are kept. It can go on where it was, or be given up.")
                .arg(open_run_.touches),
            {{"Go on   Return", [this] { begin(true); }}, {"Give it up and begin anew", [this] {
                                                             setAside(open_run_);
                                                             begin(false);
                                                           }}});
  page_ = Page::BrokenOff;
  kind_->setCurrentIndex(open_run_.head.kind == RunKind::ByHand);
  return true;
}

void OperatorView::enter() {
  again_.reset();
  if (offerToGoOn(routineKey(document_.plan()))) return;
  showBegin("Ready to measure a part",
            "Lay the part on the machine. What is asked, asks here; the place to touch is lit.",
            {{"Start   Return", [this] { begin(false); }}});
}

void OperatorView::enterAgain(const std::vector<FeatureId>& features) {
  again_ = Again{document_.currentRunName(), features, {}};
  document_.selectFeatures(features); // so that they are seen
  QStringList names;
  for (FeatureId id : features)
    names << QString::fromStdString(document_.plan().nominal(id).name);
  constexpr int kNamed = 3;
  const QString what =
      names.size() <= kNamed ? names.join(", ") : QString("%1 features").arg(names.size());
  showBegin("Measure again: " + what,
            QString("What is touched now takes the place of what %1 has of it.")
                .arg(QString::fromStdString(again_->part)),
            {{"It still lies where it lay   Return", [this] { findAgain(true); }},
             {"It was taken out: find it first   F", [this] { findAgain(false); }}});
}

void OperatorView::findAgain(bool still_lies) {
  if (document_.jobs().busy()) {
    say("Not ready yet", "The routine is still being rehearsed; start in a moment.");
    return;
  }
  document_.routeAgain(again_->features, still_lies,
                       [this, of = again_->features](const Result<Document::AgainRoutine>& r) {
                         if (again_ && again_->features == of) foundAgain(r);
                       });
}

void OperatorView::foundAgain(const Result<Document::AgainRoutine>& routine) {
  if (!again_ || !isVisible()) return; // left meanwhile
  if (!routine) {
    say("It cannot be measured again", QString::fromStdString(routine.error().message));
    return;
  }
  again_->routine = *routine;
  if (!offerToGoOn(routineKey(*routine->plan))) begin(false);
}

// The routine that is open, or the one for what is measured again.
bool OperatorView::prepareRoutine(RunRequest& request) {
  if (again_) {
    request.plan = again_->routine.plan;
    request.way = again_->routine.way;
    request.again = again_->part;
    return true;
  }
  const Routed* routed = document_.routed();
  if (!routed || document_.jobs().busy()) {
    say("Not ready yet", "The routine is still being rehearsed; start in a moment.");
    return false;
  }
  request.plan = std::make_shared<const Plan>(document_.plan());
  request.way = std::make_shared<const Way>(routed->way);
  return true;
}

bool OperatorView::prepare(RunRequest& request, bool go_on) {
  if (!prepareRoutine(request)) return false;
  request.key = routineKey(*request.plan);
  open_run_ = runFor(request.key);
  request.journal = open_run_.journal;
  request.routine = open_run_.routine;
  QDir().mkpath(runFolder());
  // The machine, and whoever goes on with the run, reads the routine as it is now.
  if (auto saved = saveProject({*request.plan, {}, {}}, request.routine.toStdString()); !saved) {
    say("The run cannot be kept", QString::fromStdString(saved.error().message));
    return false;
  }
  if (!go_on) return true;
  const auto text = readFile(request.journal.toStdString());
  const auto journal = text ? readJournal(*text, request.journal.toStdString())
                            : Result<RunJournal>(pass(text.error()));
  if (!journal) {
    say("The run cannot go on", QString::fromStdString(journal.error().message));
    return false;
  }
  request.before = journal->events;
  request.goes_on = true;
  return true;
}

void OperatorView::begin(bool go_on) {
  if (worker_.running() || (!go_on && !beginWithFirstSetup())) return;
  RunRequest request;
  if (!prepare(request, go_on)) return;
  request.kind = kind_->currentIndex() == 1 ? RunKind::ByHand : RunKind::Automatic;
  if (machine_->currentText() != "Simulated") request.machine = machine_->currentText().trimmed();
  request.folder =
      document_.path().isEmpty() ? QDir::homePath() : QFileInfo(document_.path()).absolutePath();
  request.named = named_;
  request.hand_by_itself = hand_->currentIndex() == 0;
  const double pace = kPaces[static_cast<std::size_t>(pace_->currentIndex())];
  request.simulated = simulated_ + QStringList{"--pace", QString::number(pace), "--once"};
  page_ = Page::Run;
  shown_ = RunScene::Phase::Ended; // so that the first scene counts as new
  settings_->hide();
  gauge_->show();
  progress_->show();
  counted_->show();
  worker_.start(std::move(request));
  refresh();
}

void OperatorView::answer() {
  if (shown_ != RunScene::Phase::Question) return;
  const QString text = answer_->text().trimmed();
  if (text.isEmpty()) return;
  bool is_number = false;
  text.toDouble(&is_number);
  if (worker_.scene().number && !is_number) {
    detail_->setText("A number is asked for.");
    detail_->show();
    return;
  }
  setFocus();
  worker_.reply({question_, true, text, FaultChoice::Retry});
}

void OperatorView::answerTool() {
  if (tool_->currentIndex() <= 0) {
    detail_->setText("Choose one of the tools that the machine lists.");
    return;
  }
  worker_.reply({question_, true, tool_->currentText(), FaultChoice::Retry});
}

void OperatorView::refresh() {
  if (page_ == Page::Run) showScene(worker_.scene());
}

void OperatorView::showScene(const RunScene& s) {
  using Phase = RunScene::Phase;
  question_ = s.question;
  say(s.headline, s.detail.isEmpty() ? s.verdicts : s.detail);
  counted_->setText(counted(s.done, s.left));
  progress_->setMaximum(std::max(1, s.done + s.left));
  progress_->setValue(s.done);
  QStringList names;
  for (const auto& touch : s.live)
    names << QString("%1 · touch %2")
                 .arg(QString::fromStdString(document_.plan().nominal(touch.feature).name))
                 .arg(touch.touch + 1);
  gauge_->showTouches(s.live, names);
  if (s.touch >= 0) document_.lightTouch(s.feature, s.touch);
  const bool fresh = std::exchange(shown_, s.phase) != s.phase;
  const bool asks = s.phase == Phase::Question;
  const bool pictured = s.phase == Phase::Wait && s.picture;
  answer_->setVisible(asks);
  const bool for_tool = s.phase == Phase::Tool;
  tool_->setVisible(for_tool);
  gauge_->setVisible(!asks && !for_tool && !pictured);
  if (pictured && !picture_->isVisible()) picture_->setPixmap(pixmapOf(*s.picture, kPicture));
  picture_->setVisible(pictured);
  // Two tools may be asked for one after the other.
  if (for_tool && std::exchange(asked_tool_, s.headline) != s.headline) {
    tool_->clear();
    tool_->addItem("choose");
    tool_->addItems(s.names);
  }
  if (!fresh) return;
  const auto yes = [this](bool y) {
    return [this, y] {
      worker_.reply({question_, y, {}, y ? FaultChoice::Retry : FaultChoice::Stop});
    };
  };
  const Choice stop{"Stop   Esc", [this] { worker_.stop(); }};
  const Choice pause{"Pause   Space", [this] { worker_.pause(true); }};
  switch (s.phase) {
  case Phase::Question:
    answer_->clear();
    answer_->setFocus();
    offer({{"Next   Return", [this] { answer(); }}, stop});
    break;
  case Phase::Wait:
  case Phase::Clear:
    offer({{"Done, go on   Return", yes(true)}, stop});
    break;
  case Phase::Home:
    offer({{"Home it   Return", yes(true)}, stop});
    break;
  case Phase::Tool:
    tool_->setFocus();
    offer({{"Next   Return", [this] { answerTool(); }}, stop});
    break;
  case Phase::Despite:
    offer({stop, {"Go on nevertheless", yes(true)}});
    break;
  case Phase::Fault:
    offer({{"Try again   Return", yes(true)},
           {"Skip this   S",
            [this] {
              worker_.reply({question_, true, {}, FaultChoice::Skip});
            }},
           stop});
    break;
  case Phase::Paused:
    offer({{"Go on   Return", [this] { worker_.pause(false); }}, stop});
    break;
  case Phase::Touching:
    offer({{"Touched   Return", yes(true)}, pause, stop});
    break;
  default:
    offer({pause, stop});
  }
  if (!asks && !for_tool) setFocus();
}

void OperatorView::finished(bool done, const QString& why) {
  showScene(worker_.scene());
  page_ = Page::Ended;
  asked_tool_.clear();
  named_.insert(named_.end(), worker_.named().begin(), worker_.named().end());
  document_.lightTouch({}, -1);
  const Choice back{"Back to the desks   Esc", [this] { emit left(); }};
  if (!done) {
    say(why.startsWith("Stopped") ? "Stopped" : "The run cannot go on",
        (why.startsWith("Stopped") ? QString() : why + " ") +
            "What was touched is kept; the run can go on from there.");
    offer({{"Go on with it   Return", [this] { begin(true); }}, back});
    return;
  }
  if (again_) {
    const QString part = QString::fromStdString(again_->part);
    const QString words =
        document_.takeAgain(again_->part, worker_.run(), again_->features, worker_.qualified());
    forget(open_run_);
    keepNames();
    if (!again_->next_setup) {
      say("Measured again", QString("%1: %2").arg(part, words));
      offer({{"Back to the desks   Return", back.does}});
      return;
    }
    if (turnToNextSetup(part)) return;
    again_.reset();
    sayOutcome(part);
  } else {
    const QString part = document_.takeRun(worker_.run(), worker_.answers(), worker_.qualified());
    forget(open_run_);
    keepNames();
    if (turnToNextSetup(part)) return;
    sayOutcome(part);
  }
  offer({{"Next part   Return", [this] { begin(false); }}, back});
}

QString OperatorView::outcomeOf(const std::map<Verdict, int>& count) {
  const auto any = [&](Verdict v) { return count.contains(v) && count.at(v) > 0; };
  return any(Verdict::Outside)      ? "The part is outside its limits"
         : any(Verdict::Unmeasured) ? "Measured in part"
         : any(Verdict::NotProved)  ? "Not proved: too near a limit for the uncertainty"
         : any(Verdict::Near)       ? "Within its limits, near to some"
         : any(Verdict::Within)     ? "Within its limits"
                                    : "Measured; there is no requirement to judge it by";
}

// Only at the end: with another bench it would not be the routine whose run goes on.
void OperatorView::keepNames() {
  if (!named_.empty())
    document_.editBench("Name tools of the machine", [this](Json& bench) {
      for (const ControllerTool& tool : named_)
        nameController(bench, tool);
    });
  named_.clear();
}

// What is measured in it goes to the same part. Nothing is lost where the run ends here: that part
// is measured again where it lacks something.
bool OperatorView::turnToNextSetup(const QString& part) {
  const auto next = document_.setupAfter(document_.plan().setup);
  const Frame before = document_.plan().placement;
  if (!next || !document_.workOn(*next)) return false;
  const Plan& plan = document_.plan();
  Again again{part.toStdString(), {}, {}, true};
  for (FeatureId id : measuringOrder(plan.steps, false))
    if (plan.feature(id).covered()) again.features.push_back(id);
  again_ = std::move(again);
  std::size_t place = 1;
  std::string how;
  for (const Setup& s : plan.setups) {
    if (s.id == *next) {
      how = s.how;
      break;
    }
    ++place;
  }
  say(how.empty() ? "Turn the part" : QString::fromStdString(how),
      QString("%1, %2 of %3. What is lit comes to lie below. Lay it so, then go on.")
          .arg(QString::fromStdString(nameOfSetup(plan, *next)))
          .arg(place)
          .arg(plan.setups.size()));
  const auto goOn = [this] {
    picture_->hide();
    findAgain(false);
  };
  offer({{"It lies so   Return", goOn}, {"Leave it at that   Esc", [this] { emit left(); }}});
  showTurn(before);
  return true;
}

void OperatorView::showTurn(const Frame& before) {
  const Plan& plan = document_.plan();
  const auto below = facesBelow(*plan.part, plan.placement, plan.supports);
  const Turning turning{plan.part, before, plan.placement, {below.begin(), below.end()}};
  const TurnLook look{{theme_.color("field"), theme_.color("part_grey"), theme_.color("accent"),
                       theme_.color("ink")},
                      theme_.color("second"),
                      theme_.text(9.5)};
  painter_.start("Drawing how the part is turned", [=, this](const Progress&) {
    const QImage image = turnPicture(turning, look, kTurn);
    return JobRunner::Apply([=, this] {
      if (!again_ || worker_.running() || !isVisible()) return; // he has gone on
      picture_->setPixmap(QPixmap::fromImage(image));
      gauge_->hide();
      picture_->show();
    });
  });
}

// A part begins with the first of them.
bool OperatorView::beginWithFirstSetup() {
  const SetupId first = firstSetup(document_.plan());
  if (again_ || document_.plan().setup == first) return true;
  document_.workOn(first);
  say("Not ready yet", QString("The routine begins with %1, which is being rehearsed; start in a "
                               "moment.")
                           .arg(QString::fromStdString(nameOfSetup(document_.plan(), first))));
  return false;
}

void OperatorView::sayOutcome(const QString& name) {
  std::map<Verdict, int> count;
  for (const Requirement& r : document_.plan().spec.requirements) {
    const BriefVerdict* v = document_.verdict(r.id);
    ++count[v ? v->verdict : Verdict::Unmeasured];
  }
  const int outside = count[Verdict::Outside], unmeasured = count[Verdict::Unmeasured],
            not_proved = count[Verdict::NotProved], near = count[Verdict::Near];
  // A frame that is used again checks by how much the part has moved meanwhile.
  QStringList moved;
  for (const UsedFrame& f : worker_.run().frames) {
    const FrameChange change = changeBetween(document_.plan(), f.before, f.after);
    moved << QString("%1 moved by %2 mm, %3°")
                 .arg(QString::fromStdString(f.name))
                 .arg(change.distance, 0, 'f', 3)
                 .arg(degrees(change.angle), 0, 'f', 4);
  }
  say(outcomeOf(count),
      QString("%1: %2 outside, %3 not proved, %4 near a limit, %5 not measured.%6")
          .arg(name)
          .arg(outside)
          .arg(not_proved)
          .arg(near)
          .arg(unmeasured)
          .arg(moved.isEmpty() ? "" : " " + moved.join("; ") + "."));
}

void OperatorView::keyPressEvent(QKeyEvent* event) {
  const auto press = [this](const QString& ending) {
    for (const Choice& c : choices_)
      if (c.words.endsWith(ending)) {
        const auto does = c.does; // the choices change with it
        does();
        return;
      }
  };
  switch (event->key()) {
  case Qt::Key_Return:
  case Qt::Key_Enter:
    return press("Return");
  case Qt::Key_Escape:
    return press("Esc");
  case Qt::Key_Space:
    return press(shown_ == RunScene::Phase::Paused ? "Return" : "Space");
  case Qt::Key_S:
    return press(" S");
  case Qt::Key_F:
    return press(" F");
  default:
    QWidget::keyPressEvent(event);
  }
}

} // namespace alder::app
