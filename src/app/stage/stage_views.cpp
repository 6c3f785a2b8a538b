// Looks: the standard ones, and those that the model's designer saved.
#include "stage/stage.h"

#include "part/pmi/views.h"
#include <algorithm>

namespace alder::app {

void Stage::look(OcctView::Standard direction) {
  shown_view_.reset();
  view_->look(direction);
}

void Stage::seeAll() {
  shown_view_.reset();
  view_->fitAll();
}

void Stage::showView(std::size_t index) {
  if (!document_.isOpen() || index >= document_.plan().part->pmi.views.size()) return;
  shown_view_ = index;
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
  if (!shown_view_) return ids;
  const auto& shows = document_.plan().part->pmi.views[*shown_view_].shows;
  for (const Requirement& r : document_.plan().spec.requirements)
    if (!r.features.empty() && std::find(shows.begin(), shows.end(), r.entity) != shows.end())
      ids.push_back(r.id);
  return ids;
}

std::optional<Vec3> Stage::calloutOf(const Requirement& r) const {
  const Plan& plan = document_.plan();
  for (const PmiCallout& c : plan.part->pmi.callouts)
    if (r.entity != 0 && c.of == r.entity) return plan.placement * c.at;
  return {};
}

} // namespace alder::app
