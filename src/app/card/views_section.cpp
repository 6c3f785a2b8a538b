// Views that the routine keeps: in the overview of the card.
#include "card/card.h"

#include <QLineEdit>

namespace alder::app {

namespace {

QString numbersOf(const Plan& plan, const KeptView& view) {
  QStringList numbers;
  for (const KeptCallout& c : view.callouts)
    if (const Requirement* r = plan.spec.requirements.find(c.requirement))
      numbers << QString::number(r->balloon);
  return numbers.join(", ");
}

} // namespace

void Card::viewsSection() {
  const Plan& plan = document_.plan();
  if (plan.views.empty()) return;
  head("Views kept");
  for (std::size_t i = 0; i < plan.views.size(); ++i) {
    const KeptView& view = plan.views[i];
    auto* name = new QLineEdit(QString::fromStdString(view.name));
    name->setObjectName(QString("viewName%1").arg(i));
    connect(name, &QLineEdit::editingFinished, this, [this, name, was = view.name] {
      if (name->text().toStdString() != was) document_.renameView(was, name->text());
    });
    row("name", name);
    auto* callouts = new QLineEdit(numbersOf(plan, view));
    callouts->setObjectName(QString("viewCallouts%1").arg(i));
    callouts->setPlaceholderText("1-5, 9");
    connect(callouts, &QLineEdit::editingFinished, this,
            [this, callouts, name = view.name, was = callouts->text()] {
              if (callouts->text() != was) document_.setViewCallouts(name, callouts->text());
            });
    row("callouts", callouts);
    link("Show it", qPrintable(QString("showView%1").arg(i)),
         [this, n = view.name] { emit viewWanted(QString::fromStdString(n)); });
    link("Remove it", qPrintable(QString("removeView%1").arg(i)),
         [this, n = view.name] { document_.removeView(n); });
  }
}

} // namespace alder::app
