#include "part/pmi/aspects.h"

#include <algorithm>
#include <array>

namespace alder {
namespace {

int referenceAt(const StepRecord* record, std::size_t index) {
  return record && index < record->values.size() && record->values[index].isReference()
             ? record->values[index].reference
             : 0;
}

struct Ignored {
  std::string_view entity, words;
  bool has_faces; // those of its components are what is meant, as far as it goes
};
constexpr std::array<Ignored, 9> kIgnored{{
    {"BETWEEN_SHAPE_ASPECT", "from where to where it holds is not judged, it is of whole faces",
     true},
    {"GEOMETRIC_INTERSECTION", "it is of the intersection of surfaces, which is not taken over",
     false},
    {"TANGENT", "it is of a tangent, which is not taken over", false},
    {"APEX", "it is of an apex, which is not taken over", false},
    {"EXTENSION", "it is of an extension, which is not taken over", false},
    {"PARALLEL_OFFSET", "it is of a parallel offset, which is not taken over", false},
    {"PERPENDICULAR_TO", "it is of a perpendicular, which is not taken over", false},
    {"GEOMETRIC_ALIGNMENT", "it is of an alignment, which is not taken over", false},
    {"DERIVED_SHAPE_ASPECT", "it is of a derived feature of unknown kind, which is not taken over",
     false},
}};

// A relationship that says more than that one aspect is part of another.
bool meansMore(const std::string& name) {
  for (const char* word : {"affected plane", "intersection plane", "orientation plane",
                           "collection plane", "direction feature"})
    if (name.find(word) != std::string::npos) return true;
  return false;
}

} // namespace

Aspects::Aspects(const PmiSource& source, const FacesOfEntity& facesOf)
    : source_(source)
    , facesOf_(facesOf) {
  for (const PmiEntity& usage : source.ofKind("ITEM_IDENTIFIED_REPRESENTATION_USAGE"))
    if (const auto* of = usage.peek("definition"); of && of->isReference())
      usages_.emplace(of->reference, usage.id());
  std::multimap<int, int> property_of;
  for (int id : source.text().ofType("PROPERTY_DEFINITION"))
    if (const int aspect = referenceAt(source.text().instance(id)->find("PROPERTY_DEFINITION"), 2))
      property_of.emplace(id, aspect);
  for (const PmiEntity& link : source.ofKind("PROPERTY_DEFINITION_REPRESENTATION"))
    if (const auto* of = link.peek("definition"); of && of->isReference()) {
      const auto [begin, end] = property_of.equal_range(of->reference);
      for (auto at = begin; at != end; ++at)
        properties_.emplace(at->second, link.id());
    }
  for (const PmiEntity& r : source.ofKind("SHAPE_ASPECT_RELATIONSHIP")) {
    // A distance is a relationship too, but nobody's component.
    if (r.is("DIMENSIONAL_LOCATION")) continue;
    const auto *relating = r.peek("relating_shape_aspect"),
               *related = r.peek("related_shape_aspect");
    if (!relating || !related || !relating->isReference() || !related->isReference()) continue;
    relating_.emplace(relating->reference, r.id());
    related_.emplace(related->reference, r.id());
  }
}

std::vector<FaceId> Aspects::faces(const PmiEntity& aspect, const Teller& tell) const {
  Collected found;
  collect(aspect, tell, found);
  return {found.faces.begin(), found.faces.end()};
}

std::vector<PmiEntity> Aspects::representationsOf(const PmiEntity& aspect) const {
  std::vector<PmiEntity> found;
  const auto [begin, end] = properties_.equal_range(aspect.id());
  for (auto at = begin; at != end; ++at) {
    const PmiEntity link = source_.at(at->second);
    link.to("definition").value("definition");
    if (const PmiEntity r = link.to("used_representation")) found.push_back(r);
  }
  return found;
}

bool Aspects::understood(const PmiEntity& aspect, const Teller& tell) const {
  if (aspect.is("CENTRE_OF_SYMMETRY")) return true;
  for (const Ignored& ignored : kIgnored)
    if (aspect.is(ignored.entity)) {
      tell(aspect.id(), std::string(ignored.words));
      return ignored.has_faces;
    }
  if (aspect.is("CONTINUOUS_SHAPE_ASPECT") && !aspect.is("ALL_AROUND_SHAPE_ASPECT"))
    tell(aspect.id(), "it is of a continuous feature; its faces are judged each by itself");
  return true;
}

void Aspects::collect(const PmiEntity& aspect, const Teller& tell, Collected& out) const {
  if (!aspect || !out.visited.insert(aspect.id()).second) return;
  // A tolerance may be attached to a size: it then belongs to the size's feature.
  if (aspect.is("DIMENSIONAL_SIZE") && !aspect.is("SHAPE_ASPECT"))
    return collect(aspect.to("applies_to"), tell, out);
  if (aspect.is("DIMENSIONAL_LOCATION")) {
    tell(aspect.id(), "it is attached to a distance, which has no face of its own");
    return;
  }
  if (!understood(aspect, tell)) return;
  const auto before = out.faces.size();
  const auto [begin, end] = usages_.equal_range(aspect.id());
  for (auto at = begin; at != end; ++at) {
    const PmiEntity usage = source_.at(at->second);
    usage.value("definition");
    for (const int item : usage.referencesIn("identified_item"))
      collectItem(item, out, 0);
  }
  // Older files tie an aspect to a representation through a property definition.
  if (begin == end && !aspect.is("DATUM_TARGET"))
    for (const PmiEntity& representation : representationsOf(aspect))
      for (const int item : representation.referencesIn("items"))
        collectItem(item, out, 0);
  if (aspect.is("DIMENSIONAL_SIZE_WITH_DATUM_FEATURE") && out.faces.size() == before)
    if (const PmiEntity of = aspect.to("applies_to"); of.id() != aspect.id())
      collect(of, tell, out);
  components(aspect, tell, out);
}

void Aspects::components(const PmiEntity& aspect, const Teller& tell, Collected& out) const {
  const bool whole =
      aspect.is("COMPOSITE_SHAPE_ASPECT") || aspect.is("DERIVED_SHAPE_ASPECT") || out.faces.empty();
  const auto [first, last] = relating_.equal_range(aspect.id());
  for (auto at = first; at != last; ++at) {
    const PmiEntity relationship = source_.at(at->second);
    const auto* name = relationship.peek("name");
    relationship.value("relating_shape_aspect");
    const PmiEntity related = relationship.to("related_shape_aspect");
    if (!related || related.is("DATUM") || related.is("DATUM_TARGET")) continue;
    if (name && meansMore(name->text))
      tell(relationship.id(), "its " + name->text + " is not taken over");
    else if (whole)
      collect(related, tell, out);
    else
      tell(relationship.id(), "how it belongs to another feature" +
                                  (name && !name->text.empty() ? " (" + name->text + ")" : "") +
                                  " is not taken over");
  }
}

void Aspects::collectItem(int item, Collected& out, int depth) const {
  const auto faces = facesOf_(item);
  out.faces.insert(faces.begin(), faces.end());
  if (!faces.empty() || depth > 4) return;
  const auto* instance = source_.text().instance(item);
  if (!instance) return;
  for (const auto& record : instance->records)
    for (const auto& value : record.values)
      for (const auto& v : value.items)
        if (v.isReference()) collectItem(v.reference, out, depth + 1);
}

std::vector<PmiEntity> Aspects::featuresOfDatum(const PmiEntity& datum) const {
  std::vector<PmiEntity> result;
  const auto add = [&](const std::multimap<int, int>& map, const char* here, const char* there) {
    const auto [begin, end] = map.equal_range(datum.id());
    for (auto at = begin; at != end; ++at) {
      const PmiEntity relationship = source_.at(at->second);
      relationship.value(here);
      const PmiEntity other = relationship.to(there);
      if (other && !other.is("DATUM")) result.push_back(other);
    }
  };
  add(related_, "related_shape_aspect", "relating_shape_aspect");
  add(relating_, "relating_shape_aspect", "related_shape_aspect");
  return result;
}

std::vector<PmiEntity> Aspects::datumsOf(const PmiEntity& common) const {
  std::vector<PmiEntity> result;
  const auto [begin, end] = relating_.equal_range(common.id());
  for (auto at = begin; at != end; ++at) {
    const PmiEntity relationship = source_.at(at->second);
    relationship.value("relating_shape_aspect");
    if (const PmiEntity datum = relationship.to("related_shape_aspect"); datum.is("DATUM"))
      result.push_back(datum);
  }
  return result;
}

std::vector<PmiEntity> Aspects::featuresOfTarget(const PmiEntity& target) const {
  std::vector<PmiEntity> result;
  for (const auto* map : {&related_, &relating_}) {
    const auto [begin, end] = map->equal_range(target.id());
    for (auto at = begin; at != end; ++at) {
      const PmiEntity relationship = source_.at(at->second);
      const PmiEntity a = relationship.to("relating_shape_aspect"),
                      b = relationship.to("related_shape_aspect");
      const PmiEntity& other = a.id() == target.id() ? b : a;
      if (other && !other.is("DATUM") && !other.is("DATUM_TARGET")) result.push_back(other);
    }
  }
  return result;
}

} // namespace alder
