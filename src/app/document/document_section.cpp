// A section through the part, in pictures.
#include "document/document.h"

#include <algorithm>
#include <cmath>

namespace alder::app {
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

bool ofFeature(SectionWay way) {
  return way == SectionWay::AcrossFeature || way == SectionWay::AlongFeature;
}

} // namespace

void Document::setSection(std::optional<SectionWay> way) {
  if (!way || !open_) {
    if (!section_) return;
    section_.reset();
    emit selectionChanged(); // the stage shows the selection anew
    return;
  }
  const DeviationMap map = deviationMap();
  const auto asked = section_ ? std::optional(section_->through) : selection_.picked;
  Section section{*way, {}, {}, {}};
  if (const MapPlace* place = asked ? nearestTo(map, *asked) : worstOf(map)) {
    section.feature = place->feature, section.through = asked ? *asked : place->at;
  } else {
    section.feature = !selection_.features.empty() ? selection_.features.front()
                      : section_                   ? section_->feature
                                                   : FeatureId{};
    section.through = asked                     ? *asked
                      : section.feature.valid() ? plan().nominal(section.feature).ideal.point
                                                : Vec3(plan().part->mesh.box().center());
  }
  if (ofFeature(*way) && !section.feature.valid())
    return emit message("Select the feature that the section goes across or along first", true);
  section.plane =
      cutThrough(section.through, *way,
                 section.feature.valid() ? plan().nominal(section.feature).ideal : Ideal{});
  section_ = section;
  emit selectionChanged();
}

void Document::nextSection() {
  if (!section_ || !section_->way) return setSection(SectionWay::AcrossX);
  const auto next = static_cast<SectionWay>(static_cast<int>(*section_->way) + 1);
  const bool feature = section_->feature.valid() || !selection_.features.empty();
  if (section_->way == SectionWay::AlongFeature || (ofFeature(next) && !feature))
    return setSection({});
  setSection(next);
}

void Document::sectionAs(const std::optional<CutPlane>& plane) {
  if (!plane) return setSection({});
  if (section_ && section_->plane == *plane) return;
  section_ = Section{{}, {}, Vec3(plane->at * plane->normal), *plane};
  emit selectionChanged();
}

void Document::sectionAt(double at) {
  if (!section_ || section_->plane.at == at) return;
  section_->through += (at - section_->plane.at) * section_->plane.normal;
  section_->plane.at = at;
  emit selectionChanged();
}

void Document::sectionThrough(const Vec3& place) {
  if (!section_) return;
  section_->through = place;
  if (const MapPlace* near = nearestTo(deviationMap(), place)) section_->feature = near->feature;
  if (section_->way && (section_->feature.valid() || !ofFeature(*section_->way)))
    section_->plane =
        cutThrough(place, *section_->way,
                   section_->feature.valid() ? plan().nominal(section_->feature).ideal : Ideal{});
  else
    section_->plane.at = section_->plane.normal.dot(place);
  emit selectionChanged();
}

void Document::shiftSection(int by) {
  if (!section_) return emit message("No section is shown", true);
  const DeviationMap map = deviationMap();
  const MapFeature* feature = map.of(section_->feature);
  sectionAt(section_->plane.at + by * (feature ? feature->spacing : 1));
}

} // namespace alder::app
