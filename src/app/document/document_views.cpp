// Views of the part that the routine keeps.
#include "document/document.h"

#include "base/number_list.h"
#include <algorithm>

namespace alder::app {

// The name that it is kept by; empty: it is not.
std::string Document::keepView(KeptView seen, const std::string& name) {
  if (!open_) return {};
  std::vector<KeptView> views = plan().views;
  const auto found =
      std::find_if(views.begin(), views.end(), [&](const KeptView& v) { return v.name == name; });
  if (found != views.end()) { // as it is seen now; labels stay where they were put
    seen.name = name;
    for (KeptCallout& c : seen.callouts)
      if (const KeptCallout* was = found->find(c.requirement)) c.label = was->label;
    *found = seen;
  } else {
    const auto& selected = selection_.requirement;
    seen.name =
        freeViewName(views, selected ? QString("%1  %2")
                                           .arg(plan().spec.requirement(*selected).balloon)
                                           .arg(QString::fromStdString(describe(
                                               plan().spec, plan().spec.requirement(*selected))))
                                           .toStdString()
                                     : std::string());
    views.push_back(seen);
  }
  const bool kept =
      edit("Keep the view " + QString::fromStdString(seen.name), {SetViews{std::move(views)}});
  return kept ? seen.name : std::string();
}

void Document::renameView(const std::string& name, const QString& now) {
  std::vector<KeptView> views = plan().views;
  for (KeptView& v : views)
    if (v.name == name) v.name = now.trimmed().toStdString();
  edit("Rename the view " + QString::fromStdString(name), {SetViews{std::move(views)}});
}

void Document::removeView(const std::string& name) {
  std::vector<KeptView> views = plan().views;
  std::erase_if(views, [&](const KeptView& v) { return v.name == name; });
  edit("Remove the view " + QString::fromStdString(name), {SetViews{std::move(views)}});
}

void Document::setViewCallouts(const std::string& name, const QString& numbers) {
  const auto wanted = numbersFrom(numbers.toStdString());
  if (!wanted) {
    emit message(QString::fromStdString(wanted.error().message), true);
    return;
  }
  std::vector<KeptView> views = plan().views;
  for (KeptView& v : views) {
    if (v.name != name) continue;
    std::vector<KeptCallout> callouts;
    for (const Requirement& r : plan().spec.requirements) {
      const bool in = std::any_of(wanted->begin(), wanted->end(), [&](const auto& n) {
        return n.first <= r.balloon && r.balloon <= n.second;
      });
      const KeptCallout* was = v.find(r.id);
      if (in) callouts.push_back(was ? *was : KeptCallout{r.id, {}});
    }
    v.callouts = std::move(callouts);
  }
  edit("Callouts of the view " + QString::fromStdString(name), {SetViews{std::move(views)}});
}

void Document::moveLabel(const std::string& view, RequirementId requirement, const Vec2& label) {
  std::vector<KeptView> views = plan().views;
  for (KeptView& v : views)
    if (KeptCallout* c = v.name == view ? v.find(requirement) : nullptr) c->label = label;
  edit("Move a callout", {SetViews{std::move(views)}});
}

} // namespace alder::app
