#include "part/validation.h"

#include "part/step_place.h"
#include "part/step_units.h"
#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <set>

namespace alder {
namespace {

const StepRecord* record(const StepText& text, int id, std::string_view type) {
  const StepInstance* instance = text.instance(id);
  return instance ? instance->find(type) : nullptr;
}

// mm per unit to the power that it has, of a unit of length, area or volume.
std::optional<double> unitIn(const StepText& text, int id) {
  if (const auto plain = readUnit(text, id); plain && !plain->angle) return plain->value;
  const StepInstance* unit = text.instance(id);
  if (!unit) return {};
  const StepRecord* derived = unit->find("DERIVED_UNIT");
  if (!derived || derived->values.empty()) return {};
  double factor = 1;
  for (const StepValue& element : derived->values.front().items) {
    const auto* e = record(text, element.reference, "DERIVED_UNIT_ELEMENT");
    if (!e || e->values.size() < 2) return {};
    const auto base = readUnit(text, e->values[0].reference);
    if (!base) return {};
    factor *= std::pow(base->value, e->values[1].number);
  }
  return factor;
}

// VOLUME_MEASURE(12.5) with its unit, wherever the instance holds it.
std::optional<double> measureOf(const StepText& text, int id, std::string_view measure) {
  const StepInstance* instance = text.instance(id);
  if (!instance) return {};
  for (const StepRecord& r : instance->records)
    for (std::size_t i = 0; i + 1 < r.values.size(); ++i) {
      const StepValue& v = r.values[i];
      if (v.kind != StepValue::Kind::Typed || v.text != measure || v.items.size() != 1 ||
          !r.values[i + 1].isReference())
        continue;
      if (const auto unit = unitIn(text, r.values[i + 1].reference))
        return v.items.front().number * *unit;
    }
  return {};
}

class Comparison {
 public:
  Comparison(const StepText& text, std::vector<Note>& notes)
      : text_(text)
      , notes_(notes) {}

  void run(const std::function<ShapeSums()>& read) {
    std::set<int> of_whole;
    for (int id : text_.ofType("PROPERTY_DEFINITION")) {
      const auto* r = record(text_, id, "PROPERTY_DEFINITION");
      if (r->values.size() < 3 || r->values[0].text != "geometric validation property") continue;
      const int about = r->values[2].reference;
      const StepInstance* of = text_.instance(about);
      if (of && (of->is("PRODUCT_DEFINITION_SHAPE") || of->is("PRODUCT_DEFINITION") ||
                 isTheOnlySolid(about)))
        of_whole.insert(id);
    }
    if (of_whole.empty()) return;
    read_ = read();
    for (int id : text_.ofType("PROPERTY_DEFINITION_REPRESENTATION")) {
      const auto* link = record(text_, id, "PROPERTY_DEFINITION_REPRESENTATION");
      if (link->values.size() >= 2 && of_whole.count(link->values[0].reference) > 0)
        readItems(link->values[1].reference);
    }
  }

 private:
  // An aspect that stands for the only solid there is.
  bool isTheOnlySolid(int aspect) const {
    std::vector<int> solids = text_.ofType("MANIFOLD_SOLID_BREP");
    const auto& with_voids = text_.ofType("BREP_WITH_VOIDS");
    solids.insert(solids.end(), with_voids.begin(), with_voids.end());
    if (solids.size() != 1) return false;
    for (int id : text_.ofType("SHAPE_DEFINITION_REPRESENTATION")) {
      const auto* link = record(text_, id, "SHAPE_DEFINITION_REPRESENTATION");
      if (link->values.size() < 2) continue;
      const auto* of = record(text_, link->values[0].reference, "PROPERTY_DEFINITION");
      const auto* shape = record(text_, link->values[1].reference, "SHAPE_REPRESENTATION");
      if (!of || !shape || of->values.size() < 3 || shape->values.size() < 2 ||
          of->values[2].reference != aspect)
        continue;
      for (const StepValue& item : shape->values[1].items)
        if (item.reference == solids.front()) return true;
    }
    return false;
  }

  void readItems(int representation) {
    const auto* r = record(text_, representation, "REPRESENTATION");
    if (!r || r->values.size() < 3) return;
    for (const StepValue& item : r->values[1].items) {
      if (const auto volume = measureOf(text_, item.reference, "VOLUME_MEASURE"))
        compare(representation, "volume", *volume, read_.volume, 1e3, "cm³");
      else if (const auto area = measureOf(text_, item.reference, "AREA_MEASURE"))
        compare(representation, "area", *area, read_.area, 1e2, "cm²");
      else if (const auto point = pointAt(text_, item.reference))
        compareCentroid(representation, *point, unitsOfContext(text_, r->values[2].reference).mm);
    }
  }

  void compare(int id, const char* what, double said, double read, double per, const char* unit) {
    if (std::abs(said - read) <= 1e-3 * std::max(std::abs(said), std::abs(read))) return;
    notes_.push_back(
        {id, fmt::format("the file says that the {} is {:.6g} {}, and it is read as {:.6g} {}: its "
                         "shape may be incomplete",
                         what, said / per, unit, read / per, unit)});
  }

  // Some writers give it in mm, whatever the unit of the file.
  void compareCentroid(int id, const Vec3& said, double mm_per_unit) {
    const double off =
        std::min((said * mm_per_unit - read_.centroid).norm(), (said - read_.centroid).norm());
    if (off <= 1e-3 * read_.size) return;
    notes_.push_back(
        {id,
         fmt::format("the file says that the centroid lies {:.4g} mm from where it is read: its "
                     "shape may be incomplete",
                     off)});
  }

  const StepText& text_;
  ShapeSums read_;
  std::vector<Note>& notes_;
};

} // namespace

void compareWithFile(const StepText& text, const std::function<ShapeSums()>& read,
                     std::vector<Note>& notes) {
  // Which of several components a property is of, and how often that is placed, is not followed.
  if (text.ofType("PRODUCT_DEFINITION").size() != 1) return;
  Comparison(text, notes).run(read);
}

} // namespace alder
