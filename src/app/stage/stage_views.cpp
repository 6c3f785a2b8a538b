// Looks: the standard ones, and those that the model's designer saved.
#include "stage/stage.h"

#include "part/pmi/views.h"
#include "stage/overlay.h"
#include <algorithm>
#include <cmath>

namespace alder::app {

void Stage::look(OcctView::Standard direction) {
  shown_view_.reset();
  shown_kept_.clear();
  view_->look(direction);
}

void Stage::seeAll() {
  shown_view_.reset();
  shown_kept_.clear();
  view_->fitAll();
}

void Stage::showView(std::size_t index) {
  if (!document_.isOpen() || index >= document_.plan().part->pmi.views.size()) return;
  shown_view_ = index;
  shown_kept_.clear();
  document_.sectionAs(document_.plan().part->pmi.views[index].section);
  const Plan& plan = document_.plan();
  const ParallelView v = parallelView(plan.part->pmi.views[index], plan.part->mesh.box());
  const Vec3 centre = plan.placement * v.centre, towards = turn(plan.placement, v.towards),
             up = turn(plan.placement, v.up);
  view_->look({centre.x(), centre.y(), centre.z()}, {towards.x(), towards.y(), towards.z()},
              {up.x(), up.y(), up.z()}, v.width, v.height);
  update();
}

std::vector<RequirementId> Stage::requirementsOfView() const {
  std::vector<RequirementId> ids;
  if (const KeptView* kept = keptView()) {
    for (const KeptCallout& c : kept->callouts)
      if (const Requirement* r = document_.plan().spec.requirements.find(c.requirement);
          r && !r->features.empty())
        ids.push_back(c.requirement);
    return ids;
  }
  if (!shown_view_) return ids;
  const auto& shows = document_.plan().part->pmi.views[*shown_view_].shows;
  for (const Requirement& r : document_.plan().spec.requirements)
    if (!r.features.empty() && std::find(shows.begin(), shows.end(), r.entity) != shows.end())
      ids.push_back(r.id);
  return ids;
}

std::optional<std::size_t> Stage::shownView() const {
  const KeptView* kept = keptView();
  if (!kept) return shown_view_;
  const Plan& plan = document_.plan();
  return plan.part->pmi.views.size() + static_cast<std::size_t>(kept - plan.views.data());
}

const KeptView* Stage::keptView() const {
  return document_.isOpen() ? viewNamed(document_.plan().views, shown_kept_) : nullptr;
}

void Stage::showKept(const std::string& name) {
  const KeptView* kept = document_.isOpen() ? viewNamed(document_.plan().views, name) : nullptr;
  if (!kept) return;
  shown_view_.reset();
  shown_kept_ = name;
  const KeptView view = *kept; // the section may be shown anew
  document_.sectionAs(view.section);
  kept = &view;
  const Plan& plan = document_.plan();
  const Vec3 centre = plan.placement * kept->centre, towards = turn(plan.placement, kept->towards),
             up = upOf(*kept);
  view_->look({centre.x(), centre.y(), centre.z()}, {towards.x(), towards.y(), towards.z()},
              {up.x(), up.y(), up.z()}, kept->width, kept->height);
  overlay_->update();
  update();
}

KeptView Stage::seenNow() const {
  KeptView kept;
  const OcctView::Seen seen = view_->seen();
  const Frame back = document_.plan().placement.inverse();
  const auto vec = [](const auto& v) { return Vec3(v.X(), v.Y(), v.Z()); };
  kept.centre = back * vec(seen.centre);
  kept.towards = turn(back, vec(seen.towards)), kept.up = turn(back, vec(seen.up));
  kept.width = seen.width, kept.height = seen.height;
  kept.section = cutNow();
  for (const RequirementId id : requirementsOfView())
    kept.callouts.push_back({id, {}});
  const auto& selected = document_.selection().requirement;
  if (selected && !kept.find(*selected)) kept.callouts.push_back({*selected, {}});
  return kept;
}

Vec3 Stage::upOf(const KeptView& view) const {
  const Vec3 right = view.up.cross(view.towards).normalized();
  return turn(document_.plan().placement, view.towards.cross(right).normalized());
}

Vec3 Stage::rightOf(const KeptView& view) const {
  return turn(document_.plan().placement, view.up.cross(view.towards).normalized());
}

std::optional<QPointF> Stage::labelOf(const KeptCallout& callout) const {
  if (held_ && held_->requirement == callout.requirement) return held_->middle;
  const KeptView* kept = keptView();
  if (!kept || !callout.label) return {};
  return project(document_.plan().placement * kept->centre + callout.label->x() * rightOf(*kept) +
                 callout.label->y() * upOf(*kept));
}

bool Stage::holdLabel(const QPointF& at) {
  held_.reset();
  const KeptView* kept = keptView();
  const auto requirement = kept ? overlay_->requirementAt(at) : std::nullopt;
  if (!requirement || !kept->find(*requirement)) return false;
  held_ = HeldLabel{*requirement, at, overlay_->middleOf(*requirement)};
  return true;
}

// Counted in the view as it was kept, whatever the eye has done since.
void Stage::dropLabel(bool moved) {
  const auto held = std::exchange(held_, std::nullopt);
  const KeptView* kept = keptView();
  if (!held || !kept || !moved) return;
  const Vec3 centre = document_.plan().placement * kept->centre;
  // Places are projected to whole pixels: over a length that makes nothing of that.
  const double far = kept->width;
  const QPointF o = project(centre), x = (project(centre + far * rightOf(*kept)) - o) / far,
                y = (project(centre + far * upOf(*kept)) - o) / far, d = held->middle - o;
  const double square = x.x() * y.y() - x.y() * y.x();
  if (std::abs(square) < 1e-9) return; // seen along its plane
  document_.moveLabel(
      kept->name, held->requirement,
      {(d.x() * y.y() - d.y() * y.x()) / square, (x.x() * d.y() - x.y() * d.x()) / square});
}

std::optional<Vec3> Stage::calloutOf(const Requirement& r) const {
  const Plan& plan = document_.plan();
  for (const PmiCallout& c : plan.part->pmi.callouts)
    if (r.entity != 0 && c.of == r.entity) return plan.placement * c.at;
  return {};
}

} // namespace alder::app
