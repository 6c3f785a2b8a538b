#include "base/units.h"
#include "card/card.h"
#include "card/words.h"
#include <QDateTime>

namespace alder::app {

namespace {

QString whenText(std::int64_t seconds) {
  return QDateTime::fromSecsSinceEpoch(seconds).toString("yyyy-MM-dd hh:mm");
}

} // namespace

// The tips that the routine touches with, what is known of each, and how to know it.
void Card::qualifySection() {
  const Plan& plan = document_.plan();
  head("Qualification, in mm");
  if (!plan.bench.has_sphere) {
    paragraph("The bench has no reference sphere.");
    return;
  }
  const auto used = accessesUsed(plan);
  if (used.empty()) paragraph("The routine touches with no tip yet.");
  for (const Access& a : used) {
    const TipState state = document_.tipState(a);
    figureRow(text(nameOf(plan, a)), text(std::string(name(state))));
    if (const auto why = document_.whyTipLeft(a); !why.empty())
      paragraph("Cannot be qualified: " + text(why) + ".", "error");
    if (const QualifiedTip* t = plan.qualified.find(a)) {
      paragraph(QString("⌀ %1 · offset %2 · form %3\nσ %4 · %5 touches · %6")
                    .arg(text(figure(t->diameter, 4)), text(figure(t->offset.norm(), 4)),
                         text(figure(t->form, 4)), text(figure(t->sigma, 4)))
                    .arg(t->touches)
                    .arg(whenText(t->seconds)));
      if (const auto beyond = beyondLimits(*t, plan.bench); !beyond.empty())
        paragraph("Out of limits: " + text(beyond) + ".", "error");
    }
  }
  if (used.empty()) return;
  if (!document_.tipsToQualify().empty())
    link(plan.qualified.tips.empty() ? "Qualify these tips" : "Qualify those that need it",
         "qualify", [this] { document_.qualify(document_.tipsToQualify(), false); });
  link("Qualify all, the sphere was moved", "qualifyMoved",
       [this] { document_.qualify(accessesUsed(document_.plan()), true); });
  paragraph(QString("The other tips are offset against the position that the first tip finds. Valid for %1 hours.")
                .arg(plan.bench.qualification.valid_hours));
}

} // namespace alder::app
