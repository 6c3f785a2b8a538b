#include "exchange/step/step_shape.h"

#include <algorithm>
#include <array>
#include <set>

namespace alder {
namespace {

bool holdsFaces(std::string_view type) {
  return type.find("SHELL") != type.npos || type.find("BREP") != type.npos ||
         type.find("FACE_SET") != type.npos || type.find("SURFACE_MODEL") != type.npos;
}

// Faces below an item of a representation.
void collectFaces(const StepText& text, int id, std::set<int>& seen, std::vector<int>& faces) {
  if (!seen.insert(id).second) return;
  const std::string_view statement = text.statement(id);
  for (const auto* face : {"ADVANCED_FACE", "FACE_SURFACE", "ORIENTED_FACE"})
    if (statement.starts_with(face)) return faces.push_back(id);
  const StepInstance* instance = text.instance(id);
  if (!instance) return;
  for (const StepRecord& record : instance->records) {
    if (!holdsFaces(record.type)) continue;
    const std::function<void(const StepValue&)> follow = [&](const StepValue& v) {
      if (v.isReference()) collectFaces(text, v.reference, seen, faces);
      for (const StepValue& item : v.items)
        follow(item);
    };
    for (const StepValue& v : record.values)
      follow(v);
  }
}

// Of a simple record NAME(name, items, context), or of a complex one.
const StepRecord* representationIn(const StepInstance& instance) {
  if (const StepRecord* r = instance.find("REPRESENTATION")) return r;
  const StepRecord& first = instance.records.front();
  const bool shape = first.type.ends_with("SHAPE_REPRESENTATION") && first.values.size() >= 3;
  return instance.records.size() == 1 && shape ? &first : nullptr;
}

// Two representations of the same shape, not one placed in the other.
std::multimap<int, int> sameShapes(const StepText& text) {
  std::multimap<int, int> same;
  for (const auto* type : {"SHAPE_REPRESENTATION_RELATIONSHIP", "REPRESENTATION_RELATIONSHIP"})
    for (int id : text.ofType(type)) {
      const StepInstance& instance = *text.instance(id);
      if (instance.records.size() != 1 || instance.records.front().values.size() < 4) continue;
      const auto& v = instance.records.front().values;
      same.emplace(v[2].reference, v[3].reference);
      same.emplace(v[3].reference, v[2].reference);
    }
  return same;
}

// By representation.
std::map<int, int> productShapes(const StepText& text) {
  std::map<int, int> shapes;
  for (int id : text.ofType("SHAPE_DEFINITION_REPRESENTATION")) {
    const auto* r = text.instance(id)->find("SHAPE_DEFINITION_REPRESENTATION");
    if (r->values.size() >= 2 && r->values[0].isReference() && r->values[1].isReference())
      shapes.emplace(r->values[1].reference, r->values[0].reference);
  }
  const auto same = sameShapes(text);
  std::vector<int> waiting;
  for (const auto& [representation, shape] : shapes)
    waiting.push_back(representation);
  while (!waiting.empty()) {
    const int from = waiting.back();
    waiting.pop_back();
    const auto [begin, end] = same.equal_range(from);
    for (auto at = begin; at != end; ++at)
      if (shapes.emplace(at->second, shapes.at(from)).second) waiting.push_back(at->second);
  }
  return shapes;
}

} // namespace

Result<StepShape> StepShape::find(const StepText& text, const PlainStep& plain,
                                  const PartModel& part) {
  StepShape result;
  const auto shapes = productShapes(text);
  std::map<int, FaceHome> homes;
  text.eachInstance([&](const StepInstance& instance) {
    const StepRecord* r = representationIn(instance);
    if (!r || r->values.size() < 3) return;
    const auto shape = shapes.find(instance.id);
    if (shape == shapes.end()) return;
    std::set<int> seen;
    std::vector<int> faces;
    for (const StepValue& item : r->values[1].items)
      if (item.isReference()) collectFaces(text, item.reference, seen, faces);
    for (int face : faces)
      homes.emplace(face, FaceHome{face, instance.id, shape->second});
    if (faces.empty() || result.context_ != 0) return;
    result.whole_ = {0, instance.id, shape->second};
    result.context_ = r->values[2].reference;
  });
  if (homes.empty())
    return fail("the model's file holds no shape of a product to which requirements can be "
                "attached; export it again from the CAD system as AP242.");
  // The root of an assembly stands for the whole, where there is one.
  if (const auto& all = text.ofType("PRODUCT_DEFINITION_SHAPE"); all.size() == 1)
    result.whole_.shape = all.front();
  std::map<std::int64_t, int> numbers;
  for (const auto& [now, was] : plain.was)
    numbers[was] = now;
  for (const Face& face : part.faces) {
    const auto renumbered = numbers.find(face.entity);
    const int id = renumbered == numbers.end() ? static_cast<int>(face.entity) : renumbered->second;
    const auto home = homes.find(id);
    result.faces_.push_back(home == homes.end() ? FaceHome{} : home->second);
  }
  result.units_ = unitsOfContext(text, result.context_);
  return result;
}

} // namespace alder
