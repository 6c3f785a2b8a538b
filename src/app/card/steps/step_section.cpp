// The selected step: its fields by its kind (card/steps), where it stands, and what can be put in.
#include "card/card.h"
#include "card/words.h"
#include "plan/steps/step_edit.h"
#include <QGridLayout>
#include <QLineEdit>
#include <algorithm>

namespace alder::app {
bool Card::showsStep() const {
  const auto& ids = document_.selection().steps;
  if (ids.size() != 1 || desk_ == Desk::Bench || desk_ == Desk::Verdict) return false;
  const Steps& steps = document_.plan().steps;
  const std::size_t i = indexOf(steps, ids.front());
  return i < steps.size() && !measuredIn(steps[i].body).valid();
}

void Card::stepSection() {
  const Steps& steps = document_.plan().steps;
  const RoutineStep step = steps[indexOf(steps, document_.selection().steps.front())];
  title(text(traitsOf(step.body).title),
        step.enabled ? QString() : QString("Left out: the machine passes over it."));
  std::visit([&](const auto& body) { stepFields(step.id, body); }, step.body);
  if (step.depth > 0) {
    std::size_t outer = indexOf(steps, step.id);
    while (steps[outer].depth >= step.depth)
      --outer;
    if (measuredIn(steps[outer].body).valid())
      quantity(
          "before touch", "stepBefore", Quantity::Plain, 0, step.before + 1,
          [this, id = step.id](double v) { document_.placeWithin(id, static_cast<int>(v) - 1); });
  }
  stepLinks();
  const std::size_t at = indexOf(steps, step.id), next = endOf(steps, at);
  if (next < steps.size() && steps[next].depth == step.depth &&
      mayHold(steps[next].body, step.body) && measuredIn(steps[next].body).valid())
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

std::vector<StepOffer> Card::offers(const Document& document) {
  std::vector<StepOffer> all;
  const auto add = [&]<std::size_t... I>(std::index_sequence<I...>) {
    (all.push_back(
         offerOf(document, static_cast<const std::variant_alternative_t<I, StepBody>*>(nullptr))),
     ...);
  };
  add(std::make_index_sequence<std::variant_size_v<StepBody>>());
  std::erase_if(all, [](const StepOffer& o) { return o.link.isEmpty(); });
  std::stable_sort(all.begin(), all.end(),
                   [](const StepOffer& a, const StepOffer& b) { return a.place < b.place; });
  return all;
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
  for (const StepOffer& offer : offers(document_))
    if (offer.body)
      place(link(offer.link, offer.link_id,
                 [this, body = *offer.body] { document_.insertStep(body); }));
  layout_->addLayout(grid);
  link("Move to the current position", "insertMove", [this] { document_.insertMoveHere(); });
}

} // namespace alder::app
