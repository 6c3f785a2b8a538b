#include "part/pmi_reader.h"

#include "part/aspect_resolver.h"
#include "part/dimension_reader.h"
#include "part/step_units.h"
#include <algorithm>
#include <array>

namespace alder {
namespace {

struct NamedTolerance {
  std::string_view entity;
  ToleranceType type;
};
constexpr std::array<NamedTolerance, 15> kTolerances{{
    {"STRAIGHTNESS_TOLERANCE", ToleranceType::Straightness},
    {"FLATNESS_TOLERANCE", ToleranceType::Flatness},
    {"ROUNDNESS_TOLERANCE", ToleranceType::Roundness},
    {"CYLINDRICITY_TOLERANCE", ToleranceType::Cylindricity},
    {"LINE_PROFILE_TOLERANCE", ToleranceType::LineProfile},
    {"SURFACE_PROFILE_TOLERANCE", ToleranceType::SurfaceProfile},
    {"PARALLELISM_TOLERANCE", ToleranceType::Parallelism},
    {"PERPENDICULARITY_TOLERANCE", ToleranceType::Perpendicularity},
    {"ANGULARITY_TOLERANCE", ToleranceType::Angularity},
    {"POSITION_TOLERANCE", ToleranceType::Position},
    {"COAXIALITY_TOLERANCE", ToleranceType::Coaxiality},
    {"CONCENTRICITY_TOLERANCE", ToleranceType::Concentricity},
    {"SYMMETRY_TOLERANCE", ToleranceType::Symmetry},
    {"CIRCULAR_RUNOUT_TOLERANCE", ToleranceType::CircularRunout},
    {"TOTAL_RUNOUT_TOLERANCE", ToleranceType::TotalRunout},
}};

MaterialModifier materialNamed(std::string_view name) {
  if (name.find("MAXIMUM_MATERIAL") != name.npos) return MaterialModifier::Maximum;
  if (name.find("LEAST_MATERIAL") != name.npos) return MaterialModifier::Least;
  return MaterialModifier::None;
}

class ToleranceReader {
 public:
  ToleranceReader(const StepText& text, const AspectResolver& aspects, std::vector<Note>& notes)
      : text_(text)
      , aspects_(aspects)
      , notes_(notes) {}

  std::vector<PmiDatum> datums();
  std::vector<PmiTolerance> tolerances();

 private:
  void note(int entity, std::string what) { notes_.push_back({entity, std::move(what)}); }
  std::string letterOf(int datum) const;
  std::optional<PmiTolerance> tolerance(int id, ToleranceType type);
  void readExtras(const StepInstance& instance, PmiTolerance& t);
  std::vector<PmiDatumReference> datumSystem(int tolerance, const StepValue& list);
  void addReference(int entity, std::vector<PmiDatumReference>& out, int tolerance);
  void addBase(const StepValue& base, PmiDatumReference& out, int tolerance);
  void readModifiers(const StepValue& list, PmiDatumReference& out);
  void readZones(std::vector<PmiTolerance>& tolerances);
  void readSegments(std::vector<PmiTolerance>& tolerances);

  const StepText& text_;
  const AspectResolver& aspects_;
  std::vector<Note>& notes_;
};

std::string ToleranceReader::letterOf(int datum) const {
  const auto* d = text_.instance(datum);
  const auto* r = d ? d->find("DATUM") : nullptr;
  if (!r) r = d ? d->find("COMMON_DATUM") : nullptr;
  if (!r || r->values.empty()) return {};
  return r->values.back().text;
}

std::vector<PmiDatum> ToleranceReader::datums() {
  std::vector<PmiDatum> result;
  for (int id : text_.ofType("DATUM")) {
    PmiDatum datum{id, letterOf(id), {}};
    for (int feature : aspects_.featuresOfDatum(id)) {
      if (const auto* f = text_.instance(feature);
          f && (f->is("DATUM_TARGET") || f->is("PLACED_DATUM_TARGET_FEATURE")))
        note(feature, "datum target of " + datum.letter + " is read as the whole surface");
      const auto faces = aspects_.faces(feature);
      datum.faces.insert(datum.faces.end(), faces.begin(), faces.end());
    }
    // Some writers attach the faces to the datum itself.
    if (datum.faces.empty()) datum.faces = aspects_.faces(id);
    std::sort(datum.faces.begin(), datum.faces.end());
    datum.faces.erase(std::unique(datum.faces.begin(), datum.faces.end()), datum.faces.end());
    if (datum.letter.empty()) {
      note(id, "datum without a letter is left out");
      continue;
    }
    if (datum.faces.empty()) note(id, "datum " + datum.letter + " names no face of the part");
    const auto same = std::find_if(result.begin(), result.end(),
                                   [&](const PmiDatum& d) { return d.letter == datum.letter; });
    if (same == result.end()) {
      result.push_back(datum);
    } else if (same->faces.empty()) {
      same->faces = datum.faces;
    } else if (!datum.faces.empty() && same->faces != datum.faces) {
      note(id, "datum letter " + datum.letter + " is used twice; the first is kept");
    }
  }
  return result;
}

void ToleranceReader::readModifiers(const StepValue& list, PmiDatumReference& out) {
  for (const auto& m : list.items) {
    if (m.kind != StepValue::Kind::Enumeration) {
      if (m.isReference()) out.modifiers.push_back("#" + std::to_string(m.reference));
      continue;
    }
    if (const auto material = materialNamed(m.text); material != MaterialModifier::None)
      out.material = material;
    else
      out.modifiers.push_back(m.text);
  }
}

void ToleranceReader::addBase(const StepValue& base, PmiDatumReference& out, int tolerance) {
  if (base.kind == StepValue::Kind::List || base.kind == StepValue::Kind::Typed) {
    for (const auto& item : base.items)
      addBase(item, out, tolerance);
    return;
  }
  if (!base.isReference()) return;
  const auto* instance = text_.instance(base.reference);
  const auto* element = instance ? instance->find("DATUM_REFERENCE_ELEMENT") : nullptr;
  if (element && element->values.size() >= 5) {
    addBase(element->values[4], out, tolerance);
    if (element->values.size() >= 6) readModifiers(element->values[5], out);
    return;
  }
  if (const auto letter = letterOf(base.reference); !letter.empty())
    out.letters.push_back(letter);
  else
    note(tolerance, "datum reference #" + std::to_string(base.reference) + " is not understood");
}

void ToleranceReader::addReference(int entity, std::vector<PmiDatumReference>& out, int tolerance) {
  const auto* instance = text_.instance(entity);
  if (!instance) return;
  if (const auto* system = instance->find("DATUM_SYSTEM"); system && !system->values.empty()) {
    for (const auto& compartment : system->values.back().items)
      if (compartment.isReference()) addReference(compartment.reference, out, tolerance);
    return;
  }
  PmiDatumReference reference;
  if (const auto* c = instance->find("DATUM_REFERENCE_COMPARTMENT"); c && c->values.size() >= 5) {
    addBase(c->values[4], reference, tolerance);
    if (c->values.size() >= 6) readModifiers(c->values[5], reference);
  } else if (const auto* m = instance->find("REFERENCED_MODIFIED_DATUM");
             m && m->values.size() >= 3) {
    addBase(m->values[1], reference, tolerance);
    reference.material = materialNamed(m->values[2].text);
  } else if (const auto* d = instance->find("DATUM_REFERENCE"); d && d->values.size() >= 2) {
    addBase(d->values[1], reference, tolerance);
  }
  if (!reference.letters.empty())
    out.push_back(std::move(reference));
  else
    note(tolerance, "datum reference #" + std::to_string(entity) + " is not understood");
}

std::vector<PmiDatumReference> ToleranceReader::datumSystem(int tolerance, const StepValue& list) {
  // Old style lists hold references with their precedence first.
  std::vector<std::pair<double, int>> ordered;
  for (const auto& v : list.items) {
    if (!v.isReference()) continue;
    double precedence = static_cast<double>(ordered.size());
    const auto* i = text_.instance(v.reference);
    for (const char* old : {"DATUM_REFERENCE", "REFERENCED_MODIFIED_DATUM"})
      if (const auto* r = i ? i->find(old) : nullptr)
        if (!r->values.empty() && r->values[0].kind == StepValue::Kind::Number)
          precedence = r->values[0].number;
    ordered.emplace_back(precedence, v.reference);
  }
  std::stable_sort(ordered.begin(), ordered.end(),
                   [](const auto& a, const auto& b) { return a.first < b.first; });
  std::vector<PmiDatumReference> result;
  for (const auto& [precedence, id] : ordered)
    addReference(id, result, tolerance);
  return result;
}

void ToleranceReader::readExtras(const StepInstance& instance, PmiTolerance& t) {
  const auto measureIn = [&](const char* record) -> std::optional<double> {
    const auto* r = instance.find(record);
    if (!r) return {};
    for (const auto& v : r->values)
      if (v.isReference())
        if (const auto m = readMeasure(text_, v.reference)) return m->value;
    note(t.entity, std::string("a value in ") + record + " is not understood");
    return {};
  };
  const auto takeModifiers = [&](const StepRecord* r) {
    if (!r) return;
    for (const auto& v : r->values) {
      std::vector<StepValue> all = v.items;
      all.push_back(v);
      for (const auto& m : all) {
        if (m.kind != StepValue::Kind::Enumeration) continue;
        if (const auto material = materialNamed(m.text); material != MaterialModifier::None)
          t.material = material;
        else
          t.modifiers.push_back(m.text);
      }
    }
  };
  takeModifiers(instance.find("GEOMETRIC_TOLERANCE_WITH_MODIFIERS"));
  takeModifiers(instance.find("MODIFIED_GEOMETRIC_TOLERANCE"));
  t.unequal = measureIn("UNEQUALLY_DISPOSED_GEOMETRIC_TOLERANCE");
  t.maximum = measureIn("GEOMETRIC_TOLERANCE_WITH_MAXIMUM_TOLERANCE");
  t.unit_size = measureIn("GEOMETRIC_TOLERANCE_WITH_DEFINED_UNIT");
}

std::optional<PmiTolerance> ToleranceReader::tolerance(int id, ToleranceType type) {
  const auto& instance = *text_.instance(id);
  PmiTolerance t{.entity = id, .type = type};
  const auto* base = instance.find("GEOMETRIC_TOLERANCE");
  if (!base) base = &instance.records.front();
  if (base->values.size() < 4) {
    note(id, "tolerance has too few values and is left out");
    return {};
  }
  t.name = base->values[0].text;
  const auto magnitude =
      base->values[2].isReference() ? readMeasure(text_, base->values[2].reference) : std::nullopt;
  if (!magnitude) {
    note(id, "tolerance without a readable value is left out");
    return {};
  }
  t.magnitude = magnitude->value;
  const int aspect = base->values[3].reference;
  t.faces = aspects_.faces(aspect);
  if (const auto* a = text_.instance(aspect)) t.all_over = a->is("PRODUCT_DEFINITION_SHAPE");
  if (t.faces.empty() && !t.all_over)
    note(id, "tolerance " + t.name + " names no face of the part");
  const auto* with_datum = instance.find("GEOMETRIC_TOLERANCE_WITH_DATUM_REFERENCE");
  if (with_datum && !with_datum->values.empty())
    t.datums = datumSystem(id, with_datum->values.front());
  else if (instance.records.size() == 1 && base->values.size() >= 5)
    t.datums = datumSystem(id, base->values[4]);
  readExtras(instance, t);
  return t;
}

std::vector<PmiTolerance> ToleranceReader::tolerances() {
  std::vector<PmiTolerance> result;
  std::vector<int> known;
  for (const auto& named : kTolerances)
    for (int id : text_.ofType(named.entity)) {
      known.push_back(id);
      if (auto t = tolerance(id, named.type)) result.push_back(std::move(*t));
    }
  for (int id : text_.ofType("GEOMETRIC_TOLERANCE"))
    if (std::find(known.begin(), known.end(), id) == known.end())
      note(id, "tolerance of unknown type is left out");
  std::sort(result.begin(), result.end(),
            [](const PmiTolerance& a, const PmiTolerance& b) { return a.entity < b.entity; });
  readZones(result);
  readSegments(result);
  return result;
}

void ToleranceReader::readZones(std::vector<PmiTolerance>& tolerances) {
  const auto find = [&](int id) {
    return std::find_if(tolerances.begin(), tolerances.end(),
                        [&](const PmiTolerance& t) { return t.entity == id; });
  };
  std::map<int, std::vector<int>> tolerances_of_zone;
  for (const std::string& type : text_.typesEndingWith("TOLERANCE_ZONE"))
    for (int id : text_.ofType(type)) {
      const auto* r = text_.instance(id)->find(type);
      if (r->values.size() < 2) continue;
      const auto& list = r->values[r->values.size() - 2];
      const auto* form = text_.instance(r->values.back().reference);
      const std::string form_name =
          form && !form->records[0].values.empty() ? form->records[0].values[0].text : "";
      for (const auto& v : list.items) {
        const auto t = find(v.reference);
        if (t == tolerances.end()) continue;
        tolerances_of_zone[id].push_back(v.reference);
        if (form_name.find("spher") != std::string::npos)
          t->zone = ZoneForm::Spherical;
        else if (form_name.find("cylind") != std::string::npos ||
                 form_name.find("within a circle") != std::string::npos)
          t->zone = ZoneForm::Cylindrical;
        else if (!form_name.empty() && form_name != "unknown")
          t->zone = ZoneForm::Planar;
      }
    }
  for (int id : text_.ofType("PROJECTED_ZONE_DEFINITION")) {
    const auto* r = text_.instance(id)->find("PROJECTED_ZONE_DEFINITION");
    if (r->values.empty()) continue;
    const auto length = readMeasure(text_, r->values.back().reference);
    for (int tolerance : tolerances_of_zone[r->values.front().reference])
      if (const auto t = find(tolerance); t != tolerances.end() && length)
        t->projected = length->value;
  }
}

void ToleranceReader::readSegments(std::vector<PmiTolerance>& tolerances) {
  for (int id : text_.ofType("GEOMETRIC_TOLERANCE_RELATIONSHIP")) {
    const auto* r = text_.instance(id)->find("GEOMETRIC_TOLERANCE_RELATIONSHIP");
    if (r->values.size() < 4 || r->values[0].text.find("composite") == std::string::npos) continue;
    for (auto& t : tolerances)
      if (t.entity == r->values[3].reference) t.upper_segment = r->values[2].reference;
  }
}

} // namespace

Pmi readPmi(const StepText& text, const FacesOfEntity& facesOf, std::vector<Note>& notes) {
  const AspectResolver aspects(text, facesOf);
  ToleranceReader reader(text, aspects, notes);
  Pmi pmi;
  pmi.datums = reader.datums();
  pmi.dimensions = readDimensions(text, aspects, notes);
  pmi.tolerances = reader.tolerances();
  for (int id : text.broken())
    notes.push_back({id, "entity cannot be parsed and is left out"});
  return pmi;
}

} // namespace alder
