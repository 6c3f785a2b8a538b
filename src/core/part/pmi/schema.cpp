#include "part/pmi/schema.h"

#include <algorithm>
#include <map>
#include <memory>
#include <string>

namespace alder {
namespace {

// name, supertypes, own attributes; an attribute with ~ is a label, one with ^ structure.
struct Row {
  std::string_view name, supertypes, own;
};
constexpr Row kRows[]{
    {"REPRESENTATION_ITEM", "", "name~"},
    {"REPRESENTATION", "", "name~ items context_of_items^"},
    {"SHAPE_REPRESENTATION", "REPRESENTATION", ""},
    {"SHAPE_REPRESENTATION_WITH_PARAMETERS", "SHAPE_REPRESENTATION", ""},
    {"SHAPE_DIMENSION_REPRESENTATION", "SHAPE_REPRESENTATION", ""},
    {"PROPERTY_DEFINITION", "", "name~ description~ definition"},
    {"PROPERTY_DEFINITION_REPRESENTATION", "", "definition used_representation"},
    {"SHAPE_DEFINITION_REPRESENTATION", "PROPERTY_DEFINITION_REPRESENTATION", ""},
    {"ITEM_IDENTIFIED_REPRESENTATION_USAGE", "",
     "name~ description~ definition used_representation^ identified_item"},
    {"GEOMETRIC_ITEM_SPECIFIC_USAGE", "ITEM_IDENTIFIED_REPRESENTATION_USAGE", ""},

    // Aspects of the shape
    {"SHAPE_ASPECT", "", "name~ description~ of_shape^ product_definitional^"},
    {"COMPOSITE_SHAPE_ASPECT", "SHAPE_ASPECT", ""},
    {"COMPOSITE_GROUP_SHAPE_ASPECT", "COMPOSITE_SHAPE_ASPECT", ""},
    {"COMPOSITE_UNIT_SHAPE_ASPECT", "COMPOSITE_SHAPE_ASPECT", ""},
    {"CONTINUOUS_SHAPE_ASPECT", "COMPOSITE_SHAPE_ASPECT", ""},
    {"ALL_AROUND_SHAPE_ASPECT", "CONTINUOUS_SHAPE_ASPECT", ""},
    {"BETWEEN_SHAPE_ASPECT", "CONTINUOUS_SHAPE_ASPECT", ""},
    {"SYMMETRIC_SHAPE_ASPECT", "SHAPE_ASPECT", ""},
    {"DERIVED_SHAPE_ASPECT", "SHAPE_ASPECT", ""},
    {"CENTRE_OF_SYMMETRY", "DERIVED_SHAPE_ASPECT", ""},
    {"APEX", "DERIVED_SHAPE_ASPECT", ""},
    {"EXTENSION", "DERIVED_SHAPE_ASPECT", ""},
    {"TANGENT", "DERIVED_SHAPE_ASPECT", ""},
    {"GEOMETRIC_ALIGNMENT", "DERIVED_SHAPE_ASPECT", ""},
    {"GEOMETRIC_INTERSECTION", "DERIVED_SHAPE_ASPECT", ""},
    {"PARALLEL_OFFSET", "DERIVED_SHAPE_ASPECT", "offset"},
    {"PERPENDICULAR_TO", "DERIVED_SHAPE_ASPECT", ""},
    {"SHAPE_ASPECT_RELATIONSHIP", "",
     "name~ description~ relating_shape_aspect related_shape_aspect"},
    {"SHAPE_ASPECT_ASSOCIATIVITY", "SHAPE_ASPECT_RELATIONSHIP", ""},
    {"SHAPE_ASPECT_DERIVING_RELATIONSHIP", "SHAPE_ASPECT_RELATIONSHIP", ""},
    {"FEATURE_FOR_DATUM_TARGET_RELATIONSHIP", "SHAPE_ASPECT_RELATIONSHIP", ""},
    {"FEATURE_COMPONENT_RELATIONSHIP", "SHAPE_ASPECT_RELATIONSHIP", ""},

    // Datums
    {"DATUM", "SHAPE_ASPECT", "identification"},
    {"COMMON_DATUM", "COMPOSITE_SHAPE_ASPECT DATUM", ""},
    {"DATUM_FEATURE", "SHAPE_ASPECT", ""},
    {"DIMENSIONAL_SIZE_WITH_DATUM_FEATURE", "DATUM_FEATURE DIMENSIONAL_SIZE", ""},
    {"DATUM_TARGET", "SHAPE_ASPECT", "target_id~"},
    {"PLACED_DATUM_TARGET_FEATURE", "DATUM_TARGET", ""},
    {"DATUM_SYSTEM", "SHAPE_ASPECT", "constituents"},
    {"GENERAL_DATUM_REFERENCE", "SHAPE_ASPECT", "base modifiers"},
    {"DATUM_REFERENCE_COMPARTMENT", "GENERAL_DATUM_REFERENCE", ""},
    {"DATUM_REFERENCE_ELEMENT", "GENERAL_DATUM_REFERENCE", ""},
    {"DATUM_REFERENCE_MODIFIER_WITH_VALUE", "", "modifier_type modifier_value"},
    {"DATUM_REFERENCE", "", "precedence referenced_datum"},
    {"REFERENCED_MODIFIED_DATUM", "DATUM_REFERENCE", "modifier"},

    // Geometrical tolerances
    {"GEOMETRIC_TOLERANCE", "", "name~ description~ magnitude toleranced_shape_aspect"},
    {"GEOMETRIC_TOLERANCE_WITH_DATUM_REFERENCE", "GEOMETRIC_TOLERANCE", "datum_system"},
    {"GEOMETRIC_TOLERANCE_WITH_MODIFIERS", "GEOMETRIC_TOLERANCE", "modifiers"},
    {"GEOMETRIC_TOLERANCE_WITH_MAXIMUM_TOLERANCE", "GEOMETRIC_TOLERANCE_WITH_MODIFIERS",
     "maximum_upper_tolerance"},
    {"GEOMETRIC_TOLERANCE_WITH_DEFINED_UNIT", "GEOMETRIC_TOLERANCE", "unit_size"},
    {"GEOMETRIC_TOLERANCE_WITH_DEFINED_AREA_UNIT", "GEOMETRIC_TOLERANCE_WITH_DEFINED_UNIT",
     "area_type second_unit_size"},
    {"UNEQUALLY_DISPOSED_GEOMETRIC_TOLERANCE", "GEOMETRIC_TOLERANCE", "displacement"},
    {"MODIFIED_GEOMETRIC_TOLERANCE", "GEOMETRIC_TOLERANCE", "modifier"},
    {"STRAIGHTNESS_TOLERANCE", "GEOMETRIC_TOLERANCE", ""},
    {"FLATNESS_TOLERANCE", "GEOMETRIC_TOLERANCE", ""},
    {"ROUNDNESS_TOLERANCE", "GEOMETRIC_TOLERANCE", ""},
    {"CYLINDRICITY_TOLERANCE", "GEOMETRIC_TOLERANCE", ""},
    {"LINE_PROFILE_TOLERANCE", "GEOMETRIC_TOLERANCE", ""},
    {"SURFACE_PROFILE_TOLERANCE", "GEOMETRIC_TOLERANCE", ""},
    {"POSITION_TOLERANCE", "GEOMETRIC_TOLERANCE", ""},
    {"PARALLELISM_TOLERANCE", "GEOMETRIC_TOLERANCE_WITH_DATUM_REFERENCE", ""},
    {"PERPENDICULARITY_TOLERANCE", "GEOMETRIC_TOLERANCE_WITH_DATUM_REFERENCE", ""},
    {"ANGULARITY_TOLERANCE", "GEOMETRIC_TOLERANCE_WITH_DATUM_REFERENCE", ""},
    {"COAXIALITY_TOLERANCE", "GEOMETRIC_TOLERANCE_WITH_DATUM_REFERENCE", ""},
    {"CONCENTRICITY_TOLERANCE", "GEOMETRIC_TOLERANCE_WITH_DATUM_REFERENCE", ""},
    {"SYMMETRY_TOLERANCE", "GEOMETRIC_TOLERANCE_WITH_DATUM_REFERENCE", ""},
    {"CIRCULAR_RUNOUT_TOLERANCE", "GEOMETRIC_TOLERANCE_WITH_DATUM_REFERENCE", ""},
    {"TOTAL_RUNOUT_TOLERANCE", "GEOMETRIC_TOLERANCE_WITH_DATUM_REFERENCE", ""},
    {"GEOMETRIC_TOLERANCE_RELATIONSHIP", "",
     "name description~ relating_geometric_tolerance related_geometric_tolerance"},

    // Zones
    {"TOLERANCE_ZONE", "SHAPE_ASPECT", "defining_tolerance form"},
    {"TOLERANCE_ZONE_WITH_DATUM", "TOLERANCE_ZONE", "datum_reference"},
    {"TOLERANCE_ZONE_FORM", "", "name"},
    {"TOLERANCE_ZONE_DEFINITION", "", "zone boundaries"},
    {"PROJECTED_ZONE_DEFINITION", "TOLERANCE_ZONE_DEFINITION", "projection_end projected_length"},
    {"PROJECTED_ZONE_DEFINITION_WITH_OFFSET", "PROJECTED_ZONE_DEFINITION", "offset"},
    {"NON_UNIFORM_ZONE_DEFINITION", "TOLERANCE_ZONE_DEFINITION", ""},
    {"RUNOUT_ZONE_DEFINITION", "TOLERANCE_ZONE_DEFINITION", "orientation"},
    {"RUNOUT_ZONE_ORIENTATION", "", "angle"},

    // Dimensions
    {"DIMENSIONAL_SIZE", "", "applies_to name"},
    {"DIMENSIONAL_SIZE_WITH_PATH", "DIMENSIONAL_SIZE", "path"},
    {"ANGULAR_SIZE", "DIMENSIONAL_SIZE", "angle_selection"},
    {"DIMENSIONAL_LOCATION", "SHAPE_ASPECT_RELATIONSHIP", ""},
    {"DIRECTED_DIMENSIONAL_LOCATION", "DIMENSIONAL_LOCATION", ""},
    {"DIMENSIONAL_LOCATION_WITH_PATH", "DIMENSIONAL_LOCATION", "path"},
    {"ANGULAR_LOCATION", "DIMENSIONAL_LOCATION", "angle_selection"},
    {"DIRECTED_ANGULAR_LOCATION", "ANGULAR_LOCATION", ""},
    {"DIMENSIONAL_CHARACTERISTIC_REPRESENTATION", "", "dimension representation"},
    {"PLUS_MINUS_TOLERANCE", "", "range toleranced_dimension"},
    {"TOLERANCE_VALUE", "", "lower_bound upper_bound"},
    {"LIMITS_AND_FITS", "", "form_variance zone_variance grade source~"},

    // Values
    {"MEASURE_WITH_UNIT", "", "value_component unit_component"},
    {"LENGTH_MEASURE_WITH_UNIT", "MEASURE_WITH_UNIT", ""},
    {"PLANE_ANGLE_MEASURE_WITH_UNIT", "MEASURE_WITH_UNIT", ""},
    {"RATIO_MEASURE_WITH_UNIT", "MEASURE_WITH_UNIT", ""},
    {"MEASURE_REPRESENTATION_ITEM", "REPRESENTATION_ITEM MEASURE_WITH_UNIT", ""},
    {"QUALIFIED_REPRESENTATION_ITEM", "REPRESENTATION_ITEM", "qualifiers"},
    {"COMPOUND_REPRESENTATION_ITEM", "REPRESENTATION_ITEM", "item_element"},
    {"VALUE_RANGE", "COMPOUND_REPRESENTATION_ITEM", ""},
    {"DESCRIPTIVE_REPRESENTATION_ITEM", "REPRESENTATION_ITEM", "description"},
    {"TYPE_QUALIFIER", "", "name"},
    {"VALUE_FORMAT_TYPE_QUALIFIER", "", "format_type"},
    {"PRECISION_QUALIFIER", "", "precision_value"},
};

std::vector<std::string_view> words(std::string_view text) {
  std::vector<std::string_view> out;
  while (!text.empty()) {
    const auto end = std::min(text.find(' '), text.size());
    if (end > 0) out.push_back(text.substr(0, end));
    text.remove_prefix(std::min(end + 1, text.size()));
  }
  return out;
}

using Schema = std::map<std::string_view, SchemaEntity>;

// A supertype that two share comes once.
void inherit(const SchemaEntity& from, std::vector<SchemaAttribute>& all,
             std::vector<const SchemaEntity*>& seen) {
  if (std::find(seen.begin(), seen.end(), &from) != seen.end()) return;
  seen.push_back(&from);
  for (const SchemaEntity* super : from.supertypes)
    inherit(*super, all, seen);
  all.insert(all.end(), from.own.begin(), from.own.end());
}

const Schema& schema() {
  static const Schema kSchema = [] {
    Schema s;
    for (const Row& row : kRows)
      s[row.name].name = row.name;
    for (const Row& row : kRows) {
      SchemaEntity& entity = s[row.name];
      for (const auto super : words(row.supertypes))
        entity.supertypes.push_back(&s.at(super));
      for (auto own : words(row.own)) {
        const auto role = own.back() == '~'   ? AttributeRole::Label
                          : own.back() == '^' ? AttributeRole::Structure
                                              : AttributeRole::Meaning;
        if (role != AttributeRole::Meaning) own.remove_suffix(1);
        entity.own.push_back({own, role, row.name});
      }
    }
    for (auto& [name, entity] : s) {
      std::vector<const SchemaEntity*> seen;
      inherit(entity, entity.all, seen);
    }
    return s;
  }();
  return kSchema;
}

} // namespace

const SchemaEntity* schemaEntity(std::string_view type) {
  const auto found = schema().find(type);
  return found == schema().end() ? nullptr : &found->second;
}

bool isKindOf(const SchemaEntity& entity, std::string_view ancestor) {
  return entity.name == ancestor ||
         std::any_of(entity.supertypes.begin(), entity.supertypes.end(),
                     [&](const SchemaEntity* s) { return isKindOf(*s, ancestor); });
}

bool isRequirement(const SchemaEntity& entity) {
  return isKindOf(entity, "GEOMETRIC_TOLERANCE") || isKindOf(entity, "DIMENSIONAL_SIZE") ||
         isKindOf(entity, "DIMENSIONAL_LOCATION");
}

const std::vector<std::string_view>& kindsOf(std::string_view ancestor) {
  static const std::map<std::string_view, std::vector<std::string_view>> kKinds = [] {
    std::map<std::string_view, std::vector<std::string_view>> kinds;
    for (const auto& [name, entity] : schema())
      for (const auto& [above, unused] : schema())
        if (isKindOf(entity, above)) kinds[above].push_back(name);
    return kinds;
  }();
  static const std::vector<std::string_view> kNone;
  const auto found = kKinds.find(ancestor);
  return found == kKinds.end() ? kNone : found->second;
}

} // namespace alder
