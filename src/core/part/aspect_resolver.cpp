#include "part/aspect_resolver.h"

namespace alder {
namespace {

int referenceAt(const StepRecord* record, std::size_t index) {
  return record && index < record->values.size() && record->values[index].isReference()
             ? record->values[index].reference
             : 0;
}

} // namespace

AspectResolver::AspectResolver(const StepText& text, const FacesOfEntity& facesOf)
    : text_(text)
    , facesOf_(facesOf) {
  for (const char* type : {"GEOMETRIC_ITEM_SPECIFIC_USAGE", "ITEM_IDENTIFIED_REPRESENTATION_USAGE"})
    for (int id : text.ofType(type)) {
      const auto* r = text.instance(id)->find(type);
      if (r->values.size() < 5) continue;
      const int aspect = referenceAt(r, 2);
      if (r->values[4].isReference()) items_.emplace(aspect, r->values[4].reference);
      for (const auto& v : r->values[4].items)
        if (v.isReference()) items_.emplace(aspect, v.reference);
    }
  // Older files tie an aspect to a representation through a property definition.
  std::multimap<int, int> property_of;
  for (int id : text.ofType("PROPERTY_DEFINITION"))
    if (const int aspect = referenceAt(text.instance(id)->find("PROPERTY_DEFINITION"), 2))
      property_of.emplace(id, aspect);
  for (const char* type : {"SHAPE_DEFINITION_REPRESENTATION", "PROPERTY_DEFINITION_REPRESENTATION"})
    for (int id : text.ofType(type)) {
      const auto* r = text.instance(id)->find(type);
      const auto [begin, end] = property_of.equal_range(referenceAt(r, 0));
      const auto* representation = text.instance(referenceAt(r, 1));
      if (begin == end || !representation || representation->records[0].values.size() < 2) continue;
      for (auto at = begin; at != end; ++at)
        if (const auto* aspect = text.instance(at->second);
            aspect && !aspect->is("PRODUCT_DEFINITION") && aspect->records[0].values.size() >= 4)
          for (const auto& v : representation->records[0].values[1].items)
            if (v.isReference()) items_.emplace(at->second, v.reference);
    }
  for (const std::string& type : text.typesEndingWith("RELATIONSHIP")) {
    if (type.find("ASPECT") == std::string::npos && type != "FEATURE_COMPONENT_RELATIONSHIP")
      continue;
    for (int id : text.ofType(type)) {
      const auto* r = text.instance(id)->find(type);
      const int relating = referenceAt(r, 2), related = referenceAt(r, 3);
      if (!relating || !related) continue;
      components_.emplace(relating, related);
      owners_.emplace(related, relating);
    }
  }
}

std::vector<FaceId> AspectResolver::faces(int aspect) const {
  std::set<int> visited;
  std::set<FaceId> found;
  collect(aspect, visited, found);
  return {found.begin(), found.end()};
}

void AspectResolver::collect(int aspect, std::set<int>& visited, std::set<FaceId>& out) const {
  if (!visited.insert(aspect).second) return;
  const StepInstance* instance = text_.instance(aspect);
  if (!instance) return;
  // A tolerance may be attached to a size: it then belongs to the size's feature.
  for (const char* size : {"DIMENSIONAL_SIZE", "ANGULAR_SIZE", "DIMENSIONAL_SIZE_WITH_PATH"})
    if (const auto* r = instance->find(size))
      for (const auto& v : r->values)
        if (v.isReference()) {
          collect(v.reference, visited, out);
          return;
        }
  const auto [begin, end] = items_.equal_range(aspect);
  for (auto at = begin; at != end; ++at)
    collectItem(at->second, out, 0);
  const auto [first, last] = components_.equal_range(aspect);
  for (auto at = first; at != last; ++at) {
    const auto* related = text_.instance(at->second);
    if (related && !related->is("DATUM")) collect(at->second, visited, out);
  }
}

void AspectResolver::collectItem(int item, std::set<FaceId>& out, int depth) const {
  const auto faces = facesOf_(item);
  out.insert(faces.begin(), faces.end());
  if (!faces.empty() || depth > 4) return;
  const auto* instance = text_.instance(item);
  if (!instance) return;
  for (const auto& record : instance->records)
    for (const auto& value : record.values)
      for (const auto& v : value.items)
        if (v.isReference()) collectItem(v.reference, out, depth + 1);
}

std::vector<int> AspectResolver::featuresOfDatum(int datum) const {
  std::vector<int> result;
  for (const auto* map : {&owners_, &components_}) {
    const auto [begin, end] = map->equal_range(datum);
    for (auto at = begin; at != end; ++at) {
      const auto* other = text_.instance(at->second);
      if (other && !other->is("DATUM")) result.push_back(at->second);
    }
  }
  return result;
}

} // namespace alder
