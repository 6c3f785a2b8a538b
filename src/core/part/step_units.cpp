#include "part/step_units.h"

#include <map>

namespace alder {
namespace {

double siPrefix(const StepValue& v) {
  static const std::map<std::string, double> kPrefixes{
      {"EXA", 1e18},   {"PETA", 1e15},  {"TERA", 1e12}, {"GIGA", 1e9},  {"MEGA", 1e6},
      {"KILO", 1e3},   {"HECTO", 1e2},  {"DECA", 1e1},  {"DECI", 1e-1}, {"CENTI", 1e-2},
      {"MILLI", 1e-3}, {"MICRO", 1e-6}, {"NANO", 1e-9}, {"PICO", 1e-12}};
  const auto found = kPrefixes.find(v.text);
  return found == kPrefixes.end() ? 1.0 : found->second;
}

// LENGTH_MEASURE(2.5), or, as some writers have it, the bare number.
std::optional<double> measureValue(const StepValue& v) {
  if (v.kind == StepValue::Kind::Number) return v.number;
  if (v.kind == StepValue::Kind::Typed && !v.items.empty() &&
      v.items[0].kind == StepValue::Kind::Number)
    return v.items[0].number;
  return {};
}

std::optional<Measure> unitAt(const StepText& text, int entity, int depth) {
  const StepInstance* unit = text.instance(entity);
  if (!unit || depth > 8) return {};
  if (const auto* si = unit->find("SI_UNIT")) {
    // simple instances carry the inherited dimensions first: SI_UNIT(*, prefix, name)
    const std::size_t first = si->values.size() > 2 ? 1 : 0;
    if (si->values.size() < first + 2) return {};
    const auto& base = si->values[first + 1].text;
    const double factor = siPrefix(si->values[first]);
    if (base == "METRE") return Measure{1000 * factor, false};
    if (base == "RADIAN") return Measure{factor, true};
    return {};
  }
  if (const auto* conversion = unit->find("CONVERSION_BASED_UNIT")) {
    if (conversion->values.empty() || !conversion->values.back().isReference()) return {};
    const StepInstance* m = text.instance(conversion->values.back().reference);
    if (!m) return {};
    for (const auto& record : m->records)
      if (record.values.size() >= 2 && record.values[1].isReference())
        if (const auto number = measureValue(record.values[0])) {
          auto base = unitAt(text, record.values[1].reference, depth + 1);
          if (base) base->value *= *number;
          return base;
        }
  }
  return {};
}

} // namespace

std::optional<Measure> readUnit(const StepText& text, int entity) {
  return unitAt(text, entity, 0);
}

std::optional<Measure> readMeasure(const StepText& text, int entity) {
  const StepInstance* instance = text.instance(entity);
  if (!instance) return {};
  for (const auto& record : instance->records) {
    // MEASURE_REPRESENTATION_ITEM(name, value, unit) puts the inherited name first.
    for (std::size_t i = 0; i + 1 < record.values.size(); ++i) {
      const auto number = measureValue(record.values[i]);
      if (!number || !record.values[i + 1].isReference()) continue;
      if (const auto unit = readUnit(text, record.values[i + 1].reference))
        return Measure{*number * unit->value, unit->angle};
    }
  }
  return {};
}

ContextUnits unitsOfContext(const StepText& text, int context) {
  ContextUnits found;
  const StepInstance* instance = text.instance(context);
  const StepRecord* units = instance ? instance->find("GLOBAL_UNIT_ASSIGNED_CONTEXT") : nullptr;
  if (!units || units->values.empty()) return found;
  for (const StepValue& v : units->values.back().items) {
    const auto unit = readUnit(text, v.reference);
    int& number = unit && unit->angle ? found.angle : found.length;
    if (!unit || !(unit->value > 0) || number != 0) continue;
    number = v.reference;
    (unit->angle ? found.radians : found.mm) = unit->value;
  }
  return found;
}

} // namespace alder
