// What of the current run's cloud is shown: places, areas left out.
#include "document/document.h"

#include <algorithm>
#include <cmath>

namespace alder::app {

DeviationMap Document::deviationMap() const {
  const JudgedRun* run = open_ ? currentRun() : nullptr;
  if (!run) return {};
  std::vector<const FeatureResult*> results;
  for (const auto& [id, evaluation] : run->details)
    if (!selection_.requirement || *selection_.requirement == id)
      for (const FeatureResult& f : evaluation.features)
        results.push_back(&f);
  return alder::deviationMap(plan(), results, run->measured(), project_.brought.left_out);
}

void Document::changeLeftOut(const QString& text, std::vector<MapArea> areas) {
  if (areas == project_.brought.left_out) return;
  ResultsEdit edit{text.toStdString(), {}, {}, project_.brought};
  edit.brought.left_out = std::move(areas);
  history_.apply(project_, edit);
  emit selectionChanged();
  emit savedChanged();
}

void Document::leaveOutOfMap() {
  if (!open_) return;
  if (selection_.features.empty())
    return emit message("Select features to leave out of the deviation map", true);
  std::vector<MapArea> areas = project_.brought.left_out;
  const auto whole = [](FeatureId id) { return MapArea{id, 0, Vec3::Zero()}; };
  const bool all_out =
      std::all_of(selection_.features.begin(), selection_.features.end(), [&](FeatureId id) {
        return std::find(areas.begin(), areas.end(), whole(id)) != areas.end();
      });
  for (const FeatureId id : selection_.features) {
    std::erase(areas, whole(id));
    if (!all_out) areas.push_back(whole(id));
  }
  changeLeftOut(all_out ? "features on the map again" : "features left out of the map",
                std::move(areas));
}

void Document::setMapRadius(double radius) {
  if (radius > 0) map_radius_ = radius;
}

void Document::leaveOutAboutPicked() {
  if (!open_) return;
  if (!selection_.picked || selection_.features.empty())
    return emit message("Click the place on the map first", true);
  std::vector<MapArea> areas = project_.brought.left_out;
  areas.push_back({selection_.features.back(), map_radius_, *selection_.picked});
  changeLeftOut("area left out of the map", std::move(areas));
}

void Document::onMapAgain(std::size_t area) {
  std::vector<MapArea> areas = project_.brought.left_out;
  if (area >= areas.size()) return;
  areas.erase(areas.begin() + static_cast<long>(area));
  changeLeftOut("area on the map again", std::move(areas));
}

void Document::allOnMapAgain() {
  if (open_) changeLeftOut("all on the map again", {});
}

} // namespace alder::app
