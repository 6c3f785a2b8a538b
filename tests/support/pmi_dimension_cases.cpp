#include "pmi_case_parts.h"

#include <algorithm>
#include <fmt/format.h>

namespace alder::test {

namespace {

// ---------------------------------------------------------------- dimensions

std::string value(int id, const std::string& name, const std::string& measure,
                  const std::string& qualifiers = "") {
  const bool angle = measure.find("ANGLE") != std::string::npos;
  return fmt::format(
      "#{}=({}()MEASURE_REPRESENTATION_ITEM()MEASURE_WITH_UNIT({}){}REPRESENTATION_"
      "ITEM('{}'));\n",
      id, angle ? "PLANE_ANGLE_MEASURE_WITH_UNIT" : "LENGTH_MEASURE_WITH_UNIT", measure,
      qualifiers.empty() ? "" : "QUALIFIED_REPRESENTATION_ITEM((" + qualifiers + "))", name);
}
std::string mm(double v) {
  return fmt::format("LENGTH_MEASURE({:.6f}),#1", v);
}
std::string inch(double v) {
  return fmt::format("LENGTH_MEASURE({:.6f}),#3", v);
}
std::string degree(double v) {
  return fmt::format("PLANE_ANGLE_MEASURE({:.6f}),#7", v);
}
std::string shown(const std::string& items) {
  return "#71=SHAPE_DIMENSION_REPRESENTATION('',(" + items +
         "),#900);\n#72=DIMENSIONAL_CHARACTERISTIC_REPRESENTATION(#60,#71);\n";
}
const std::string kPlusMinus =
    "#81=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(-0.1),#1);\n"
    "#82=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(0.2),#1);\n"
    "#83=TOLERANCE_VALUE(#81,#82);\n#84=PLUS_MINUS_TOLERANCE(#83,#60);\n";
const std::string kPlusMinusAngle =
    "#81=PLANE_ANGLE_MEASURE_WITH_UNIT(PLANE_ANGLE_MEASURE(-0.5),#7);\n"
    "#82=PLANE_ANGLE_MEASURE_WITH_UNIT(PLANE_ANGLE_MEASURE(0.5),#7);\n"
    "#83=TOLERANCE_VALUE(#81,#82);\n#84=PLUS_MINUS_TOLERANCE(#83,#60);\n";

void addSizes(PmiCases& out) {
  struct Named {
    const char* name;
    const char* aspect;
    double nominal;
    const char* expected;
  };
  const Named sizes[]{{"diameter", "11", 10, "ø10 +0.2/-0.1 of 0"},
                      {"radius", "11", 5, "R5 +0.2/-0.1 of 0"},
                      {"spherical diameter", "16", 8, "Sø8 +0.2/-0.1 of 7"},
                      {"spherical radius", "16", 4, "SR4 +0.2/-0.1 of 7"},
                      {"thickness", "15", 6, "6 +0.2/-0.1 of 4,5"},
                      {"width", "15", 6, "6 +0.2/-0.1 of 4,5"},
                      {"linear distance", "15", 6, "6 +0.2/-0.1 of 4,5"},
                      {"curve length", "11", 31.4, "not judged"},
                      {"depth", "11", 10, "not judged"},
                      {"height", "11", 10, "not judged"},
                      {"length", "11", 10, "not judged"},
                      {"arc length", "11", 10, "not judged"},
                      {"toroidal minor diameter", "11", 10, "not judged"},
                      {"toroidal major diameter", "11", 10, "not judged"},
                      {"toroidal minor radius", "11", 5, "not judged"},
                      {"toroidal major radius", "11", 5, "not judged"},
                      {"counterbore depth", "11", 10, "not judged"},
                      {"diameter of something", "11", 10, "not judged"},
                      {"diameter", "15", 6, "not judged"},
                      {"width", "11", 10, "not judged"},
                      {"", "11", 10, "told"},
                      {"spherical diameter", "11", 10, "told"},
                      {"diameter", "11", 254, "told"},
                      {"diameter", "11", 5, "told"},
                      {"diameter", "11", 10000, "told"},
                      {"diameter", "11", 20, "told"}};
  for (const Named& s : sizes)
    out.push_back({fmt::format("size \"{}\" {:g} of #{}", s.name, s.nominal, s.aspect),
                   fmt::format("#60=DIMENSIONAL_SIZE(#{},'{}');\n", s.aspect, s.name) +
                       shown("#70") + value(70, "nominal value", mm(s.nominal)) + kPlusMinus,
                   s.expected});
  out.push_back({"size with its datum feature",
                 "#60=DIMENSIONAL_SIZE_WITH_DATUM_FEATURE('','',#4,.T.,#60,'diameter');\n"
                 "#74=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#60,#900,#501);\n" +
                     shown("#70") + value(70, "nominal value", mm(10)) + kPlusMinus,
                 "ø10 +0.2/-0.1 of 0"});
  out.push_back({"size along a path",
                 "#60=DIMENSIONAL_SIZE_WITH_PATH(#11,'diameter',#13);\n" + shown("#70") +
                     value(70, "nominal value", mm(10)) + kPlusMinus,
                 "not judged"});
  out.push_back({"angular size",
                 "#60=ANGULAR_SIZE(#17,'angle',.SMALL.);\n" + shown("#70") +
                     value(70, "nominal value", degree(57.29578)) + kPlusMinusAngle,
                 "57.2958° ±0.5 of 6"});
  out.push_back({"angular size in a complex instance",
                 "#60=(ANGULAR_SIZE(.SMALL.)DIMENSIONAL_SIZE(#17,'angle'));\n" + shown("#70") +
                     value(70, "nominal value", degree(57.29578)) + kPlusMinusAngle,
                 "57.2958° ±0.5 of 6"});
  out.push_back({"a length as an angular size",
                 "#60=ANGULAR_SIZE(#17,'angle',.SMALL.);\n" + shown("#70") +
                     value(70, "nominal value", mm(10)) + kPlusMinus,
                 "not judged"});
}

void addLocations(PmiCases& out) {
  struct Named {
    const char* entity;
    const char* name;
    const char* expected;
  };
  const Named locations[]{
      {"DIMENSIONAL_LOCATION('{}','',#13,#18)", "linear distance", "30 +0.2/-0.1 of 1|8"},
      {"DIMENSIONAL_LOCATION('{}','',#13,#18)", "", "30 +0.2/-0.1 of 1|8"},
      {"DIRECTED_DIMENSIONAL_LOCATION('{}','',#13,#18)", "linear distance", "30 +0.2/-0.1 of 1|8"},
      {"(DIMENSIONAL_LOCATION()SHAPE_ASPECT_RELATIONSHIP('{}','',#13,#18))", "linear distance",
       "30 +0.2/-0.1 of 1|8"},
      {"DIMENSIONAL_LOCATION('{}','',#13,#18)", "linear distance centre outer", "told"},
      {"DIMENSIONAL_LOCATION('{}','',#13,#18)", "linear distance inner inner", "told"},
      {"DIMENSIONAL_LOCATION('{}','',#13,#18)", "linear distance outer inner", "told"},
      {"DIMENSIONAL_LOCATION('{}','',#13,#18)", "curved distance", "not judged"},
      {"DIMENSIONAL_LOCATION('{}','',#13,#18)", "curved distance inner", "not judged"},
      {"DIMENSIONAL_LOCATION('{}','',#13,#18)", "depth", "told"},
      {"DIMENSIONAL_LOCATION_WITH_PATH('{}','',#13,#18,#16)", "linear distance", "not judged"},
      {"DIMENSIONAL_LOCATION('{}','',#13,$)", "linear distance", "told"}};
  for (const Named& l : locations)
    out.push_back({fmt::format("location {} \"{}\"", l.entity, l.name),
                   "#60=" + fmt::format(fmt::runtime(l.entity), l.name) + ";\n" + shown("#70") +
                       value(70, "nominal value", mm(30)) + kPlusMinus,
                   l.expected});
  for (const char* angle :
       {"ANGULAR_LOCATION('','',#13,#19,.SMALL.)", "ANGULAR_LOCATION('','',#13,#19,.EQUAL.)",
        "(ANGULAR_LOCATION(.SMALL.)DIMENSIONAL_LOCATION()SHAPE_ASPECT_RELATIONSHIP('','',#13,#19))",
        "(DIMENSIONAL_LOCATION()ANGULAR_LOCATION(.LARGE.)SHAPE_ASPECT_RELATIONSHIP('','',#13,#19)"
        ")"})
    out.push_back({std::string("location ") + angle,
                   "#60=" + std::string(angle) + ";\n" + shown("#70") +
                       value(70, "nominal value", degree(90)) + kPlusMinusAngle,
                   "90° ±0.5 of 1|2"});
  out.push_back({"the large angle, said with the small one's value",
                 "#60=ANGULAR_LOCATION('','',#13,#19,.LARGE.);\n" + shown("#70") +
                     value(70, "nominal value", degree(35)) + kPlusMinusAngle,
                 "told"});
  // A tolerance on a face that a distance begins at keeps its one face.
  out.push_back(
      {"a distance beside a tolerance",
       "#59=(DIMENSIONAL_LOCATION()SHAPE_ASPECT_RELATIONSHIP('linear distance','',#13,#18)"
       ");\n#60=FLATNESS_TOLERANCE('','',#41,#13);\n",
       "flatness 0.1 of 1"});
  for (const char* derived : {"APEX", "EXTENSION", "TANGENT", "GEOMETRIC_ALIGNMENT",
                              "GEOMETRIC_INTERSECTION", "PERPENDICULAR_TO"})
    out.push_back({std::string("distance to ") + derived,
                   fmt::format("#91={}('','',#4,.F.);\n#92=SHAPE_ASPECT_DERIVING_RELATIONSHIP('','"
                               "',#91,#18);\n#93=SHAPE_ASPECT_DERIVING_RELATIONSHIP('','',#91,#19)"
                               ";\n#60=DIMENSIONAL_LOCATION('linear distance','',#13,#91);\n",
                               derived) +
                       shown("#70") + value(70, "nominal value", mm(30)) + kPlusMinus,
                   "told"});
  out.push_back({"distance to a centre of symmetry",
                 "#91=CENTRE_OF_SYMMETRY('','',#4,.F.);\n#92=SHAPE_ASPECT_DERIVING_RELATIONSHIP('',"
                 "'',#91,#15);\n#60=DIMENSIONAL_LOCATION('linear distance','',#35,#91);\n" +
                     shown("#70") + value(70, "nominal value", mm(30)) + kPlusMinus,
                 "30 +0.2/-0.1 of 9|4,5"});
}

void addValues(PmiCases& out) {
  const std::string size = "#60=DIMENSIONAL_SIZE(#11,'diameter');\n";
  const auto add = [&](const char* name, const std::string& records, const std::string& expected) {
    out.push_back({name, size + records, expected});
  };
  add("value in inches", shown("#70") + value(70, "nominal value", inch(0.3937007874)) + kPlusMinus,
      "ø10 +0.2/-0.1 of 0");
  add("nominal and limits",
      shown("#70,#73,#74") + value(70, "nominal value", mm(10)) +
          value(73, "lower limit", mm(9.9)) + value(74, "upper limit", mm(10.2)),
      "ø10 +0.2/-0.1 of 0");
  add("limits alone",
      shown("#73,#74") + value(73, "lower limit", mm(9.9)) + value(74, "upper limit", mm(10.1)),
      "ø10 ±0.1 of 0");
  add("limits by qualifier",
      "#75=TYPE_QUALIFIER('minimum');\n#76=TYPE_QUALIFIER('maximum');\n" + shown("#73,#74") +
          value(73, "", mm(9.9), "#75") + value(74, "", mm(10.1), "#76"),
      "ø10 ±0.1 of 0");
  add("a range of two",
      shown("#77") + "#77=VALUE_RANGE('',(#73,#74));\n" + value(73, "", mm(9.9)) +
          value(74, "", mm(10.1)),
      "ø10 ±0.1 of 0");
  add("a range of two in a list",
      shown("#77") + "#77=COMPOUND_REPRESENTATION_ITEM('',SET_REPRESENTATION_ITEM((#73,#74)));\n" +
          value(73, "", mm(9.9)) + value(74, "", mm(10.1)),
      "ø10 ±0.1 of 0");
  add("three unnamed values",
      shown("#70,#73,#74") + value(70, "", mm(10)) + value(73, "", mm(9.9)) +
          value(74, "", mm(10.1)),
      "told or not judged");
  for (const auto& [single, is] : {std::pair{"minimum", "MIN"}, {"maximum", "MAX"}})
    add(single,
        fmt::format("#75=TYPE_QUALIFIER('{}');\n", single) + shown("#70") +
            value(70, "nominal value", mm(10), "#75"),
        fmt::format("ø10 {} of 0", is));
  add("upper limit alone", shown("#74") + value(74, "upper limit", mm(10.1)), "ø10.1 MAX of 0");
  add("lower limit alone", shown("#74") + value(74, "lower limit", mm(9.9)), "ø9.9 MIN of 0");
  add("nominal and a limit",
      shown("#70,#74") + value(70, "nominal value", mm(10)) + value(74, "upper limit", mm(10.1)),
      "ø10 +0.1 MAX of 0");
  for (const char* exact : {"theoretical", "auxiliary"})
    add(exact,
        fmt::format("#75=TYPE_QUALIFIER('{}');\n", exact) + shown("#70") +
            value(70, "nominal value", mm(10), "#75"),
        "not a requirement");
  add("average",
      "#75=TYPE_QUALIFIER('average');\n" + shown("#70") +
          value(70, "nominal value", mm(10), "#75") + kPlusMinus,
      "told");
  add("a qualifier nobody knows",
      "#75=STANDARD_UNCERTAINTY(#43,'',.F.);\n" + shown("#70") +
          value(70, "nominal value", mm(10), "#75") + kPlusMinus,
      "told");
  add("format and precision",
      "#75=VALUE_FORMAT_TYPE_QUALIFIER('NR2 2.2');\n#76=PRECISION_QUALIFIER(2);\n" + shown("#70") +
          value(70, "nominal value", mm(10), "#75,#76") + kPlusMinus,
      "ø10 +0.2/-0.1 of 0");
  add("a direction", shown("#70,#910") + value(70, "nominal value", mm(10)) + kPlusMinus, "told");
  add("in two units alike",
      shown("#70,#73") + value(70, "nominal value", mm(10)) +
          value(73, "nominal value", inch(0.393701)) + kPlusMinus,
      "ø10 +0.2/-0.1 of 0");
  add("in two units unlike",
      shown("#70,#73") + value(70, "nominal value", mm(10)) +
          value(73, "nominal value", inch(0.4)) + kPlusMinus,
      "told");
}

void addLimits(PmiCases& out) {
  const std::string size = "#60=DIMENSIONAL_SIZE(#11,'diameter');\n";
  const auto add = [&](const char* name, const std::string& records, const std::string& expected) {
    out.push_back({name, size + records, expected});
  };
  add("fit",
      shown("#70") + value(70, "nominal value", mm(10)) +
          "#83=LIMITS_AND_FITS('H','hole','7','');\n#84=PLUS_MINUS_TOLERANCE(#83,#60);\n",
      "ø10 H7 +0.015/0 of 0");
  add("fit in one word",
      shown("#70") + value(70, "nominal value", mm(10)) +
          "#83=LIMITS_AND_FITS('H7','hole','','');\n#84=PLUS_MINUS_TOLERANCE("
          "#83,#60);\n",
      "told or ø10 H7 +0.015/0 of 0");
  add("fit that does not exist",
      shown("#70") + value(70, "nominal value", mm(10)) +
          "#83=LIMITS_AND_FITS('Q','hole','7','');\n#84=PLUS_MINUS_TOLERANCE(#83,#60);\n",
      "told");
  add("limits by class",
      shown("#70") + value(70, "nominal value", mm(10)) +
          "#83=TOLERANCE_CLASS('m');\n#84=PLUS_MINUS_TOLERANCE(#83,#60);\n",
      "told");
  add("limits twice",
      shown("#70") + value(70, "nominal value", mm(10)) + kPlusMinus +
          "#85=PLUS_MINUS_TOLERANCE(#83,#60);\n",
      "told");
  add("no limits", shown("#70") + value(70, "nominal value", mm(10)), "told");
  add("limits upside down",
      shown("#70") + value(70, "nominal value", mm(10)) +
          "#81=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(0.2),#1);\n"
          "#82=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(-0.1),#1);\n"
          "#83=TOLERANCE_VALUE(#81,#82);\n#84=PLUS_MINUS_TOLERANCE(#83,#60);\n",
      "told");
  add("limits in degrees", shown("#70") + value(70, "nominal value", mm(10)) + kPlusMinusAngle,
      "told");
}

void addDimensionModifiers(PmiCases& out) {
  struct Modifier {
    const char* text;
    const char* behind; // null: told
  };
  const Modifier all[]{{"envelope requirement", " E"},
                       {"two point size", ""},
                       {"least squares association criterion", " GG"},
                       {"maximum inscribed association criterion", " GX"},
                       {"minimum circumscribed association criterion", " GN"},
                       {"maximum size", " SX"},
                       {"minimum size", " SN"},
                       {"average size", " SA"},
                       {"median size", " SM"},
                       {"mid range size", " SD"},
                       {"range of sizes", " SR"},
                       {"circumference diameter", " CC"},
                       {"area diameter", " CA"},
                       {"volume diameter", nullptr},
                       {"local size defined by a sphere", nullptr},
                       {"controlled radius", nullptr},
                       {"square", nullptr},
                       {"statistical tolerance", nullptr},
                       {"continuous feature", nullptr},
                       {"free state condition", nullptr},
                       {"independency", nullptr},
                       {"any cross section", nullptr},
                       {"specific fixed cross section", nullptr},
                       {"any restricted portion of feature", nullptr},
                       {"between", nullptr},
                       {"united feature", nullptr},
                       {"6x", nullptr},
                       {"1x", ""}};
  for (const Modifier& m : all)
    out.push_back(
        {std::string("dimension modifier ") + m.text,
         "#60=DIMENSIONAL_SIZE(#11,'diameter');\n" + shown("#70,#73") +
             value(70, "nominal value", mm(10)) + kPlusMinus +
             fmt::format("#73=DESCRIPTIVE_REPRESENTATION_ITEM('dimensional note','{}');\n", m.text),
         m.behind ? fmt::format("ø10 +0.2/-0.1{} of 0", m.behind) : "told"});
  out.push_back({"six times, of six bores",
                 "#60=DIMENSIONAL_SIZE(#20,'diameter');\n" + shown("#70,#73") +
                     value(70, "nominal value", mm(8)) + kPlusMinus +
                     "#73=DESCRIPTIVE_REPRESENTATION_ITEM('dimensional note','6X');\n",
                 "ø8 +0.2/-0.1 of 10|11|12|13|14|15"});
}

} // namespace

void addDimensionCases(PmiCases& out) {
  addSizes(out);
  addLocations(out);
  addValues(out);
  addLimits(out);
  addDimensionModifiers(out);
}

} // namespace alder::test
