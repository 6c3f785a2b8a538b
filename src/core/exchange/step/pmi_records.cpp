#include "exchange/step/pmi_records.h"

#include "part/pmi/schema.h"
#include "requirement/fits.h"
#include "requirement/limits.h"
#include "requirement/modifiers.h"
#include "requirement/pmi_modifiers.h"
#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace alder {
namespace {

using K = Characteristic;

std::string entityOf(K kind) {
  switch (kind) {
  case K::Straightness:
    return "STRAIGHTNESS_TOLERANCE";
  case K::Flatness:
    return "FLATNESS_TOLERANCE";
  case K::Roundness:
    return "ROUNDNESS_TOLERANCE";
  case K::Cylindricity:
    return "CYLINDRICITY_TOLERANCE";
  case K::LineProfile:
    return "LINE_PROFILE_TOLERANCE";
  case K::SurfaceProfile:
    return "SURFACE_PROFILE_TOLERANCE";
  case K::Parallelism:
    return "PARALLELISM_TOLERANCE";
  case K::Perpendicularity:
    return "PERPENDICULARITY_TOLERANCE";
  case K::Angularity:
    return "ANGULARITY_TOLERANCE";
  case K::Position:
    return "POSITION_TOLERANCE";
  case K::Coaxiality:
    return "COAXIALITY_TOLERANCE";
  case K::Symmetry:
    return "SYMMETRY_TOLERANCE";
  case K::CircularRunout:
    return "CIRCULAR_RUNOUT_TOLERANCE";
  case K::TotalRunout:
    return "TOTAL_RUNOUT_TOLERANCE";
  case K::Size:
  case K::Distance:
  case K::Angle:
  case K::Value:
    break;
  }
  return {};
}

// Records of one instance in the order that ISO 10303-21 asks for.
std::string complexRecord(std::vector<std::string> records) {
  std::sort(records.begin(), records.end(), [](const std::string& a, const std::string& b) {
    return a.substr(0, a.find('(')) < b.substr(0, b.find('('));
  });
  std::string all = "(";
  for (const std::string& r : records)
    all += r;
  return all + ")";
}

// A code with other limits beside it is not what is required; one of no table can be all there is.
bool codeSaysLimits(const Requirement& r) {
  if (r.fit.empty()) return false;
  const auto deviations = limitDeviations(r.fit, r.nominal);
  const double lower = deviations ? deviations->lower : 0,
               upper = deviations ? deviations->upper : 0;
  return std::abs(r.lower - r.nominal - lower) < 1e-9 &&
         std::abs(r.upper - r.nominal - upper) < 1e-9;
}

std::string enumerated(MaterialModifier material) {
  return material == MaterialModifier::Maximum ? ".MAXIMUM_MATERIAL_REQUIREMENT."
                                               : ".LEAST_MATERIAL_REQUIREMENT.";
}

} // namespace

PmiRecords::PmiRecords(StepEdit& edit, const StepShape& shape, const Specification& spec)
    : edit_(edit)
    , shape_(shape)
    , spec_(spec)
    , units_(shape.units()) {
  if (units_.length == 0)
    units_.length = edit_.add("(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.))");
  if (units_.angle == 0)
    units_.angle = edit_.add("(NAMED_UNIT(*)PLANE_ANGLE_UNIT()SI_UNIT($,.RADIAN.))");
}

std::string PmiRecords::measure(double value, bool angle) const {
  return angle ? fmt::format("PLANE_ANGLE_MEASURE({}),#{}", stepReal(value / units_.radians),
                             units_.angle)
               : fmt::format("LENGTH_MEASURE({}),#{}", stepReal(value / units_.mm), units_.length);
}

int PmiRecords::measureWithUnit(double value, bool angle) {
  return edit_.add(fmt::format("{}_MEASURE_WITH_UNIT({})", angle ? "PLANE_ANGLE" : "LENGTH",
                               measure(value, angle)));
}

std::string PmiRecords::aspectHead(int shape, const std::string& description) const {
  return fmt::format("'',{},#{},.T.", stepString(description), shape);
}

int PmiRecords::shapeOf(const NominalFeature& feature) const {
  for (FaceId face : feature.faces)
    if (const int shape = shape_.home(face).shape; shape != 0) return shape;
  return shape_.whole().shape;
}

// A face by itself, or a group: a reader may look for one face on each aspect.
int PmiRecords::aspectOf(const std::vector<FeatureId>& features, const std::string& type) {
  const NominalFeature& first = spec_.feature(features.front());
  std::vector<std::pair<const NominalFeature*, FaceId>> faces;
  for (FeatureId f : features)
    for (FaceId face : spec_.feature(f).faces)
      faces.emplace_back(&spec_.feature(f), face);
  const auto attach = [&](int aspect, FaceId face) {
    const FaceHome& home = shape_.home(face);
    edit_.add(fmt::format("GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#{},#{},#{})", aspect,
                          home.representation, home.face));
  };
  if (faces.size() == 1) {
    const int aspect = edit_.add(type + "(" + aspectHead(shapeOf(first), first.name) + ")");
    attach(aspect, faces.front().second);
    return aspect;
  }
  const std::string head = aspectHead(shapeOf(first), features.size() == 1 ? first.name : "");
  const int group =
      type == "SHAPE_ASPECT"
          ? edit_.add("COMPOSITE_GROUP_SHAPE_ASPECT(" + head + ")")
          : edit_.add(complexRecord({"COMPOSITE_GROUP_SHAPE_ASPECT()", "COMPOSITE_SHAPE_ASPECT()",
                                     type + "()", "SHAPE_ASPECT(" + head + ")"}));
  for (const auto& [feature, face] : faces) {
    const int part =
        edit_.add("SHAPE_ASPECT(" + aspectHead(shapeOf(*feature), feature->name) + ")");
    attach(part, face);
    edit_.add(fmt::format("SHAPE_ASPECT_RELATIONSHIP('','',#{},#{})", group, part));
  }
  return group;
}

void PmiRecords::datum(const Datum& datum) {
  // What stands behind a letter to tell components apart is not part of it.
  const std::string letter = datum.letter.substr(0, datum.letter.find('('));
  const int shape = shapeOf(spec_.feature(datum.features.front()));
  const int id = edit_.add(fmt::format("DATUM('','',#{},.F.,{})", shape, stepString(letter)));
  datums_[datum.letter] = id;
  const bool by_targets = !datum.targets.empty();
  const int feature = aspectOf(datum.features, by_targets ? "SHAPE_ASPECT" : "DATUM_FEATURE");
  if (!by_targets) edit_.add(fmt::format("SHAPE_ASPECT_RELATIONSHIP('','',#{},#{})", feature, id));
  for (std::size_t i = 0; i < datum.targets.size(); ++i)
    target(datum, id, feature, i);
}

void PmiRecords::target(const Datum& datum, int datum_entity, int feature, std::size_t index) {
  const DatumTarget& t = datum.targets[index];
  const char* kind = t.to ? "line" : t.diameter > 0 ? "circle" : "point";
  const int shape = shapeOf(spec_.feature(datum.features.front()));
  const int id = edit_.add(
      fmt::format("PLACED_DATUM_TARGET_FEATURE('','{}',#{},.T.,'{}')", kind, shape, index + 1));
  edit_.add(fmt::format("SHAPE_ASPECT_RELATIONSHIP('','',#{},#{})", id, datum_entity));
  edit_.add(fmt::format("FEATURE_FOR_DATUM_TARGET_RELATIONSHIP('','',#{},#{})", feature, id));

  const Vec3 middle = t.to ? Vec3((t.point + *t.to) / 2) : t.point;
  const Vec3 along = t.to ? Vec3((*t.to - t.point).normalized()) : Vec3(Vec3::UnitX());
  const Vec3 across = along.unitOrthogonal();
  const auto triple = [](const Vec3& v, double per) {
    return fmt::format("({},{},{})", stepReal(v.x() / per), stepReal(v.y() / per),
                       stepReal(v.z() / per));
  };
  const int point = edit_.add(fmt::format("CARTESIAN_POINT('',{})", triple(middle, units_.mm)));
  const int z = edit_.add(fmt::format("DIRECTION('',{})", triple(across, 1)));
  const int x = edit_.add(fmt::format("DIRECTION('',{})", triple(along, 1)));
  std::vector<int> items{
      edit_.add(fmt::format("AXIS2_PLACEMENT_3D('orientation',#{},#{},#{})", point, z, x))};
  const auto parameter = [&](const char* what, double value) {
    items.push_back(
        edit_.add(complexRecord({"LENGTH_MEASURE_WITH_UNIT()", "MEASURE_REPRESENTATION_ITEM()",
                                 "MEASURE_WITH_UNIT(" + measure(value, false) + ")",
                                 fmt::format("REPRESENTATION_ITEM('{}')", what)})));
  };
  if (t.to) parameter("target length", (*t.to - t.point).norm());
  if (t.diameter > 0) parameter("target diameter", t.diameter);
  const int representation = edit_.add(fmt::format(
      "SHAPE_REPRESENTATION_WITH_PARAMETERS('',{},#{})", stepList(items), shape_.context()));
  const int property = edit_.add(fmt::format("PROPERTY_DEFINITION('','',#{})", id));
  edit_.add(fmt::format("PROPERTY_DEFINITION_REPRESENTATION(#{},#{})", property, representation));
}

int PmiRecords::requirement(const Requirement& r) {
  if (r.kind == K::Size || (r.kind == K::Angle && r.features.size() == 1)) return size(r);
  if (r.kind == K::Distance || r.kind == K::Angle) return location(r);
  return tolerance(r);
}

int PmiRecords::size(const Requirement& r) {
  const int aspect = aspectOf(r.features);
  const Ideal& ideal = spec_.feature(r.features.front()).ideal;
  int id = 0;
  if (r.kind == K::Angle) {
    id = edit_.add(fmt::format("ANGULAR_SIZE(#{},'',{})", aspect,
                               r.nominal <= 1.5707963267948966 ? ".SMALL." : ".LARGE."));
  } else {
    const bool flat = ideal.type == SurfaceType::Slot || ideal.type == SurfaceType::Plane;
    std::string name = flat ? "thickness" : r.radius ? "radius" : "diameter";
    if (ideal.type == SurfaceType::Sphere) name = "spherical " + name;
    id = edit_.add(fmt::format("DIMENSIONAL_SIZE(#{},'{}')", aspect, name));
  }
  figures(id, r);
  return id;
}

int PmiRecords::location(const Requirement& r) {
  const int from = aspectOf({r.features.front()});
  const int to = aspectOf(std::vector<FeatureId>(r.features.begin() + 1, r.features.end()));
  const int id =
      r.kind == K::Angle
          ? edit_.add(fmt::format("ANGULAR_LOCATION('','',#{},#{},{})", from, to,
                                  r.nominal <= 1.5707963267948966 ? ".SMALL." : ".LARGE."))
          : edit_.add(fmt::format("DIMENSIONAL_LOCATION('linear distance','',#{},#{})", from, to));
  figures(id, r);
  return id;
}

void PmiRecords::figures(int dimension, const Requirement& r) {
  const bool angle = r.kind == K::Angle;
  const int format = edit_.add(
      fmt::format("VALUE_FORMAT_TYPE_QUALIFIER('NR2 2.{}')", std::max(r.decimals - 1, 0)));
  const auto item = [&](double value, const std::string& qualifiers, std::string_view label) {
    return edit_.add(complexRecord(
        {angle ? "PLANE_ANGLE_MEASURE_WITH_UNIT()" : "LENGTH_MEASURE_WITH_UNIT()",
         "MEASURE_REPRESENTATION_ITEM()", "MEASURE_WITH_UNIT(" + measure(value, angle) + ")",
         fmt::format("QUALIFIED_REPRESENTATION_ITEM(({}))", qualifiers),
         fmt::format("REPRESENTATION_ITEM('{}')", label)}));
  };
  const std::string written = fmt::format("#{}", format);
  std::vector<int> items;
  // A single limit is the value with its qualifier; off the nominal it stands before that.
  const double limit = hasUpper(r) ? r.upper : r.lower;
  std::string qualified = written;
  if (hasSingleLimit(r))
    qualified += fmt::format(",#{}", edit_.add(fmt::format("TYPE_QUALIFIER('{}')",
                                                           hasUpper(r) ? "maximum" : "minimum")));
  if (hasSingleLimit(r) && limit != r.nominal)
    items.push_back(item(limit, qualified, hasUpper(r) ? "upper limit" : "lower limit"));
  items.push_back(item(r.nominal, items.empty() ? qualified : written, "nominal value"));
  std::vector<int> modifiers;
  for (const std::string& modifier : modifierNames(r))
    modifiers.push_back(edit_.add(
        fmt::format("DESCRIPTIVE_REPRESENTATION_ITEM('dimensional note','{}')", modifier)));
  if (!modifiers.empty())
    items.push_back(edit_.add(fmt::format("COMPOUND_REPRESENTATION_ITEM('',{})",
                                          "SET_REPRESENTATION_ITEM(" + stepList(modifiers) + ")")));
  const int representation = edit_.add(
      fmt::format("SHAPE_DIMENSION_REPRESENTATION('',{},#{})", stepList(items), shape_.context()));
  edit_.add(
      fmt::format("DIMENSIONAL_CHARACTERISTIC_REPRESENTATION(#{},#{})", dimension, representation));
  if (hasSingleLimit(r)) return;
  if (r.fit.empty() && r.lower == r.nominal && r.upper == r.nominal) return; // it has no limits
  edit_.add(fmt::format("PLUS_MINUS_TOLERANCE(#{},#{})", edit_.add(limits(r)), dimension));
}

std::string PmiRecords::limits(const Requirement& r) {
  if (!codeSaysLimits(r)) {
    const bool angle = r.kind == K::Angle;
    const int low = measureWithUnit(r.lower - r.nominal, angle);
    const int high = measureWithUnit(r.upper - r.nominal, angle);
    return fmt::format("TOLERANCE_VALUE(#{},#{})", low, high);
  }
  const auto grade = std::min(r.fit.find_first_of("0123456789"), r.fit.size());
  const bool hole = r.fit.front() >= 'A' && r.fit.front() <= 'Z';
  return fmt::format("LIMITS_AND_FITS({},'{}',{},'ISO 286-2')", stepString(r.fit.substr(0, grade)),
                     hole ? "hole" : "shaft", stepString(r.fit.substr(grade)));
}

std::string PmiRecords::base(const DatumReference& d) {
  if (d.letters.size() == 1) return fmt::format("#{}", datums_.at(d.letters.front()));
  std::vector<int> elements;
  for (const std::string& letter : d.letters)
    elements.push_back(edit_.add(fmt::format("DATUM_REFERENCE_ELEMENT('','',#{},.F.,#{},$)",
                                             shape_.whole().shape, datums_.at(letter))));
  return "COMMON_DATUM_LIST(" + stepList(elements) + ")";
}

int PmiRecords::datumSystem(const Requirement& r) {
  std::vector<int> compartments;
  for (const DatumReference& d : r.datums) {
    std::string modifiers;
    const auto modify = [&](const std::string& each) {
      modifiers += (modifiers.empty() ? "(" : ",") +
                   fmt::format("SIMPLE_DATUM_REFERENCE_MODIFIER({})", each);
    };
    if (d.material != MaterialModifier::None) modify(enumerated(d.material));
    for (const std::string& each : modifierNames(d))
      modify("." + each + ".");
    const std::string of = base(d);
    compartments.push_back(edit_.add(fmt::format("DATUM_REFERENCE_COMPARTMENT('','',#{},.F.,{},{})",
                                                 shape_.whole().shape, of,
                                                 modifiers.empty() ? "$" : modifiers + ")")));
  }
  return edit_.add(
      fmt::format("DATUM_SYSTEM('','',#{},.F.,{})", shape_.whole().shape, stepList(compartments)));
}

int PmiRecords::tolerance(const Requirement& r) {
  const int aspect = aspectOf(r.features);
  const std::string entity = entityOf(r.kind);
  const std::string common =
      fmt::format("'','',#{},#{}", measureWithUnit(r.tolerance, false), aspect);
  const std::string system = r.datums.empty() ? "" : fmt::format("(#{})", datumSystem(r));
  std::vector<std::string> records{entity + "()", "GEOMETRIC_TOLERANCE(" + common + ")"};
  if (!system.empty())
    records.push_back("GEOMETRIC_TOLERANCE_WITH_DATUM_REFERENCE(" + system + ")");
  std::string modifiers;
  if (r.material != MaterialModifier::None) modifiers = enumerated(r.material);
  for (const std::string& each : modifierNames(r))
    modifiers += (modifiers.empty() ? "." : ",.") + each + ".";
  if (!modifiers.empty())
    records.push_back("GEOMETRIC_TOLERANCE_WITH_MODIFIERS((" + modifiers + "))");
  if (zoneMiddle(r) != 0)
    records.push_back(fmt::format("UNEQUALLY_DISPOSED_GEOMETRIC_TOLERANCE(#{})",
                                  measureWithUnit(zoneMiddle(r), false)));
  if (r.unit_length > 0) {
    records.push_back(fmt::format("GEOMETRIC_TOLERANCE_WITH_DEFINED_UNIT(#{})",
                                  measureWithUnit(r.unit_length, false)));
    if (r.kind == K::Flatness)
      records.emplace_back("GEOMETRIC_TOLERANCE_WITH_DEFINED_AREA_UNIT(.SQUARE.,$)");
  }
  // What one entity says by itself is no complex instance (ISO 10303-21, 11.2.5.1).
  const bool with_datums =
      isKindOf(*schemaEntity(entity), "GEOMETRIC_TOLERANCE_WITH_DATUM_REFERENCE");
  const std::size_t by_itself = with_datums ? 3 : 2;
  const bool simple = records.size() == by_itself && with_datums == !system.empty();
  const int id = simple ? edit_.add(fmt::format("{}({}{})", entity, common,
                                                with_datums ? "," + system : std::string()))
                        : edit_.add(complexRecord(std::move(records)));
  const int region = zone(id, r);
  if (zoneProjection(r) > 0) project(region, r, aspect);
  return id;
}

int PmiRecords::zone(int tolerance, const Requirement& r) {
  if (r.zone == Zone::Planar && !(zoneProjection(r) > 0)) return 0;
  const char* form = r.zone == Zone::Diametral   ? "cylindrical or circular"
                     : r.zone == Zone::Spherical ? "spherical"
                                                 : "parallel planes";
  const int form_entity = edit_.add(fmt::format("TOLERANCE_ZONE_FORM('{}')", form));
  return edit_.add(fmt::format("TOLERANCE_ZONE('','',#{},.F.,(#{}),#{})", shape_.whole().shape,
                               tolerance, form_entity));
}

// It begins at the primary datum, on whose side it is judged.
void PmiRecords::project(int zone, const Requirement& r, int aspect) {
  const Datum* primary = r.datums.empty() ? nullptr : spec_.datum(r.datums.front().letters.front());
  const int from = primary ? aspectOf(primary->features) : aspect;
  edit_.add(fmt::format("PROJECTED_ZONE_DEFINITION(#{},(#{}),#{},#{})", zone, aspect, from,
                        measureWithUnit(zoneProjection(r), false)));
}

void PmiRecords::segments(int upper, int lower) {
  edit_.add(fmt::format("GEOMETRIC_TOLERANCE_RELATIONSHIP('composite','',#{},#{})", upper, lower));
}

void PmiRecords::together(int a, int b) {
  edit_.add(fmt::format("GEOMETRIC_TOLERANCE_RELATIONSHIP('simultaneity','',#{},#{})", a, b));
}

} // namespace alder
