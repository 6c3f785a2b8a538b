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

// Whatever a record names, in lists too.
void addReferences(const StepInstance& instance, std::set<int>& to) {
  for (const StepRecord& r : instance.records)
    for (const StepValue& v : r.values) {
      if (v.isReference()) to.insert(v.reference);
      for (const StepValue& item : v.items)
        if (item.isReference()) to.insert(item.reference);
    }
}

struct Meaning {
  int definition = 0, model = 0;
  std::set<int> named; // all that the association names
};

// ITEM_IDENTIFIED_REPRESENTATION_USAGE(name, description, definition, representation, items)
std::vector<Meaning> meanings(const StepText& text) {
  std::vector<Meaning> all;
  for (const char* type :
       {"DRAUGHTING_MODEL_ITEM_ASSOCIATION", "DRAUGHTING_MODEL_ITEM_ASSOCIATION_WITH_PLACEHOLDER"})
    for (int id : text.ofType(type)) {
      const StepInstance& instance = *text.instance(id);
      const StepRecord* r = instance.find("ITEM_IDENTIFIED_REPRESENTATION_USAGE");
      if (!r) r = instance.find(type);
      Meaning m;
      if (r->values.size() > 2) m.definition = r->values[2].reference;
      if (r->values.size() > 3) m.model = r->values[3].reference;
      addReferences(instance, m.named);
      all.push_back(std::move(m));
    }
  return all;
}

} // namespace

std::vector<Drawn> drawnAnnotations(const StepText& text) {
  std::map<int, Drawn> all;
  std::set<int> gathered;
  for (int id : text.ofType("DRAUGHTING_CALLOUT")) {
    Drawn& d = all[id];
    addReferences(*text.instance(id), d.parts);
    gathered.insert(d.parts.begin(), d.parts.end());
  }
  // ANNOTATION_CURVE_OCCURRENCE, TESSELLATED_ANNOTATION_OCCURRENCE and their like.
  for (const std::string& type : text.typesEndingWith("OCCURRENCE"))
    if (type.find("ANNOTATION") != std::string::npos)
      for (int id : text.ofType(type))
        if (gathered.count(id) == 0 && !text.instance(id)->is("ANNOTATION_PLANE")) all[id];
  std::map<int, std::vector<Drawn*>> of_part;
  for (auto& [id, d] : all) {
    d.id = id;
    d.parts.insert(id);
    for (int part : d.parts)
      of_part[part].push_back(&d);
  }
  for (const Meaning& m : meanings(text))
    for (int named : m.named)
      if (const auto found = of_part.find(named); found != of_part.end())
        for (Drawn* d : found->second) {
          if (std::count(d->means.begin(), d->means.end(), m.definition) == 0)
            d->means.push_back(m.definition);
          d->model = m.model;
        }
  std::vector<Drawn> list;
  for (auto& [id, d] : all)
    list.push_back(std::move(d));
  return list;
}

void tellDrawnOnly(const std::vector<Drawn>& drawn, const StepText& text, const Teller& tell) {
  std::size_t count = 0, named = 0;
  std::string names;
  for (const Drawn& d : drawn) {
    if (!d.means.empty()) continue;
    ++count;
    const std::string name = nameOf(*text.instance(d.id));
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
