#include "pmi_case_parts.h"

#include <algorithm>
#include <fmt/format.h>

namespace alder::test {

const std::vector<PmiKind>& pmiKinds() {
  static const std::vector<PmiKind> kKinds{
      {"STRAIGHTNESS", "straightness", "13", "", "", false},
      {"FLATNESS", "flatness", "13", "", "", false},
      {"ROUNDNESS", "roundness", "11", "", "", false},
      {"CYLINDRICITY", "cylindricity", "11", "", "", false},
      {"LINE_PROFILE", "line profile", "13", "", "", false},
      {"SURFACE_PROFILE", "surface profile", "13", "23", "A", false},
      {"PARALLELISM", "parallelism", "13", "23", "A", false},
      {"PERPENDICULARITY", "perpendicularity", "11", "23", "A", true},
      {"ANGULARITY", "angularity", "13", "23", "A", false},
      {"POSITION", "position", "11", "23", "A", true},
      {"COAXIALITY", "coaxiality", "11", "33", "B", true},
      {"CONCENTRICITY", "coaxiality", "11", "33", "B", true},
      {"SYMMETRY", "symmetry", "15", "36", "C", false},
      {"CIRCULAR_RUNOUT", "circular runout", "11", "33", "B", false},
      {"TOTAL_RUNOUT", "total runout", "11", "33", "B", false},
  };
  return kKinds;
}
static const char* facesOf(const std::string& aspect) {
  return aspect == "11" ? "0" : aspect == "13" ? "1" : aspect == "15" ? "4,5" : "?";
}
const PmiKind& pmiKind(const std::string& entity) {
  return *std::find_if(pmiKinds().begin(), pmiKinds().end(),
                       [&](const PmiKind& k) { return k.entity == entity; });
}

std::string zoneOf(const PmiKind& k) {
  return k.round_zone ? "#61=TOLERANCE_ZONE_FORM('cylindrical or circular');\n"
                        "#62=TOLERANCE_ZONE('','',#4,.F.,(#60),#61);\n"
                      : "";
}
std::string systemOf(const PmiKind& k, const std::string& modifiers) {
  if (*k.datum == 0) return "";
  return fmt::format("#50=DATUM_REFERENCE_COMPARTMENT('','',#4,.F.,#{},{});\n"
                     "#51=DATUM_SYSTEM('','',#4,.F.,(#50));\n",
                     k.datum, modifiers);
}
std::string toleranceText(const PmiKind& k, double value, const std::string& behind,
                          const std::string& datum_behind) {
  return fmt::format("{} {}{:g}{}{}{} of {}", k.words, k.round_zone ? "ø" : "", value, behind,
                     *k.letter ? " | " : "", k.letter + datum_behind, facesOf(k.aspect));
}

namespace {

// Each in a simple and in complex instances, in three units, datums by system and as of old.
void addKinds(PmiCases& out) {
  struct Size {
    const char* number;
    double mm;
  };
  for (const PmiKind& k : pmiKinds())
    for (const Size& size : {Size{"41", 0.1}, Size{"42", 0.254}, Size{"44", 0.0508}}) {
      const std::string expected = toleranceText(k, size.mm), name = k.entity;
      const std::string where = fmt::format("'','',#{},#{}", size.number, k.aspect);
      const bool has = *k.datum != 0;
      out.push_back(
          {name + " simple " + size.number,
           systemOf(k) + zoneOf(k) +
               fmt::format("#60={}_TOLERANCE({}{});\n", k.entity, where, has ? ",(#51)" : ""),
           expected});
      const std::string with = has ? "GEOMETRIC_TOLERANCE_WITH_DATUM_REFERENCE((#51))" : "";
      out.push_back({name + " complex " + size.number,
                     systemOf(k) + zoneOf(k) +
                         fmt::format("#60=(GEOMETRIC_TOLERANCE({}){}{}_TOLERANCE());\n", where,
                                     with, k.entity),
                     expected});
      out.push_back({name + " complex, the other way round " + size.number,
                     zoneOf(k) +
                         fmt::format("#60 = ( {}_TOLERANCE ( ) {} GEOMETRIC_TOLERANCE({}) ) ;\n",
                                     k.entity, with, where) +
                         systemOf(k),
                     expected});
      if (!has) continue;
      out.push_back({name + " with a reference of old " + size.number,
                     fmt::format("#51=DATUM_REFERENCE(1,#{});\n", k.datum) + zoneOf(k) +
                         fmt::format("#60=(GEOMETRIC_TOLERANCE({}){}{}_TOLERANCE());\n", where,
                                     with, k.entity),
                     expected});
    }
}

// ---------------------------------------------------------------- datum modifiers

void addDatumModifiers(PmiCases& out) {
  const PmiKind& k = pmiKind("POSITION");
  struct Modifier {
    const char* name;
    const char* behind; // the letter in the answer; null: told
  };
  const Modifier all[]{{"MAXIMUM_MATERIAL_REQUIREMENT", " M"},
                       {"LEAST_MATERIAL_REQUIREMENT", " L"},
                       {"DEGREE_OF_FREEDOM_CONSTRAINT_X", " [x]"},
                       {"DEGREE_OF_FREEDOM_CONSTRAINT_Y", " [y]"},
                       {"DEGREE_OF_FREEDOM_CONSTRAINT_Z", " [z]"},
                       {"DEGREE_OF_FREEDOM_CONSTRAINT_U", " [u]"},
                       {"DEGREE_OF_FREEDOM_CONSTRAINT_V", " [v]"},
                       {"DEGREE_OF_FREEDOM_CONSTRAINT_W", " [w]"},
                       {"ORIENTATION", " [uvw]"},
                       {"ANY_CROSS_SECTION", nullptr},
                       {"ANY_LONGITUDINAL_SECTION", nullptr},
                       {"BASIC", nullptr},
                       {"CONTACTING_FEATURE", nullptr},
                       {"DISTANCE_VARIABLE", nullptr},
                       {"FREE_STATE", nullptr},
                       {"LINE", nullptr},
                       {"MAJOR_DIAMETER", nullptr},
                       {"MINOR_DIAMETER", nullptr},
                       {"PITCH_DIAMETER", nullptr},
                       {"PLANE", nullptr},
                       {"POINT", nullptr},
                       {"TRANSLATION", nullptr}};
  const std::string tolerance = "#60=POSITION_TOLERANCE('','',#41,#11,(#51));\n" + zoneOf(k);
  for (const Modifier& m : all)
    for (const bool typed : {false, true}) {
      const std::string sign = typed ? fmt::format("SIMPLE_DATUM_REFERENCE_MODIFIER(.{}.)", m.name)
                                     : fmt::format(".{}.", m.name);
      const std::string form = std::string(typed ? ", typed" : ", bare");
      const std::string expected = m.behind ? toleranceText(k, 0.1, "", m.behind) : "told";
      out.push_back({std::string("datum ") + m.name + form,
                     systemOf(k, "(" + sign + ")") + tolerance, expected});
      const std::string elements =
          fmt::format("#48=DATUM_REFERENCE_ELEMENT('','',#4,.F.,#33,({0}));\n"
                      "#49=DATUM_REFERENCE_ELEMENT('','',#4,.F.,#23,{{}});\n"
                      "#50=DATUM_REFERENCE_COMPARTMENT('','',#4,.F.,COMMON_DATUM_LIST((#48,#49)),"
                      "$);\n#51=DATUM_SYSTEM('','',#4,.F.,(#50));\n",
                      sign);
      const bool material = std::string_view(m.name).ends_with("MATERIAL_REQUIREMENT");
      out.push_back({std::string("on both of a common datum ") + m.name + form,
                     fmt::format(fmt::runtime(elements), "(" + sign + ")") + tolerance,
                     material ? fmt::format("position ø0.1 | B-A{} of 0", m.behind) : "told"});
      out.push_back({std::string("on one of a common datum ") + m.name + form,
                     fmt::format(fmt::runtime(elements), "$") + tolerance, "told"});
      out.push_back(
          {std::string("on the compartment of a common datum ") + m.name + form,
           fmt::format("#48=DATUM_REFERENCE_ELEMENT('','',#4,.F.,#33,$);\n"
                       "#49=DATUM_REFERENCE_ELEMENT('','',#4,.F.,#23,$);\n"
                       "#50=DATUM_REFERENCE_COMPARTMENT('','',#4,.F.,COMMON_DATUM_LIST((#48,#49)),"
                       "({}));\n#51=DATUM_SYSTEM('','',#4,.F.,(#50));\n",
                       sign) +
               tolerance,
           m.behind ? fmt::format("position ø0.1 | B-A{} of 0", m.behind) : "told"});
    }
  for (const char* type : {"CIRCULAR_OR_CYLINDRICAL", "DISTANCE", "PROJECTED", "SPHERICAL"})
    out.push_back({std::string("datum modifier with a value ") + type,
                   fmt::format("#46=DATUM_REFERENCE_MODIFIER_WITH_VALUE(.{}.,#43);\n", type) +
                       systemOf(k, "(#46)") + tolerance,
                   "told"});
  for (const auto& [old, behind] : {std::pair{"MAXIMUM_MATERIAL_CONDITION", " M"},
                                    {"LEAST_MATERIAL_CONDITION", " L"},
                                    {"REGARDLESS_OF_FEATURE_SIZE", ""}})
    out.push_back({std::string("reference of old with ") + old,
                   fmt::format("#51=REFERENCED_MODIFIED_DATUM(1,#23,.{}.);\n", old) + tolerance,
                   toleranceText(k, 0.1, "", behind)});
}

// ---------------------------------------------------------------- modifiers of tolerances

void addToleranceModifiers(PmiCases& out) {
  const PmiKind& k = pmiKind("POSITION");
  struct Modifier {
    const char* name;
    const char* behind; // null: told
  };
  const Modifier all[]{{"MAXIMUM_MATERIAL_REQUIREMENT", " M"},
                       {"LEAST_MATERIAL_REQUIREMENT", " L"},
                       {"RECIPROCITY_REQUIREMENT", " R"},
                       {"SEPARATE_REQUIREMENT", " SZ"},
                       {"SEPARATE_ZONE", " SZ"},
                       {"COMMON_ZONE", ""},
                       {"ANY_CROSS_SECTION", nullptr},
                       {"EACH_RADIAL_ELEMENT", nullptr},
                       {"FREE_STATE", nullptr},
                       {"LINE_ELEMENT", nullptr},
                       {"MAJOR_DIAMETER", nullptr},
                       {"MINOR_DIAMETER", nullptr},
                       {"NOT_CONVEX", nullptr},
                       {"PITCH_DIAMETER", nullptr},
                       {"STATISTICAL_TOLERANCE", nullptr},
                       {"UNITED_FEATURE", nullptr},
                       {"ORIENTATION_ONLY", nullptr},
                       {"SOMETHING_NEW", nullptr}};
  for (const Modifier& m : all)
    for (const bool typed : {false, true}) {
      const std::string sign = typed ? fmt::format("GEOMETRIC_TOLERANCE_MODIFIER(.{}.)", m.name)
                                     : fmt::format(".{}.", m.name);
      out.push_back({std::string("tolerance ") + m.name + (typed ? ", typed" : ", bare"),
                     systemOf(k) + zoneOf(k) +
                         fmt::format("#60=(GEOMETRIC_TOLERANCE('','',#41,#11)GEOMETRIC_TOLERANCE_"
                                     "WITH_DATUM_REFERENCE((#51))GEOMETRIC_TOLERANCE_WITH_"
                                     "MODIFIERS(({}))POSITION_TOLERANCE());\n",
                                     sign),
                     m.behind ? toleranceText(k, 0.1, m.behind) : "told"});
    }
  for (const auto& [old, behind] : {std::pair{"MAXIMUM_MATERIAL_CONDITION", " M"},
                                    {"LEAST_MATERIAL_CONDITION", " L"},
                                    {"REGARDLESS_OF_FEATURE_SIZE", ""}})
    for (const bool typed : {false, true})
      out.push_back({std::string("modified tolerance of old, ") + old + (typed ? ", typed" : ""),
                     systemOf(k) + zoneOf(k) +
                         fmt::format("#60=(GEOMETRIC_TOLERANCE('','',#41,#11)GEOMETRIC_TOLERANCE_"
                                     "WITH_DATUM_REFERENCE((#51))MODIFIED_GEOMETRIC_TOLERANCE("
                                     "{})POSITION_TOLERANCE());\n",
                                     typed ? fmt::format("LIMIT_CONDITION(.{}.)", old)
                                           : fmt::format(".{}.", old)),
                     toleranceText(k, 0.1, behind)});
  out.push_back({"tangent plane",
                 "#50=DATUM_REFERENCE_COMPARTMENT('','',#4,.F.,#23,$);\n"
                 "#51=DATUM_SYSTEM('','',#4,.F.,(#50));\n"
                 "#60=(GEOMETRIC_TOLERANCE('','',#41,#13)GEOMETRIC_TOLERANCE_WITH_DATUM_REFERENCE(("
                 "#51))GEOMETRIC_TOLERANCE_WITH_MODIFIERS((.TANGENT_PLANE.))PARALLELISM_"
                 "TOLERANCE());\n",
                 "parallelism 0.1 tangent | A of 1"});
}

// ---------------------------------------------------------------- what else a tolerance carries

void addToleranceExtras(PmiCases& out) {
  const auto profile = [](const std::string& more) {
    return "#60=(GEOMETRIC_TOLERANCE('','',#41,#13)SURFACE_PROFILE_TOLERANCE()" + more + ");\n";
  };
  out.push_back({"unequally disposed", profile("UNEQUALLY_DISPOSED_GEOMETRIC_TOLERANCE(#44)"),
                 "surface profile 0.1 UZ+0.0508 of 1"});
  out.push_back({"unequally disposed, unreadable",
                 profile("UNEQUALLY_DISPOSED_GEOMETRIC_TOLERANCE(#999)"), "told"});
  const auto flat = [](const std::string& more) {
    return "#60=(GEOMETRIC_TOLERANCE('','',#41,#13)FLATNESS_TOLERANCE()" + more + ");\n";
  };
  out.push_back({"flatness over a unit", flat("GEOMETRIC_TOLERANCE_WITH_DEFINED_UNIT(#43)"),
                 "flatness 0.1 / 12 of 1"});
  for (const auto& [area, second, expected] : {std::tuple{"SQUARE", "$", "flatness 0.1 / 12 of 1"},
                                               {"RECTANGULAR", "#43", "flatness 0.1 / 12 of 1"},
                                               {"RECTANGULAR", "#45", "told"},
                                               {"CIRCULAR", "$", "told"},
                                               {"CYLINDRICAL", "#45", "told"},
                                               {"SPHERICAL", "$", "told"}})
    out.push_back({std::string("flatness over an area, ") + area + " " + second,
                   flat(fmt::format("GEOMETRIC_TOLERANCE_WITH_DEFINED_UNIT(#43)GEOMETRIC_TOLERANCE_"
                                    "WITH_DEFINED_AREA_UNIT(.{}.,{})",
                                    area, second)),
                   expected});
  out.push_back({"straightness over a unit",
                 "#60=(GEOMETRIC_TOLERANCE('','',#41,#13)GEOMETRIC_TOLERANCE_WITH_DEFINED_UNIT(#43)"
                 "STRAIGHTNESS_TOLERANCE());\n",
                 "straightness 0.1 / 12 of 1"});
  out.push_back(
      {"profile over a unit", profile("GEOMETRIC_TOLERANCE_WITH_DEFINED_UNIT(#43)"), "told"});
  const PmiKind& k = pmiKind("POSITION");
  out.push_back({"largest tolerance with bonus",
                 systemOf(k) + zoneOf(k) +
                     "#60=(GEOMETRIC_TOLERANCE('','',#41,#11)GEOMETRIC_TOLERANCE_WITH_DATUM_"
                     "REFERENCE((#51))GEOMETRIC_TOLERANCE_WITH_MODIFIERS((.MAXIMUM_MATERIAL_"
                     "REQUIREMENT.))GEOMETRIC_TOLERANCE_WITH_MAXIMUM_TOLERANCE(#45)POSITION_"
                     "TOLERANCE());\n",
                 "told"});
  out.push_back({"all over the part", "#60=SURFACE_PROFILE_TOLERANCE('','',#41,#4);\n",
                 "surface profile 0.1 of 0|1|2|3|4|5|6|7|8|9|10|11|12|13|14|15"});
  out.push_back({"tolerance of two kinds",
                 "#60=(FLATNESS_TOLERANCE()GEOMETRIC_TOLERANCE('','',#41,#13)STRAIGHTNESS_"
                 "TOLERANCE());\n",
                 "told"});
  out.push_back({"unknown tolerance",
                 "#60=(GEOMETRIC_TOLERANCE('','',#41,#13)WAVINESS_TOLERANCE()"
                 ");\n",
                 "not judged"});
  out.push_back({"a record nobody knows",
                 "#60=(FLATNESS_TOLERANCE()GEOMETRIC_TOLERANCE('','',#41,#13)GEOMETRIC_TOLERANCE_"
                 "WITH_SURPRISE(#43));\n",
                 "told"});
  out.push_back({"an entity nobody knows hangs on it",
                 "#60=FLATNESS_TOLERANCE('','',#41,#13);\n#63=TOLERANCE_EXCEPTION('',#60,.FRIDAY.);"
                 "\n",
                 "told"});
  out.push_back({"one value too many", "#60=FLATNESS_TOLERANCE('','',#41,#13,$,.T.);\n", "told"});
}

// ---------------------------------------------------------------- zones

void addZones(PmiCases& out) {
  struct Form {
    const char* name;
    const char* position; // of the bore, behind "position "; null: told
  };
  const Form forms[]{{"within a circle", "ø0.1"},
                     {"within a cylinder", "ø0.1"},
                     {"cylindrical or circular", "ø0.1"},
                     {"cylindrical", "ø0.1"},
                     {"circular", "ø0.1"},
                     {"within a sphere", "Sø0.1"},
                     {"spherical", "Sø0.1"},
                     {"between two coaxial cylinders", nullptr},
                     {"between two concentric circles", nullptr},
                     {"non uniform", nullptr},
                     {"within a cone", nullptr},
                     {"Cylindrical", nullptr}};
  for (const Form& f : forms)
    out.push_back({std::string("zone ") + f.name,
                   systemOf(pmiKind("POSITION")) +
                       fmt::format("#60=POSITION_TOLERANCE('','',#41,#11,(#51));\n"
                                   "#61=TOLERANCE_ZONE_FORM('{}');\n"
                                   "#62=TOLERANCE_ZONE('','',#4,.F.,(#60),#61);\n",
                                   f.name),
                   f.position ? fmt::format("position {} | A of 0", f.position) : "told"});
  out.push_back({"no zone said of an axis",
                 systemOf(pmiKind("POSITION")) + "#60=POSITION_TOLERANCE('','',#41,#11,(#51));\n",
                 "told"});
  for (const auto& [tolerance, form] : {std::pair{"CYLINDRICITY", "between two coaxial cylinders"},
                                        {"ROUNDNESS", "between two concentric circles"}})
    out.push_back({std::string(tolerance) + " " + form,
                   fmt::format("#60={}_TOLERANCE('','',#41,#11);\n#61=TOLERANCE_ZONE_FORM('{}');\n"
                               "#62=TOLERANCE_ZONE('','',#4,.F.,(#60),#61);\n",
                               tolerance, form),
                   toleranceText(pmiKind(tolerance), 0.1)});
  for (const char* form : {"parallel planes", "between two parallel planes",
                           "between two equidistant surfaces", "unknown", ""})
    out.push_back({std::string("flatness, zone ") + form,
                   fmt::format("#60=FLATNESS_TOLERANCE('','',#41,#13);\n"
                               "#61=TOLERANCE_ZONE_FORM('{}');\n"
                               "#62=TOLERANCE_ZONE('','',#4,.F.,(#60),#61);\n",
                               form),
                   "flatness 0.1 of 1"});
  const std::string position = systemOf(pmiKind("POSITION")) +
                               "#60=POSITION_TOLERANCE('','',#41,#11,(#51));\n" +
                               zoneOf(pmiKind("POSITION"));
  const auto zone = [&](const char* name, const std::string& records, const char* expected) {
    out.push_back({name, position + records, expected});
  };
  zone("projected from the primary datum", "#63=PROJECTED_ZONE_DEFINITION(#62,(),#21,#43);\n",
       "position ø0.1 P 12 | A of 0");
  zone("projected from another face", "#63=PROJECTED_ZONE_DEFINITION(#62,(),#13,#43);\n", "told");
  zone("projected with offset",
       "#63=(PROJECTED_ZONE_DEFINITION(#21,#43)PROJECTED_ZONE_DEFINITION_WITH_OFFSET(#44)TOLERANCE_"
       "ZONE_DEFINITION(#62,()));\n",
       "told");
  zone("projected, no length", "#63=PROJECTED_ZONE_DEFINITION(#62,(),#21,$);\n", "told");
  zone("not uniform", "#63=NON_UNIFORM_ZONE_DEFINITION(#62,(#13));\n", "told");
  zone("of a runout",
       "#64=RUNOUT_ZONE_ORIENTATION(#46);\n#46=PLANE_ANGLE_MEASURE_WITH_UNIT("
       "PLANE_ANGLE_MEASURE(30.),#7);\n#63=RUNOUT_ZONE_DEFINITION(#62,(),#64);\n",
       "told");
  zone("defined by somebody else", "#63=CURVED_ZONE_DEFINITION(#62,(#13));\n", "told");
  const std::string bare = systemOf(pmiKind("POSITION")) +
                           "#60=POSITION_TOLERANCE('','',#41,#11,(#51));\n"
                           "#61=TOLERANCE_ZONE_FORM('within a cylinder');\n";
  out.push_back({"zone with a datum of its own",
                 bare + "#62=TOLERANCE_ZONE_WITH_DATUM('','',#4,.F.,(#60),#61,#51);\n", "told"});
  out.push_back({"directed zone",
                 bare + "#62=DIRECTED_TOLERANCE_ZONE('','',#4,.F.,(#60),#61,#13);\n", "told"});
  out.push_back({"oriented zone",
                 bare + "#62=ORIENTED_TOLERANCE_ZONE('','',#4,.F.,(#60),#61,.PERPENDICULAR.);\n",
                 "told"});
}

// ---------------------------------------------------------------- relations of tolerances

void addRelations(PmiCases& out) {
  const std::string two =
      "#50=DATUM_REFERENCE_COMPARTMENT('','',#4,.F.,#23,$);\n#51=DATUM_SYSTEM('','',#4,.F.,(#50));"
      "\n"
      "#59=POSITION_TOLERANCE('','',#42,#11,(#51));\n#60=POSITION_TOLERANCE('','',#41,#11,(#51));\n"
      "#61=TOLERANCE_ZONE_FORM('within a cylinder');\n"
      "#62=TOLERANCE_ZONE('','',#4,.F.,(#59,#60),#61);\n";
  for (const auto& [name, expected] :
       {std::pair{"composite tolerance", "position ø0.1 | A of 0 below 59"},
        {"simultaneity", "position ø0.1 SIM1 | A of 0"},
        {"precedence", "position ø0.1 | A of 0"},
        {"", "told"},
        {"something else", "told"}})
    out.push_back(
        {std::string("related by ") + name,
         two + fmt::format("#63=GEOMETRIC_TOLERANCE_RELATIONSHIP('{}','',#59,#60);\n", name),
         expected});
}

} // namespace

void addToleranceCases(PmiCases& out) {
  addKinds(out);
  addDatumModifiers(out);
  addToleranceModifiers(out);
  addToleranceExtras(out);
  addZones(out);
  addRelations(out);
}

std::vector<PmiCase> pmiCases() {
  PmiCases all;
  addToleranceCases(all);
  addDimensionCases(all);
  addAspectCases(all);
  return all;
}

} // namespace alder::test
