#include "part/pmi/drawn.h"

#include <algorithm>

namespace alder {
namespace {

constexpr std::size_t kMostNamed = 12;

std::string nameOf(const StepInstance& i) {
  const StepRecord* item = i.find("REPRESENTATION_ITEM");
  if (!item) item = &i.records.front();
  return !item->values.empty() && item->values[0].kind == StepValue::Kind::Text
             ? item->values[0].text
             : std::string();
}

} // namespace

// A DRAUGHTING_CALLOUT gathers what belongs to one annotation; a
// DRAUGHTING_MODEL_ITEM_ASSOCIATION ties it, or one of its parts, to what it means.
void tellDrawnOnly(const PmiSource& source, const Teller& tell) {
  const StepText& text = source.text();
  std::map<int, std::set<int>> parts; // of each annotation, itself among them
  std::set<int> gathered;
  for (int id : text.ofType("DRAUGHTING_CALLOUT")) {
    parts[id].insert(id);
    for (const StepRecord& r : text.instance(id)->records)
      for (const StepValue& v : r.values)
        for (const StepValue& item : v.items)
          if (item.isReference()) {
            parts[id].insert(item.reference);
            gathered.insert(item.reference);
          }
  }
  // ANNOTATION_CURVE_OCCURRENCE, TESSELLATED_ANNOTATION_OCCURRENCE and their like.
  for (const std::string& type : text.typesEndingWith("OCCURRENCE"))
    if (type.find("ANNOTATION") != std::string::npos)
      for (int id : text.ofType(type))
        if (gathered.count(id) == 0) parts[id].insert(id);
  if (parts.empty()) return;

  std::set<int> meant;
  for (const char* type :
       {"DRAUGHTING_MODEL_ITEM_ASSOCIATION", "DRAUGHTING_MODEL_ITEM_ASSOCIATION_WITH_PLACEHOLDER"})
    for (int id : text.ofType(type))
      for (const StepRecord& r : text.instance(id)->records)
        for (const StepValue& v : r.values) {
          if (v.isReference()) meant.insert(v.reference);
          for (const StepValue& item : v.items)
            if (item.isReference()) meant.insert(item.reference);
        }
  std::size_t count = 0, named = 0;
  std::string names;
  for (const auto& [id, items] : parts) {
    if (std::any_of(items.begin(), items.end(), [&](int i) { return meant.count(i) > 0; }))
      continue;
    ++count;
    const std::string name = nameOf(*text.instance(id));
    if (name.empty() || ++named > kMostNamed) continue;
    names += (names.empty() ? ": " : ", ") + name;
  }
  if (count == 0) return;
  tell(0, fmt::format("{} {} drawn in the file without a meaning that a program can read{}{}; add "
                      "those requirements by hand",
                      count, count == 1 ? "annotation is" : "annotations are", names,
                      named > kMostNamed ? " and more" : ""));
}

} // namespace alder
