#include "drawing/open_requirement.h"

#include "base/units.h"
#include "requirement/typed/on_features.h"
#include "requirement/typed/target.h"
#include <algorithm>

namespace alder {
namespace {

using K = Characteristic;

constexpr std::size_t kMost = 6;

Typed typedOf(const Requirement& r) {
  Typed t;
  t.requirement = r;
  t.requirement.features.clear();
  // A figure without a sign waited for its features as a distance.
  t.kind_open = r.kind == K::Distance || (r.kind == K::Size && r.zone == Zone::Planar && !r.radius);
  t.zone_open = r.zone == Zone::Planar;
  t.limits_open = false;
  t.decimals = r.written_decimals;
  return t;
}

std::vector<FaceId> facesOf(const Specification& spec, const std::vector<FeatureId>& features) {
  std::vector<FaceId> faces;
  for (const FeatureId id : features) {
    const auto& its = spec.feature(id).faces;
    faces.insert(faces.end(), its.begin(), its.end());
  }
  std::sort(faces.begin(), faces.end());
  return faces;
}

bool bears(K kind, const Ideal& i) {
  switch (kind) {
  case K::Flatness:
    return i.type == SurfaceType::Plane;
  case K::Cylindricity:
  case K::Coaxiality:
    return i.type == SurfaceType::Cylinder;
  case K::Roundness:
  case K::CircularRunout:
  case K::TotalRunout:
    return hasAxis(i);
  case K::Angle:
    return i.type == SurfaceType::Cone;
  default:
    return i.type == SurfaceType::Plane || hasAxis(i);
  }
}

// Of its kind the largest ones: what is asked without a figure is mostly asked of these.
void addLargest(const PartModel& part, K kind, std::vector<FeatureSuggestion>& found) {
  std::vector<std::pair<double, const Surface*>> order;
  for (const Surface& s : part.surfaces) {
    if (!bears(kind, s.ideal)) continue;
    double area = 0;
    for (const FaceId f : s.faces)
      area += part.face(f).area;
    order.emplace_back(-area, &s);
  }
  std::stable_sort(order.begin(), order.end(),
                   [](const auto& a, const auto& b) { return a.first < b.first; });
  for (const auto& [area, s] : order) {
    if (found.size() == kMost) return;
    const bool there = std::any_of(found.begin(), found.end(),
                                   [faces = s->faces](auto& f) { return f.faces == faces; });
    if (!there)
      found.push_back(
          {s->faces, fmt::format("one of its kind, {} cm²", shortFigure(-area / 100, 2)), false});
  }
}

} // namespace

std::vector<FeatureSuggestion> suggestionsFor(const PartModel& part, const Specification& spec,
                                              const Requirement& r) {
  if (r.kind == K::Value) return {};
  DrawingReading reading;
  DrawingProposal p;
  p.typed = {typedOf(r)};
  reading.proposals.push_back(p);
  std::vector<FeatureSuggestion> found;
  if (isDimension(r.kind) && r.kind != K::Angle) {
    found = tiesOf(reading, {}, part).suggestions.front();
  } else {
    const Requirement* before = nullptr;
    for (const Requirement& other : spec.requirements) {
      if (other.id == r.id) break;
      if (!other.features.empty()) before = &other;
    }
    const bool fits =
        before && std::all_of(before->features.begin(), before->features.end(), [&](FeatureId id) {
          const NominalFeature& f = spec.feature(id);
          return !f.isConstructed() && bears(r.kind, f.ideal);
        });
    if (fits)
      found.push_back({facesOf(spec, before->features),
                       fmt::format("the features of requirement {} before it", before->balloon),
                       false});
    addLargest(part, r.kind, found);
  }
  if (found.size() > kMost) found.resize(kMost);
  return found;
}

Result<TiedRequirement> tied(const PartModel& part, const Specification& spec, RequirementId id,
                             const std::vector<FaceId>& faces) {
  const Requirement* r = spec.requirements.find(id);
  if (!r) return fail("The requirement is no longer there.");
  if (faces.empty()) return fail("Pick the faces of requirement {} first.", r->balloon);
  const TypedTarget target = typedTarget(part, spec, {}, faces, 1);
  auto laid =
      layOn(target.spec, target.features, {typedOf(*r)}, decidingLengths(part, target.spec));
  if (!laid) return pass(laid.error());
  TiedRequirement result{target.spec, std::move(laid->remarks)};
  Requirement now = laid->requirements.front();
  now.id = r->id, now.balloon = r->balloon;
  now.spot = r->spot, now.key = r->key, now.sheet_zone = r->sheet_zone;
  now.upper_segment = r->upper_segment;
  result.spec.requirements.at(id) = std::move(now);
  return result;
}

} // namespace alder
