// What is selected, and where the playhead stands.
#include "document/document.h"

#include <algorithm>

namespace alder::app {

void Document::select(Selection selection) {
  if (selection == selection_) return;
  selection_ = std::move(selection);
  selected_in_ = plan().part;
  if (selection_.requirement && plan().spec.requirement(*selection_.requirement).features.empty())
    waiting_ = selection_.requirement;
  emit selectionChanged();
}

void Document::selectRequirement(RequirementId requirement) {
  if (!requirement.valid()) return clearSelection();
  select({requirement, {requirement}, plan().spec.requirement(requirement).features, -1});
}

void Document::selectRequirements(const std::vector<RequirementId>& requirements,
                                  RequirementId current) {
  if (requirements.size() < 2) return selectRequirement(current);
  Selection s{current, requirements, {}, -1};
  for (RequirementId id : requirements)
    for (FeatureId f : plan().spec.requirement(id).features)
      if (std::find(s.features.begin(), s.features.end(), f) == s.features.end())
        s.features.push_back(f);
  select(std::move(s));
}

void Document::setExaggeration(double factor) {
  if (factor == exaggeration_) return;
  exaggeration_ = factor;
  emit selectionChanged(); // the stage shows the selection anew
}

void Document::selectFeatures(std::vector<FeatureId> features, std::optional<Vec3> picked) {
  Selection s;
  s.picked = picked;
  s.features = std::move(features);
  if (s.features.empty()) return clearSelection();
  // Keep the requirement if it is about this feature, else take the first that is.
  const auto about = [&](const Requirement& r) {
    return std::find(r.features.begin(), r.features.end(), s.features.front()) != r.features.end();
  };
  if (selection_.requirement && about(plan().spec.requirement(*selection_.requirement)))
    s.requirement = selection_.requirement;
  else
    for (const Requirement& r : plan().spec.requirements)
      if (about(r) && !s.requirement) s.requirement = r.id;
  if (s.requirement) s.requirements = {*s.requirement};
  select(std::move(s));
}

void Document::selectFaces(std::vector<FaceId> faces, std::optional<Vec3> picked) {
  Selection s;
  s.faces = std::move(faces);
  s.picked = picked;
  if (s.faces.empty()) return clearSelection();
  select(std::move(s));
}

void Document::selectStep(int step) {
  if (!routed_ || step < 0 || step >= static_cast<int>(routed_->way.steps.size())) return;
  const Step& routed = routed_->way.steps[static_cast<std::size_t>(step)];
  if (routed.feature.valid()) selectFeatures({routed.feature});
  Selection s = selection_;
  if (!routed.feature.valid()) s = {};
  s.step = step;
  if (routed.origin.valid()) s.steps = {routed.origin};
  select(std::move(s));
}

void Document::selectSteps(std::vector<StepId> steps) {
  std::vector<FeatureId> features;
  for (StepId id : steps)
    if (const std::size_t i = indexOf(plan().steps, id); i < plan().steps.size())
      if (const FeatureId f = measuredIn(plan().steps[i].body); f.valid()) features.push_back(f);
  selectFeatures(std::move(features));
  Selection s = selection_;
  s.steps = std::move(steps);
  select(std::move(s));
}

void Document::clearSelection() {
  select({});
}

void Document::lightTouch(FeatureId feature, int touch) {
  const bool known = feature.valid() && touch >= 0 &&
                     touch < static_cast<int>(plan().feature(feature).touches.size());
  lit_.reset();
  if (known) {
    lit_ =
        plan().placement * plan().feature(feature).touches[static_cast<std::size_t>(touch)].point;
    if (routed_)
      for (std::size_t i = 0; i < routed_->way.positions.size(); ++i) {
        const Position& p = routed_->way.positions[i];
        if (p.contact && p.feature == feature && p.touch == touch)
          playhead_ = routed_->rehearsal.times[i];
      }
  }
  emit playheadChanged();
}

void Document::setPlayhead(double seconds) {
  const double end = routed_ ? routed_->rehearsal.seconds : 0;
  const double next = std::clamp(seconds, 0.0, end);
  if (next == playhead_) return;
  playhead_ = next;
  emit playheadChanged();
}

} // namespace alder::app
