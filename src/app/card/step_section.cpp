// Steps of the routine that touch nothing, each with its fields; and what can be put in.
#include "card/card.h"
#include "card/fields.h"
#include "card/words.h"
#include "geometry/place_text.h"
#include "plan/step_edit.h"
#include "theme/pixmap_of.h"
#include <QGridLayout>
#include <QLabel>
#include <algorithm>

namespace alder::app {
namespace {

template <class Body> Body with(Body body, const std::function<void(Body&)>& change) {
  change(body);
  return body;
}

} // namespace

bool Card::showsStep() const {
  const auto& ids = document_.selection().steps;
  if (ids.size() != 1 || desk_ == Desk::Bench || desk_ == Desk::Verdict) return false;
  const Steps& steps = document_.plan().steps;
  const std::size_t i = indexOf(steps, ids.front());
  return i < steps.size() && !std::holds_alternative<MeasureStep>(steps[i].body);
}

void Card::stepSection() {
  const Steps& steps = document_.plan().steps;
  const RoutineStep step = steps[indexOf(steps, document_.selection().steps.front())];
  static constexpr std::array<const char*, 15> kKinds{"Measure",
                                                      "Go to a place",
                                                      "Turn the head",
                                                      "Swap the stylus",
                                                      "Wait for the operator",
                                                      "Ask the operator",
                                                      "Note",
                                                      "Group",
                                                      "Use a part frame",
                                                      "Repeat",
                                                      "Construct a feature",
                                                      "Qualify tips",
                                                      "Evaluate",
                                                      "Branch on a verdict",
                                                      "Write a file"};
  title(kKinds[step.body.index()],
        step.enabled ? QString() : QString("Left out: the machine passes over it."));
  std::visit([&](const auto& body) { stepFields(step.id, body); }, step.body);
  if (step.depth > 0) {
    std::size_t outer = indexOf(steps, step.id);
    while (steps[outer].depth >= step.depth)
      --outer;
    if (std::holds_alternative<MeasureStep>(steps[outer].body))
      quantity(
          "before touch", "stepBefore", Quantity::Plain, 0, step.before + 1,
          [this, id = step.id](double v) { document_.placeWithin(id, static_cast<int>(v) - 1); });
  }
  stepLinks();
  const std::size_t at = indexOf(steps, step.id), next = endOf(steps, at);
  if (next < steps.size() && steps[next].depth == step.depth &&
      mayHold(steps[next].body, step.body) && std::holds_alternative<MeasureStep>(steps[next].body))
    link("Put it between the touches", "putWithin",
         [this, id = step.id] { document_.putWithinNext(id); });
  if (step.depth > 0)
    link("Take it out of what holds it", "putOutside",
         [this, id = step.id] { document_.putOutside(id); });
  insertLinks();
}

void Card::stepLine(const QString& label, const char* id, const std::string& value,
                    std::function<void(const std::string&)> entered) {
  auto* edit = new QLineEdit(text(value));
  edit->setObjectName(id);
  edit->setCursorPosition(0);
  connect(edit, &QLineEdit::editingFinished, this, [this, edit, entered = std::move(entered)] {
    if (!edit->isModified()) return;
    edit->setModified(false);
    entered(edit->text().trimmed().toStdString());
    refreshLater(); // what was refused is shown as it was
  });
  row(label, edit);
}

void Card::stepFields(StepId, const MeasureStep&) {}

void Card::stepFields(StepId id, const MoveStep& s) {
  const auto& plan = document_.plan();
  QStringList from{"the machine", "the part"};
  int current = static_cast<int>(s.from);
  std::vector<FeatureId> features;
  for (const NominalFeature& f : plan.spec.features) {
    from << text(f.name);
    features.push_back(f.id);
    if (s.from == CountFrom::Feature && f.id == s.feature)
      current = static_cast<int>(from.size()) - 1;
  }
  choice("counted from", "moveFrom", from, current, [this, id, s, features](int index) {
    MoveStep changed = s;
    changed.from = index == 0   ? CountFrom::Machine
                   : index == 1 ? CountFrom::Part
                                : CountFrom::Feature;
    if (index > 1) changed.feature = features[static_cast<std::size_t>(index) - 2];
    document_.changeStep(id, changed);
  });
  for (int k = 0; k < 3; ++k)
    quantity(QString("XYZ"[k]), QString("movePlace%1").arg(k).toLatin1(), Quantity::Length, 3,
             s.place[k], [this, id, s, k](double v) {
               MoveStep changed = s;
               changed.place[k] = v;
               document_.changeStep(id, changed);
             });
  paragraph(s.from == CountFrom::Feature
                ? "X, Y and Z are those of the feature: Z out of its face, or along its axis to "
                  "where its stylus comes from."
                : "The ball goes there, over the safe shell as far as it lies within.");
}

void Card::stepFields(StepId id, const TurnStep& s) {
  for (const bool a : {true, false})
    quantity(a ? "angle A" : "angle B", a ? "turnA" : "turnB", Quantity::Angle, 1, a ? s.a : s.b,
             [this, id, s, a](double v) {
               document_.changeStep(id,
                                    with<TurnStep>(s, [=](TurnStep& t) { (a ? t.a : t.b) = v; }));
             });
  paragraph("The head takes the nearest angles of its steps, where there is room.");
}

void Card::stepFields(StepId id, const SwapStep& s) {
  QStringList names;
  std::vector<SwapStep> choices;
  int current = -1;
  for (const Stylus& stylus : document_.plan().bench.styli)
    for (const Tip& tip : stylus.tips) {
      if (stylus.name == s.stylus && (tip.name == s.tip || current < 0))
        current = static_cast<int>(choices.size());
      choices.push_back({stylus.name, tip.name});
      names << text(stylus.name + (stylus.tips.size() > 1 ? " " + tip.name : ""));
    }
  if (current < 0) paragraph("The bench has no " + text(s.stylus) + ".", "error");
  choice("stylus", "swapStylus", names, current, [this, id, choices](int index) {
    document_.changeStep(id, choices[static_cast<std::size_t>(index)]);
  });
}

void Card::stepFields(StepId id, const WaitStep& s) {
  stepLine("says", "waitText", s.text, [this, id, s](const std::string& v) {
    document_.changeStep(id, with<WaitStep>(s, [&](WaitStep& w) { w.text = v; }));
  });
  QStringList does{"nothing"};
  std::vector<std::pair<std::string, bool>> choices{{"", true}};
  int current = 0;
  for (const FixtureBody& body : document_.plan().bench.fixture.bodies)
    for (const bool opens : {true, false}) {
      if (!body.can_open) continue;
      if (*s.clamp == body.name && s.opens == opens) current = static_cast<int>(choices.size());
      choices.emplace_back(body.name, opens);
      does << (opens ? "open " : "close ") + text(body.name);
    }
  if (!s.clamp->empty() && current == 0)
    paragraph("The bench has no " + text(*s.clamp) + " that opens.", "error");
  choice("clamp action", "waitClamp", does, current, [this, id, s, choices](int index) {
    document_.changeStep(id, with<WaitStep>(s, [&](WaitStep& w) {
                           std::tie(*w.clamp, w.opens) = choices[static_cast<std::size_t>(index)];
                         }));
  });
  quantity("takes, in s", "waitSeconds", Quantity::Plain, 0, s.seconds, [this, id, s](double v) {
    document_.changeStep(id, with<WaitStep>(s, [&](WaitStep& w) { w.seconds = v; }));
  });
  if (!s.clamp->empty())
    paragraph("From here on ways are sought and checked with the fixture as it then stands.");
  pictureFields(id, s);
}

// What the operator sees beside the words.
void Card::pictureFields(StepId id, const WaitStep& s) {
  head("Picture");
  constexpr QSize kSize(226, 150);
  if (const StepPicture* picture = document_.plan().picture(s.picture)) {
    auto* label = new QLabel;
    label->setObjectName("waitPicture");
    label->setPixmap(pixmapOf(*picture->bytes, kSize));
    label->setToolTip(text(picture->name));
    layout_->addWidget(label);
    link("Remove it", "waitNoPicture", [this, id] { document_.showPicture(id, {}, {}); });
  } else if (!s.picture->empty()) {
    paragraph("There is no picture " + text(*s.picture) + " in this routine.", "error");
  }
  link("As the stage is now", "waitFromStage", [this] { emit wanted("pictureFromStage"); });
  link("From a file …", "waitFromFile", [this] { emit wanted("pictureFromFile"); });
}

void Card::stepFields(StepId id, const AskStep& s) {
  stepLine("asks for", "askWhat", s.what, [this, id, s](const std::string& v) {
    document_.changeStep(id, with<AskStep>(s, [&](AskStep& a) {
                           if (a.role == likelyRole(a.what)) a.role = likelyRole(v);
                           a.what = v;
                         }));
  });
  choice("answer", "askNumber", {"text", "a number"}, s.number ? 1 : 0, [this, id, s](int index) {
    document_.changeStep(id, with<AskStep>(s, [&](AskStep& a) { a.number = index == 1; }));
  });
  if (s.number)
    stepLine("unit", "askUnit", s.unit, [this, id, s](const std::string& v) {
      document_.changeStep(id, with<AskStep>(s, [&](AskStep& a) { a.unit = v; }));
    });
  choice("kept as", "askRole", {"an answer", "the part's serial number", "who runs it"},
         static_cast<int>(s.role), [this, id, s](int index) {
           document_.changeStep(id, with<AskStep>(s, [&](AskStep& a) {
                                  a.role = static_cast<QuestionRole>(index);
                                }));
         });
}

void Card::stepFields(StepId id, const NoteStep& s) {
  stepLine("note", "noteText", s.text,
           [this, id](const std::string& v) { document_.changeStep(id, NoteStep{v}); });
}

void Card::stepFields(StepId id, const GroupStep& s) {
  stepLine("name", "groupName", s.name,
           [this, id](const std::string& v) { document_.changeStep(id, GroupStep{v}); });
  const Steps& steps = document_.plan().steps;
  const std::size_t i = indexOf(steps, id), end = endOf(steps, i);
  figureRow("Steps within", QString::number(end - i - 1));
  paragraph("It is ordered as one, and what it holds within it.");
  link("Release what it holds", "ungroup", [this] { document_.ungroupSteps(); });
}

// For any selected steps.
void Card::stepLinks() {
  const auto ids = document_.selectedSteps();
  if (ids.empty()) return;
  const Steps& steps = document_.plan().steps;
  const bool any_done = std::any_of(ids.begin(), ids.end(), [&](StepId id) {
    const std::size_t i = indexOf(steps, id);
    return i < steps.size() && steps[i].enabled;
  });
  head(ids.size() == 1 ? "This step" : QString("%1 steps").arg(ids.size()));
  link(any_done ? "Leave out for now" : "Take in again", "leaveOut",
       [this] { document_.leaveOutSteps(); });
  link("Make a group", "groupSteps", [this] { document_.groupSteps(); });
  link("Repeat elsewhere on the part", "repeatSteps", [this] { document_.repeatSteps(); });
  link("Remove from the steps", "removeSteps", [this] { document_.removeSteps(); });
}

void Card::insertLinks() {
  head("Insert before it");
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(4);
  int count = 0;
  const auto place = [&](QPushButton* button) {
    layout_->removeWidget(button);
    grid->addWidget(button, count / 2, count % 2);
    ++count;
  };
  const auto offer = [&](const QString& words, const char* id, const StepBody& body) {
    place(link(words, id, [this, body] { document_.insertStep(body); }));
  };
  const Plan& plan = document_.plan();
  offer("Wait", "insertWait", WaitStep{});
  offer("Question", "insertAsk", AskStep{"Serial number", false, "", QuestionRole::SerialNumber});
  offer("Note", "insertNote", NoteStep{"Note"});
  offer("Turn the head", "insertTurn", TurnStep{});
  offer("Swap the stylus", "insertSwap",
        SwapStep{plan.bench.styli.front().name, plan.bench.styli.front().tips.front().name});
  offer("Qualify tips", "insertQualify", QualifyStep{});
  offer("Evaluate", "insertEvaluate", EvaluateStep{});
  if (!plan.spec.requirements.empty()) offer("Branch", "insertBranch", likelyBranch());
  offer("Write a file", "insertOutput", OutputStep{});
  for (const NominalFeature& f : plan.spec.features)
    if (f.isConstructed()) {
      offer("Construct", "insertConstruct", ConstructStep{f.id});
      break;
    }
  layout_->addLayout(grid);
  link("Move to the current position", "insertMove", [this] { document_.insertMoveHere(); });
}

} // namespace alder::app
