// The set-ups of the routine: which is worked on, what is touched in each, how it is joined.
#include "base/units.h"
#include "card/card.h"
#include "card/words.h"
#include "judge/setup_join.h"
#include <QLineEdit>
#include <algorithm>

namespace alder::app {

void Card::setupsSection() {
  const Plan& plan = document_.plan();
  if (plan.setups.size() < 2) return;
  head("Set-ups");
  std::vector<SetupJoin> joins; // of the part that is looked at
  if (const auto* run = document_.currentRun()) joins = joinedSetups(plan, run->measured()).joins;
  for (const Setup& s : plan.setups) {
    const bool now = s.id == plan.setup;
    const auto touched =
        std::count_if(plan.features.begin(), plan.features.end(),
                      [&](const Feature& f) { return f.setup == s.id && f.covered(); });
    QStringList names;
    for (FeatureId id : joiningIn(plan, s.id))
      names << text(plan.nominal(plan.nominal(id).portion->of).name);
    const QString features = QString("%1 features").arg(touched);
    if (now) {
      setupFields(s);
      paragraph(features + (names.isEmpty() ? "" : ", joined by " + names.join(", ")), "second");
    } else {
      link(QString("%1: %2").arg(text(s.name), features),
           QString("workOn%1").arg(s.id.value).toLatin1(),
           [this, id = s.id] { document_.workOn(id); });
    }
    for (const SetupJoin& join : joins)
      if (join.setup == s.id)
        paragraph(join.why.empty() ? QString("%1 fits with a misfit of %2 mm; %3 mm are allowed")
                                         .arg(text(s.name), text(figure(join.misfit, 4)),
                                              text(shortFigure(s.most_misfit)))
                                   : text(s.name + ": " + join.why),
                  join.why.empty() ? "second" : "error");
  }
}

void Card::setupFields(const Setup& s) {
  const auto change = [this, id = s.id](const QString& what, const auto& field) {
    auto all = setupsOf(document_.plan());
    for (Setup& one : all)
      if (one.id == id) field(one);
    document_.edit(what, {SetSetups{std::move(all), document_.plan().setup}});
  };
  auto* called = new QLineEdit(text(s.name));
  called->setObjectName("setupName");
  connect(called, &QLineEdit::editingFinished, this, [=] {
    const std::string name = called->text().trimmed().toStdString();
    if (name != s.name) change("Rename the set-up", [&](Setup& one) { one.name = name; });
  });
  row("worked on", called);
  auto* how = new QLineEdit(text(s.how));
  how->setObjectName("setupHow");
  how->setPlaceholderText("what the operator does before it");
  how->setCursorPosition(0);
  connect(how, &QLineEdit::editingFinished, this, [=] {
    const std::string words = how->text().trimmed().toStdString();
    if (words != s.how)
      change("What is done before the set-up", [&](Setup& one) { one.how = words; });
  });
  wideRow("before it", how);
  if (s.id != firstSetup(document_.plan()))
    quantity("misfit at most", "setupMisfit", Quantity::Length, 3, s.most_misfit, [=](double v) {
      change("Misfit of the set-up", [&](Setup& one) { one.most_misfit = v; });
    });
}

} // namespace alder::app
