// What of the current run's cloud is shown: places, areas left out, the section.
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

namespace {

const MapPlace* worstOf(const DeviationMap& map) {
  const MapPlace* worst = nullptr;
  for (const MapPlace& p : map.places)
    if (!worst || std::abs(p.share) > std::abs(worst->share)) worst = &p;
  return worst;
}

const MapPlace* nearestTo(const DeviationMap& map, const Vec3& place) {
  const MapPlace* nearest = nullptr;
  for (const MapPlace& p : map.places)
    if (!nearest || (p.at - place).squaredNorm() < (nearest->at - place).squaredNorm())
      nearest = &p;
  return nearest;
}

} // namespace

void Document::setSection(std::optional<SectionWay> way) {
  if (!way) {
    if (!section_) return;
    section_.reset();
    emit selectionChanged(); // the stage shows the selection anew
    return;
  }
  const DeviationMap map = deviationMap();
  const std::optional<Vec3> asked = section_ ? std::optional(section_->through) : selection_.picked;
  const MapPlace* place = asked ? nearestTo(map, *asked) : worstOf(map);
  if (!place)
    return emit message(judging() ? "The part is still being judged"
                                  : "A section needs places of a point cloud: bring one in, and "
                                    "select a requirement that it has seen",
                        true);
  const Vec3 through = asked ? *asked : place->at;
  section_ = MapSection{*way, place->feature, through,
                        cutThrough(through, *way, plan().nominal(place->feature).ideal)};
  emit selectionChanged();
}

void Document::nextSection() {
  if (!section_) return setSection(SectionWay::AcrossX);
  if (section_->way == SectionWay::AlongFeature) return setSection({});
  setSection(static_cast<SectionWay>(static_cast<int>(section_->way) + 1));
}

void Document::sectionAt(double at) {
  if (!section_ || section_->plane.at == at) return;
  section_->through += (at - section_->plane.at) * section_->plane.normal;
  section_->plane.at = at;
  emit selectionChanged();
}

void Document::sectionThrough(const Vec3& place) {
  if (!section_) return;
  const DeviationMap map = deviationMap();
  section_->through = place;
  if (const MapPlace* near = nearestTo(map, place)) {
    section_->feature = near->feature;
    section_->plane = cutThrough(place, section_->way, plan().nominal(near->feature).ideal);
  } else {
    section_->plane.at = section_->plane.normal.dot(place);
  }
  emit selectionChanged();
}

void Document::shiftSection(int by) {
  if (!section_) return emit message("No section is shown", true);
  const DeviationMap map = deviationMap();
  const MapFeature* feature = map.of(section_->feature);
  sectionAt(section_->plane.at + by * (feature ? feature->spacing : 1));
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
