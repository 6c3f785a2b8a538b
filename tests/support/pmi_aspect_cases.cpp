#include "pmi_case_parts.h"

#include <algorithm>
#include <fmt/format.h>

namespace alder::test {

namespace {

// ---------------------------------------------------------------- faces of an aspect

void addAspects(PmiCases& out) {
  const auto flat = [&](const char* name, const std::string& aspect, const char* expected) {
    out.push_back({name, aspect + "#60=SURFACE_PROFILE_TOLERANCE('','',#41,#91);\n", expected});
  };
  const std::string both = "surface profile 0.1 of 1|8";
  const char* group = "#92=SHAPE_ASPECT_RELATIONSHIP('','',#91,#13);\n"
                      "#93=SHAPE_ASPECT_RELATIONSHIP('','',#91,#18);\n";
  for (const char* type : {"COMPOSITE_GROUP_SHAPE_ASPECT", "COMPOSITE_UNIT_SHAPE_ASPECT",
                           "COMPOSITE_SHAPE_ASPECT", "ALL_AROUND_SHAPE_ASPECT", "SHAPE_ASPECT"})
    flat(type, fmt::format("#91={}('','',#4,.T.);\n", type) + group, both.c_str());
  flat(
      "composite in a complex instance",
      std::string("#91=(COMPOSITE_GROUP_SHAPE_ASPECT()COMPOSITE_SHAPE_ASPECT()DATUM_FEATURE()SHAPE_"
                  "ASPECT('','',#4,.T.));\n") +
          group,
      both.c_str());
  for (const char* type : {"CONTINUOUS_SHAPE_ASPECT", "BETWEEN_SHAPE_ASPECT"})
    flat(type, fmt::format("#91={}('','',#4,.T.);\n", type) + group, "told");
  const char* aspect = "#91=SHAPE_ASPECT('','',#4,.T.);\n";
  flat("two usages",
       std::string(aspect) + "#92=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#91,#900,#502);\n"
                             "#93=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#91,#900,#509);\n",
       both.c_str());
  flat("identified items, one",
       std::string(aspect) + "#92=ITEM_IDENTIFIED_REPRESENTATION_USAGE('','',#91,#900,#502);\n",
       "surface profile 0.1 of 1");
  for (const char* items : {"(#502,#509)", "SET_REPRESENTATION_ITEM((#502,#509))",
                            "LIST_REPRESENTATION_ITEM((#502,#509))"})
    flat(items,
         std::string(aspect) +
             fmt::format("#92=ITEM_IDENTIFIED_REPRESENTATION_USAGE('','',#91,#900,{});\n", items),
         both.c_str());
  flat("property of old",
       std::string(aspect) + "#92=PROPERTY_DEFINITION('','',#91);\n"
                             "#93=SHAPE_REPRESENTATION('',(#502,#509),#900);\n"
                             "#94=SHAPE_DEFINITION_REPRESENTATION(#92,#93);\n",
       both.c_str());
  flat("affected plane",
       std::string(aspect) + "#92=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#91,#900,#502);\n"
                             "#93=SHAPE_ASPECT_RELATIONSHIP('affected plane association','',#91,"
                             "#18);\n",
       "told");
  flat("related to another without a word",
       std::string(aspect) + "#92=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#91,#900,#502);\n"
                             "#93=SHAPE_ASPECT_RELATIONSHIP('','',#91,#18);\n",
       "told");
  flat("a property such as a thread",
       std::string(aspect) + "#92=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#91,#900,#502);\n"
                             "#93=PROPERTY_DEFINITION('thread','',#91);\n",
       "told");
  flat("no face", aspect, "told");
  out.push_back({"tolerance on a size",
                 "#80=DIMENSIONAL_SIZE(#11,'diameter');\n" + systemOf(pmiKind("POSITION")) +
                     zoneOf(pmiKind("POSITION")) + "#60=POSITION_TOLERANCE('','',#41,#80,(#51));\n",
                 "position ø0.1 | A of 0"});
  out.push_back({"tolerance on a distance",
                 "#80=DIMENSIONAL_LOCATION('','',#13,#18);\n"
                 "#60=FLATNESS_TOLERANCE('','',#41,#80);\n",
                 "told"});
}

// ---------------------------------------------------------------- datums

// A position in #97.
PmiCase inDatum(const char* name, const std::string& datum, const char* expected) {
  return {name,
          datum +
              "#50=DATUM_REFERENCE_COMPARTMENT('','',#4,.F.,#97,$);\n"
              "#51=DATUM_SYSTEM('','',#4,.F.,(#50));\n"
              "#60=POSITION_TOLERANCE('','',#41,#11,(#51));\n" +
              zoneOf(pmiKind("POSITION")),
          expected};
}
const std::string kDatum = "#97=DATUM('','',#4,.F.,'D');\n";
const std::string kUsage = "#92=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#91,#900,#502);\n";

void addDatums(PmiCases& out) {
  const auto with = [&](const char* name, const std::string& records, const char* expected) {
    out.push_back(inDatum(name, records, expected));
  };
  const std::string &datum = kDatum, &usage = kUsage;
  with("datum feature first",
       datum + usage +
           "#91=DATUM_FEATURE('','',#4,.T.);\n"
           "#93=SHAPE_ASPECT_RELATIONSHIP('','',#91,#97);\n",
       "position ø0.1 | D of 0 (D 1)");
  with("datum first",
       datum + usage +
           "#91=DATUM_FEATURE('','',#4,.T.);\n"
           "#93=SHAPE_ASPECT_RELATIONSHIP('','',#97,#91);\n",
       "position ø0.1 | D of 0 (D 1)");
  with("faces on the datum itself",
       datum + "#92=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#97,#900,#502"
               ");\n",
       "position ø0.1 | D of 0 (D 1)");
  with("size with datum feature",
       datum + "#91=DIMENSIONAL_SIZE_WITH_DATUM_FEATURE('','',#4,.T.,#91,'diameter');\n"
               "#92=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#91,#900,#504);\n"
               "#93=SHAPE_ASPECT_RELATIONSHIP('','',#91,#97);\n",
       "told or position ø0.1 | D of 0 (D 3)");
  with("common datum of old",
       "#97=COMMON_DATUM('','',#4,.F.,'A-B');\n#93=SHAPE_ASPECT_RELATIONSHIP('','',#97,#23);\n"
       "#94=SHAPE_ASPECT_RELATIONSHIP('','',#97,#33);\n",
       "position ø0.1 | A-B of 0");
  with("datum that is not there", "", "told");
  with("letter twice on one part",
       "#97=DATUM('','',#4,.F.,'A');\n#91=DATUM_FEATURE('','',#4,.T.);\n" + usage +
           "#93=SHAPE_ASPECT_RELATIONSHIP('','',#91,#97);\n",
       "told");
  with("letter twice on two parts",
       "#97=DATUM('','',#904,.F.,'A');\n#904=PRODUCT_DEFINITION_SHAPE('','',#998);\n"
       "#91=DATUM_FEATURE('','',#904,.T.);\n" +
           usage + "#93=SHAPE_ASPECT_RELATIONSHIP('','',#91,#97);\n",
       "told and position ø0.1 | A(2) of 0 (A(2) 1)");
}

void addDatumTargets(PmiCases& out) {
  const auto with = [&](const char* name, const std::string& records, const char* expected) {
    out.push_back(inDatum(name, records, expected));
  };
  const auto target = [&](const char* description, const std::string& items) {
    return kDatum + fmt::format("#91=PLACED_DATUM_TARGET_FEATURE('','{}',#4,.T.,'1');\n"
                                "#93=SHAPE_ASPECT_RELATIONSHIP('','',#91,#97);\n"
                                "#94=PROPERTY_DEFINITION('','',#91);\n"
                                "#95=SHAPE_REPRESENTATION_WITH_PARAMETERS('',({}),#900);\n"
                                "#96=SHAPE_DEFINITION_REPRESENTATION(#94,#95);\n"
                                "#86=SHAPE_ASPECT('','',#4,.T.);\n"
                                "#87=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#86,#900,#502);\n"
                                "#88=FEATURE_FOR_DATUM_TARGET_RELATIONSHIP('','',#86,#91);\n",
                                description, items);
  };
  with("target point", target("point", "#910"), "position ø0.1 | D of 0 (D 1 at 3,4,30)");
  with("target line",
       target("line", "#910,#98") +
           "#98=MEASURE_REPRESENTATION_ITEM('target length',LENGTH_MEASURE("
           "4.),#1);\n",
       "position ø0.1 | D of 0 (D 1 from 1,4,30 to 5,4,30)");
  with("target circle",
       target("circle", "#910,#98") + "#98=MEASURE_REPRESENTATION_ITEM('target diameter',LENGTH_"
                                      "MEASURE(4.),#1);\n",
       "position ø0.1 | D of 0 (D 1 at 3,4,30 ø4)");
  with("target with a parameter nobody knows",
       target("point", "#910,#98") +
           "#98=MEASURE_REPRESENTATION_ITEM('target depth',LENGTH_MEASURE("
           "4.),#1);\n",
       "told");
  with("target with a parameter that cannot be read",
       target("circle", "#910,#98") + "#98=MEASURE_REPRESENTATION_ITEM('target diameter',LENGTH_"
                                      "MEASURE(4.),#998);\n",
       "told");
  with("target rectangle",
       target("rectangle", "#910,#98,#99") +
           "#98=MEASURE_REPRESENTATION_ITEM('target length',LENGTH_MEASURE(4.),#1);\n"
           "#99=MEASURE_REPRESENTATION_ITEM('target width',LENGTH_MEASURE(2.),#1);\n",
       "told");
  with("target area",
       kDatum + "#91=DATUM_TARGET('','area',#4,.T.,'1');\n" + kUsage +
           "#93=SHAPE_ASPECT_RELATIONSHIP('','',#91,#97);\n",
       "told");
}

} // namespace

void addAspectCases(PmiCases& out) {
  addAspects(out);
  addDatums(out);
  addDatumTargets(out);
}

} // namespace alder::test
