// What is wrong with the selection stands first in the card: clashes, what is not covered, tips
// that are not qualified.
#include "card/card.h"
#include "card/words.h"
#include <QLabel>
#include <algorithm>
#include <set>

namespace alder::app {

namespace {

constexpr std::size_t kMost = 6; // groups of clashes; the rest is counted

} // namespace

std::vector<ClashGroup> groupsOf(const Routed& routed,
                                 const std::function<bool(const Clash&)>& counts) {
  std::vector<ClashGroup> groups;
  for (const Clash& c : routed.rehearsal.clashes) {
    if (!counts(c)) continue;
    const FeatureId feature = routed.way.steps[static_cast<std::size_t>(c.step)].feature;
    const auto same = std::find_if(groups.begin(), groups.end(), [&](const ClashGroup& g) {
      return g.first.moving == c.moving && g.first.still == c.still && g.feature == feature;
    });
    if (same == groups.end()) {
      groups.push_back({c, feature, 1, c.depth});
      continue;
    }
    ++same->count;
    same->deepest = std::max(same->deepest, c.depth);
  }
  return groups;
}

void Card::clashRow(const Routed& routed, const ClashGroup& group) {
  const Clash& c = group.first;
  QString words = QString("%1 meets %2").arg(text(c.moving), text(c.still));
  words[0] = words[0].toUpper();
  link(QString("%1 s  %2").arg(c.seconds, 0, 'f', 1).arg(words), "clash", [this, c] {
    document_.selectStep(c.step);
    document_.setPlayhead(c.seconds);
  });
  const QString how =
      QString("%1 mm deep%2, ")
          .arg(group.deepest, 0, 'f', 2)
          .arg(group.count > 1 ? QString(" at most, %1 places").arg(group.count) : "");
  paragraph(how +
            (group.feature.valid()
                 ? "at " + text(document_.plan().nominal(group.feature).name) + "."
                 : "“" + text(routed.way.steps[static_cast<std::size_t>(c.step)].text) + "”."));
}

void Card::clashRows(const Routed& routed, const std::vector<ClashGroup>& groups) {
  for (std::size_t i = 0; i < std::min(groups.size(), kMost); ++i)
    clashRow(routed, groups[i]);
  if (groups.size() <= kMost) return;
  std::size_t more = 0;
  for (std::size_t i = kMost; i < groups.size(); ++i)
    more += groups[i].count;
  paragraph(QString("And %1 more, of %2 other bodies or features: “Next clash” goes through them.")
                .arg(more)
                .arg(groups.size() - kMost));
}

// Where a stylus would help, it is taken on from here.
void Card::fittingStylusRow(const std::string& why) {
  if (why.find("would reach it at") == std::string::npos) return;
  link("Take on that stylus (Alt+Y)", "takeStylus", [this] { document_.takeFittingStylus(); });
}

// Of the selected requirement and features.
void Card::wrongSection() {
  const auto& selection = document_.selection();
  const Plan& plan = document_.plan();
  std::set<FeatureId> features(selection.features.begin(), selection.features.end());
  if (desk_ == Desk::Verdict || (!selection.requirement && features.empty())) return;
  if (selection.requirement) {
    const Requirement& r = plan.spec.requirement(*selection.requirement);
    if (const auto why = document_.whyNotCovered(r); !why.empty()) {
      wrongHead(QString("Requirement %1 is not covered").arg(r.balloon));
      paragraph(text(why), "error");
      fittingStylusRow(why);
    }
    for (FeatureId id : featuresNeeded(plan.spec, r))
      features.insert(id);
  } else if (selection.features.size() == 1) {
    if (const Feature& f = plan.feature(selection.features[0]); !f.why_not.empty()) {
      wrongHead("Not touched as it should be");
      paragraph(text(f.why_not), "error");
      fittingStylusRow(f.why_not);
    }
  }
  if (const Routed* routed = document_.routed()) {
    const auto groups = groupsOf(*routed, [&](const Clash& c) {
      return features.count(routed->way.steps[static_cast<std::size_t>(c.step)].feature) > 0;
    });
    if (!groups.empty()) {
      wrongHead("Clashes on its way");
      clashRows(*routed, groups);
    }
  }
  if (!plan.bench.has_sphere || plan.qualified.tips.empty()) return;
  std::vector<Access> told;
  for (FeatureId id : features) {
    const Access& a = plan.feature(id).access;
    if (!a.valid() || std::find(told.begin(), told.end(), a) != told.end()) continue;
    const TipState state = document_.tipState(a);
    if (state == TipState::Qualified) continue;
    if (told.empty()) wrongHead("Tips");
    told.push_back(a);
    const auto why = document_.whyTipLeft(a);
    paragraph(text(nameOf(plan, a)) + " is " + text(name(state)) +
                  (why.empty() ? QString(".") : ": " + text(why) + "."),
              "error");
  }
  if (!told.empty())
    link("Qualify tips", "qualifyWrong",
         [this] { document_.qualify(document_.tipsToQualify(), false); });
}

void Card::wrongHead(const QString& words) {
  auto* label = new QLabel(words);
  label->setObjectName("wrong");
  label->setFont(theme_.strong(9.5));
  label->setWordWrap(true);
  label->setProperty("role", "error");
  layout_->addWidget(label);
}

} // namespace alder::app
