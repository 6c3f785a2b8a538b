#include "part/pmi/tolerances.h"

#include "part/pmi/modifiers.h"
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

// Names of forms (ISO 10303-47, tolerance_zone_form, and the recommended practices for it), and of
// which tolerances they say no more than the tolerance itself.
struct NamedForm {
  std::string_view name;
  ZoneForm form;
  std::vector<ToleranceType> only = {}; // empty: of all
};
const std::vector<NamedForm>& zoneForms() {
  using T = ToleranceType;
  static const std::vector<NamedForm> kForms{
      {"", ZoneForm::Unstated},
      {"unknown", ZoneForm::Unstated},
      {"within a circle", ZoneForm::Cylindrical},
      {"within a cylinder", ZoneForm::Cylindrical},
      {"cylindrical or circular", ZoneForm::Cylindrical},
      {"cylindrical", ZoneForm::Cylindrical},
      {"circular", ZoneForm::Cylindrical},
      {"within a sphere", ZoneForm::Spherical},
      {"spherical", ZoneForm::Spherical},
      {"parallel planes", ZoneForm::Planar},
      {"between two parallel planes", ZoneForm::Planar},
      {"between two parallel lines", ZoneForm::Planar},
      {"between two parallel straight lines", ZoneForm::Planar},
      {"between two equidistant curves", ZoneForm::Planar},
      {"between two equidistant surfaces", ZoneForm::Planar},
      {"between two concentric circles", ZoneForm::Planar, {T::Roundness, T::CircularRunout}},
      {"between two coaxial cylinders", ZoneForm::Planar, {T::Cylindricity, T::TotalRunout}},
  };
  return kForms;
}

class ToleranceReader {
 public:
  ToleranceReader(const PmiSource& source, const Aspects& aspects, const Datums& datums,
                  const Teller& tell)
      : source_(source)
      , aspects_(aspects)
      , datums_(datums)
      , tell_(tell) {}

  std::vector<PmiTolerance> run() {
    std::vector<int> known;
    for (const auto& named : kTolerances)
      for (int id : source_.text().ofType(named.entity)) {
        if (std::find(known.begin(), known.end(), id) != known.end()) {
          tell_.about(id)(id, "tolerance of two kinds at once; the first is taken");
          continue;
        }
        known.push_back(id);
        if (auto t = tolerance(source_.at(id), named.type)) all_.push_back(std::move(*t));
      }
    for (int id : source_.text().ofType("GEOMETRIC_TOLERANCE"))
      if (std::find(known.begin(), known.end(), id) == known.end())
        tell_.about(id)(id, "tolerance of unknown type is left out");
    std::sort(all_.begin(), all_.end(),
              [](const PmiTolerance& a, const PmiTolerance& b) { return a.entity < b.entity; });
    for (const PmiEntity& zone : source_.ofKind("TOLERANCE_ZONE"))
      readZone(zone);
    for (const PmiEntity& definition : source_.ofKind("TOLERANCE_ZONE_DEFINITION"))
      readZoneDefinition(definition);
    for (const PmiEntity& r : source_.ofKind("GEOMETRIC_TOLERANCE_RELATIONSHIP"))
      readRelationship(r);
    return std::move(all_);
  }

 private:
  std::optional<PmiTolerance> tolerance(const PmiEntity& entity, ToleranceType type) {
    const Teller tell = tell_.about(entity.id());
    PmiTolerance t{.entity = entity.id(), .type = type};
    if (!entity.peek("toleranced_shape_aspect")) {
      tell(entity.id(), "tolerance has too few values and is left out");
      return {};
    }
    t.name = entity.text("name");
    const auto magnitude = source_.measure(entity.to("magnitude"));
    if (!magnitude || magnitude->angle) {
      tell(entity.id(), "tolerance without a readable value is left out");
      return {};
    }
    t.magnitude = magnitude->value;
    const PmiEntity aspect = entity.to("toleranced_shape_aspect");
    t.faces = aspects_.faces(aspect, tell);
    t.all_over = aspect.is("PRODUCT_DEFINITION_SHAPE");
    if (t.faces.empty() && !t.all_over)
      tell(entity.id(), "tolerance " + t.name + " names no face of the part");
    readDatums(entity, t, tell);
    readExtras(entity, t, tell);
    return t;
  }

  void readDatums(const PmiEntity& entity, PmiTolerance& t, const Teller& tell) const {
    if (entity.peek("datum_system")) {
      t.datums = datums_.references(entity.value("datum_system"), tell);
    } else if (entity.instance()->records.size() == 1 &&
               entity.instance()->records.front().values.size() == 5) {
      // A simple instance of a kind whose datums are optional, with them all the same.
      source_.mark(entity.id(), 0, 4);
      t.datums = datums_.references(entity.instance()->records.front().values[4], tell);
    }
  }

  void readExtras(const PmiEntity& entity, PmiTolerance& t, const Teller& tell) const {
    const auto measureIn = [&](const char* attribute) -> std::optional<double> {
      const StepValue* there = entity.peek(attribute);
      if (!there || there->kind == StepValue::Kind::Null) return {};
      const PmiEntity m = entity.to(attribute);
      if (const auto read = source_.measure(m)) return read->value;
      tell(entity.id(), inWords(attribute) + " of tolerance " + t.name + " is not understood");
      return {};
    };
    for (const char* attribute : {"modifiers", "modifier"}) {
      const PmiModifiers m = modifiersIn(source_, entity.value(attribute));
      if (m.material != MaterialModifier::None) t.material = m.material;
      t.modifiers.insert(t.modifiers.end(), m.others.begin(), m.others.end());
    }
    t.unequal = measureIn("displacement");
    t.maximum = measureIn("maximum_upper_tolerance");
    t.unit_size = measureIn("unit_size");
    const auto second = measureIn("second_unit_size");
    const std::string area = entity.text("area_type");
    if (area.empty()) {
      if (entity.peek("area_type"))
        tell(entity.id(), "of which shape its unit area is cannot be read");
      return;
    }
    const bool square = area == "SQUARE" || (area == "RECTANGULAR" && second && t.unit_size &&
                                             std::abs(*second - *t.unit_size) < 1e-9);
    if (!square)
      tell(entity.id(),
           "the unit area is " + inWords(area) +
               (second ? fmt::format(" {:g} × {:g} mm", t.unit_size.value_or(0), *second) : "") +
               "; it is judged over squares");
  }

  PmiTolerance* find(int id) {
    const auto found = std::find_if(all_.begin(), all_.end(),
                                    [&](const PmiTolerance& t) { return t.entity == id; });
    return found == all_.end() ? nullptr : &*found;
  }

  void readZone(const PmiEntity& zone) {
    const PmiEntity form = zone.to("form");
    const std::string name = form.text("name");
    const auto& forms = zoneForms();
    const auto known = std::find_if(forms.begin(), forms.end(), [&](const NamedForm& f) {
      return f.name == name && form && form.value("name").kind == StepValue::Kind::Text;
    });
    bool of_any = false;
    for (const int id : zone.referencesIn("defining_tolerance")) {
      PmiTolerance* t = find(id);
      if (!t) continue;
      of_any = true;
      zones_[zone.id()].push_back(id);
      const Teller tell = tell_.about(id);
      if (known == forms.end()) {
        tell(zone.id(), "zone form \"" + name + "\" is not judged");
      } else if (!known->only.empty() &&
                 std::find(known->only.begin(), known->only.end(), t->type) == known->only.end()) {
        tell(zone.id(), "a zone " + name + " is not judged for this tolerance");
      } else if (t->zone != ZoneForm::Unstated && known->form != ZoneForm::Unstated &&
                 t->zone != known->form) {
        tell(zone.id(), "a second zone, " + name + ", is not judged");
      } else if (known->form != ZoneForm::Unstated) {
        t->zone = known->form;
      }
    }
    if (!of_any) tell_(zone.id(), "a tolerance zone is of no tolerance that is read");
  }

  void readZoneDefinition(const PmiEntity& definition) {
    const int zone = definition.to("zone").id();
    const auto on = zones_.find(zone);
    if (on == zones_.end()) return;
    const auto length = definition.peek("projected_length")
                            ? source_.measure(definition.to("projected_length"))
                            : std::nullopt;
    for (const int id : on->second) {
      PmiTolerance* t = find(id);
      const Teller tell = tell_.about(id);
      if (definition.is("PROJECTED_ZONE_DEFINITION")) {
        if (length)
          t->projected = length->value;
        else
          tell(definition.id(), "projected zone without a readable length is not judged");
        t->projected_from = aspects_.faces(definition.to("projection_end"), tell);
        // The boundaries are the feature's own.
        definition.value("boundaries");
      } else if (definition.is("NON_UNIFORM_ZONE_DEFINITION")) {
        tell(definition.id(), "a zone that is not uniform is judged as a uniform one");
      }
    }
  }

  void readRelationship(const PmiEntity& r) {
    const std::string name = r.text("name");
    const int upper = r.to("relating_geometric_tolerance").id(),
              lower = r.to("related_geometric_tolerance").id();
    PmiTolerance *a = find(upper), *b = find(lower);
    if (!a || !b) return;
    if (name.find("composite") != std::string::npos) {
      b->upper_segment = upper;
    } else if (name.find("simultane") != std::string::npos) {
      const int group = a->together != 0 ? a->together : b->together != 0 ? b->together : ++groups_;
      const int joined = b->together;
      a->together = b->together = group;
      for (PmiTolerance& t : all_)
        if (joined != 0 && t.together == joined) t.together = group;
    } else if (name.find("precedence") == std::string::npos) { // only in which order they stand
      const std::string words =
          name.empty() ? "its relation to another tolerance" : "its relation \"" + name + "\"";
      tell_.about(lower)(r.id(), words + " is not judged");
      tell_.about(upper)(r.id(), words + " is not judged");
    }
  }

  const PmiSource& source_;
  const Aspects& aspects_;
  const Datums& datums_;
  const Teller& tell_;
  std::vector<PmiTolerance> all_;
  std::map<int, std::vector<int>> zones_; // tolerances of each
  int groups_ = 0;
};

} // namespace

std::vector<PmiTolerance> readTolerances(const PmiSource& source, const Aspects& aspects,
                                         const Datums& datums, const Teller& tell) {
  return ToleranceReader(source, aspects, datums, tell).run();
}

} // namespace alder
