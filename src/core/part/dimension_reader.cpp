#include "part/dimension_reader.h"

#include "part/step_units.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

class DimensionReader {
 public:
  DimensionReader(const StepText& text, const AspectResolver& aspects, std::vector<Note>& notes)
      : text_(text)
      , aspects_(aspects)
      , notes_(notes) {
    for (int id : text.ofType("DIMENSIONAL_CHARACTERISTIC_REPRESENTATION")) {
      const auto* r = text.instance(id)->find("DIMENSIONAL_CHARACTERISTIC_REPRESENTATION");
      if (r->values.size() >= 2)
        representations_.emplace(r->values[0].reference, r->values[1].reference);
    }
    for (int id : text.ofType("PLUS_MINUS_TOLERANCE")) {
      const auto* r = text.instance(id)->find("PLUS_MINUS_TOLERANCE");
      if (r->values.size() >= 2) limits_[r->values[1].reference] = r->values[0].reference;
    }
  }

  std::vector<PmiDimension> all() {
    std::vector<PmiDimension> result;
    for (const char* type : {"DIMENSIONAL_SIZE", "DIMENSIONAL_SIZE_WITH_PATH", "ANGULAR_SIZE"})
      for (int id : text_.ofType(type))
        if (auto d = size(id, type)) add(result, std::move(*d));
    for (const char* type : {"DIMENSIONAL_LOCATION", "DIMENSIONAL_LOCATION_WITH_PATH",
                             "DIRECTED_DIMENSIONAL_LOCATION", "ANGULAR_LOCATION"})
      for (int id : text_.ofType(type))
        if (auto d = location(id, type)) add(result, std::move(*d));
    std::sort(result.begin(), result.end(),
              [](const auto& a, const auto& b) { return a.entity < b.entity; });
    return result;
  }

 private:
  void note(int entity, std::string what) { notes_.push_back({entity, std::move(what)}); }

  void add(std::vector<PmiDimension>& out, PmiDimension d) {
    const auto seen = [&](const PmiDimension& other) { return other.entity == d.entity; };
    if (std::any_of(out.begin(), out.end(), seen)) return;
    readValues(d);
    if (!d.nominal) {
      note(d.entity, "dimension \"" + d.name + "\" has no readable value and is left out");
      return;
    }
    readLimits(d);
    if (d.faces.empty() || (isLocation(d) && d.faces2.empty()))
      note(d.entity, "dimension \"" + d.name + "\" names no face of the part");
    out.push_back(std::move(d));
  }

  static bool isLocation(const PmiDimension& d) { return d.type == PmiDimension::Type::Distance; }

  std::optional<PmiDimension> size(int id, const char* type) {
    const auto* instance = text_.instance(id);
    const auto* r = instance->find(type);
    PmiDimension d{.entity = id};
    // A complex instance keeps the inherited values in a DIMENSIONAL_SIZE record of its own.
    if (const auto* base = instance->find("DIMENSIONAL_SIZE"); base && base->values.size() >= 2)
      r = base;
    int aspect = 0;
    for (const auto& v : r->values) {
      if (v.isReference() && aspect == 0) aspect = v.reference;
      if (v.kind == StepValue::Kind::Text) d.name = v.text;
    }
    d.faces = aspects_.faces(aspect);
    const auto has = [&](const char* word) { return d.name.find(word) != std::string::npos; };
    if (std::string_view(type) == "ANGULAR_SIZE" || has("angle"))
      d.type = PmiDimension::Type::Angle;
    else if (has("diameter"))
      d.type = PmiDimension::Type::Diameter;
    else if (has("radius"))
      d.type = PmiDimension::Type::Radius;
    else
      d.type = PmiDimension::Type::Width;
    return d;
  }

  std::optional<PmiDimension> location(int id, const char* type) {
    const auto* instance = text_.instance(id);
    const auto* r = instance->find("SHAPE_ASPECT_RELATIONSHIP");
    if (!r || r->values.size() < 4) r = instance->find(type);
    if (r->values.size() < 4) {
      note(id, "distance has too few values and is left out");
      return {};
    }
    PmiDimension d{.entity = id, .name = r->values[0].text};
    d.type = std::string_view(type) == "ANGULAR_LOCATION" ? PmiDimension::Type::Angle
                                                          : PmiDimension::Type::Distance;
    d.faces = aspects_.faces(r->values[2].reference);
    d.faces2 = aspects_.faces(r->values[3].reference);
    return d;
  }

  // Items of the shape dimension representation: nominal value, lower limit, upper limit, or a
  // value range of two; qualified items carry the number format.
  void readValues(PmiDimension& d) {
    std::vector<double> unnamed;
    std::optional<double> lower, upper;
    const auto [begin, end] = representations_.equal_range(d.entity);
    for (auto at = begin; at != end; ++at) {
      const auto* representation = text_.instance(at->second);
      if (!representation) continue;
      for (const auto& record : representation->records)
        for (const auto& value : record.values)
          for (const auto& item : value.items)
            if (item.isReference()) readItem(item.reference, d, unnamed, lower, upper, 0);
    }
    if (!d.nominal && unnamed.size() == 1) d.nominal = unnamed[0];
    if (!d.nominal && unnamed.size() == 2) {
      lower = std::min(unnamed[0], unnamed[1]);
      upper = std::max(unnamed[0], unnamed[1]);
    }
    if (!d.nominal && lower && upper) d.nominal = (*lower + *upper) / 2;
    if (d.nominal && lower) d.lower = *lower - *d.nominal;
    if (d.nominal && upper) d.upper = *upper - *d.nominal;
    if (!d.nominal && (lower || upper)) {
      d.nominal = lower ? lower : upper;
      (lower ? d.lower : d.upper) = 0;
    }
  }

  void readItem(int id, PmiDimension& d, std::vector<double>& unnamed, std::optional<double>& lower,
                std::optional<double>& upper, int depth) {
    const auto* item = text_.instance(id);
    if (!item || depth > 4) return;
    if (const auto* text = item->find("DESCRIPTIVE_REPRESENTATION_ITEM")) {
      if (text->values.size() >= 2) d.modifiers.push_back(text->values[1].text);
      return;
    }
    const auto measure = readMeasure(text_, id);
    if (!measure) {
      for (const char* list : {"COMPOUND_REPRESENTATION_ITEM", "VALUE_RANGE"})
        if (const auto* r = item->find(list))
          for (const auto& v : r->values) {
            readItemsIn(v, d, unnamed, lower, upper, depth);
          }
      return;
    }
    const std::string label = itemName(*item);
    bool is_lower = label.find("lower") != std::string::npos;
    bool is_upper = label.find("upper") != std::string::npos;
    if (const auto* qualified = item->find("QUALIFIED_REPRESENTATION_ITEM"))
      for (const auto& v : qualified->values)
        for (const auto& q : v.items)
          readQualifier(q.reference, d, is_lower, is_upper);
    if (is_lower)
      lower = measure->value;
    else if (is_upper)
      upper = measure->value;
    else if (label.find("nominal") != std::string::npos)
      d.nominal = measure->value;
    else
      unnamed.push_back(measure->value);
  }

  void readItemsIn(const StepValue& value, PmiDimension& d, std::vector<double>& unnamed,
                   std::optional<double>& lower, std::optional<double>& upper, int depth) {
    if (value.isReference()) readItem(value.reference, d, unnamed, lower, upper, depth + 1);
    for (const auto& v : value.items)
      readItemsIn(v, d, unnamed, lower, upper, depth);
  }

  void readQualifier(int id, PmiDimension& d, bool& is_lower, bool& is_upper) {
    const auto* q = text_.instance(id);
    if (!q) return;
    if (const auto* format = q->find("VALUE_FORMAT_TYPE_QUALIFIER");
        format && !format->values.empty()) {
      const auto dot = format->values[0].text.rfind('.');
      if (dot != std::string::npos && dot + 1 < format->values[0].text.size() &&
          std::isdigit(static_cast<unsigned char>(format->values[0].text[dot + 1])))
        d.decimals = format->values[0].text[dot + 1] - '0';
    }
    if (const auto* type = q->find("TYPE_QUALIFIER"); type && !type->values.empty()) {
      is_lower |= type->values[0].text == "minimum";
      is_upper |= type->values[0].text == "maximum";
    }
  }

  static std::string itemName(const StepInstance& item) {
    const auto* r = item.find("REPRESENTATION_ITEM");
    if (!r) r = item.find("MEASURE_REPRESENTATION_ITEM");
    if (!r) r = &item.records.front();
    return r->values.empty() ? "" : r->values[0].text;
  }

  void readLimits(PmiDimension& d) {
    const auto found = limits_.find(d.entity);
    if (found == limits_.end()) return;
    const auto* range = text_.instance(found->second);
    if (!range) return;
    if (const auto* fit = range->find("LIMITS_AND_FITS"); fit && fit->values.size() >= 3) {
      d.fit = fit->values[0].text + fit->values[2].text;
      if (fit->values[2].text.empty()) d.fit = fit->values[0].text + fit->values[1].text;
      return;
    }
    const auto* bounds = range->find("TOLERANCE_VALUE");
    if (!bounds || bounds->values.size() < 2) {
      note(found->second, "limits of dimension \"" + d.name + "\" are not understood");
      return;
    }
    const auto low = readMeasure(text_, bounds->values[0].reference);
    const auto high = readMeasure(text_, bounds->values[1].reference);
    if (!low || !high) {
      note(found->second, "limits of dimension \"" + d.name + "\" have no readable value");
      return;
    }
    d.lower = low->value;
    d.upper = high->value;
    // A zone without width does not exist: some writers give the lower bound without its sign.
    if (*d.lower > 0 && std::abs(*d.lower - *d.upper) < 1e-12) d.lower = -*d.lower;
    if (*d.lower > *d.upper) {
      note(found->second, "limits of dimension \"" + d.name + "\" are given upside down; swapped");
      std::swap(d.lower, d.upper);
    }
  }

  const StepText& text_;
  const AspectResolver& aspects_;
  std::vector<Note>& notes_;
  std::multimap<int, int> representations_;
  std::map<int, int> limits_;
};

} // namespace

std::vector<PmiDimension> readDimensions(const StepText& text, const AspectResolver& aspects,
                                         std::vector<Note>& notes) {
  return DimensionReader(text, aspects, notes).all();
}

} // namespace alder
