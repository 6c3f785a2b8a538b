#include "card/card.h"
#include "card/words.h"
#include <map>

namespace alder::app {

// Where the seconds go, and the narrowest place, to which the playhead can be taken.
void Card::timeShares(const Routed& routed) {
  const auto& times = routed.rehearsal.times;
  std::map<StepKind, double> seconds;
  for (const Step& s : routed.way.steps) {
    if (s.last < s.first) continue;
    const double start = s.first > 0 ? times[static_cast<std::size_t>(s.first) - 1] : 0;
    seconds[s.kind] += times[static_cast<std::size_t>(s.last)] - start;
  }
  head("Time");
  static constexpr std::pair<StepKind, const char*> kRows[]{{StepKind::Measure, "measuring"},
                                                            {StepKind::Hop, "hops"},
                                                            {StepKind::Turn, "head turns"},
                                                            {StepKind::Swap, "stylus swaps"},
                                                            {StepKind::Manual, "touches by hand"}};
  for (const auto& [kind, label] : kRows)
    figureRow(label, QString("%1 s").arg(seconds[kind], 0, 'f', 1));
  const int at = routed.rehearsal.least_at;
  if (at < 0) return;
  const Position& p = routed.way.positions[static_cast<std::size_t>(at)];
  head("Narrowest place");
  auto* button = new QPushButton(QString("%1 mm at %2 s")
                                     .arg(routed.rehearsal.least_clearance, 0, 'f', 2)
                                     .arg(times[static_cast<std::size_t>(at)], 0, 'f', 1));
  button->setProperty("role", "link");
  connect(button, &QPushButton::clicked, this,
          [this, step = p.step, second = times[static_cast<std::size_t>(at)]] {
            document_.selectStep(step);
            document_.setPlayhead(second);
          });
  layout_->addWidget(button);
  paragraph(text(routed.way.steps[static_cast<std::size_t>(p.step)].text));
}

// What was left unchecked or asked to keep more distance: "clear" holds but for these.
void Card::exceptions() {
  if (document_.plan().pairs.empty()) return;
  head("Exceptions");
  for (const PairRule& p : document_.plan().pairs)
    paragraph(text(describe(p)));
}

void Card::clashSection() {
  const Routed* routed = document_.routed();
  if (const QString why = document_.routingFailure(); !why.isEmpty()) {
    title("There is no way", {});
    paragraph(why, "error");
    link("Rehearse again", "rehearseAgain", [this] { document_.rehearseAgain(); });
    return;
  }
  if (!routed) return paragraph("Being routed …");
  const auto& r = routed->rehearsal;
  title(r.clear()
            ? "No clash"
            : QString("%1 clash%2").arg(r.clashes.size()).arg(r.clashes.size() == 1 ? "" : "es"),
        QString("%1 s, %2 m, clearance %3 mm")
            .arg(r.seconds, 0, 'f', 1)
            .arg(r.path / 1000, 0, 'f', 2)
            .arg(r.least_clearance, 0, 'f', 2));
  for (const Note& n : routed->way.notes)
    paragraph(text(n.text), "error");
  if (document_.selection().features.empty()) // else they stand above
    clashRows(*routed, groupsOf(*routed, [](const Clash&) { return true; }));
  exceptions();
  timeShares(*routed);
}

} // namespace alder::app
