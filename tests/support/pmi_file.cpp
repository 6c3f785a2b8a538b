#include "pmi_cases.h"

#include "part/pmi/pmi_reader.h"
#include "part/recognise.h"
#include "requirement/from_pmi.h"
#include <algorithm>
#include <fmt/format.h>

namespace alder::test {
namespace {

Face faceOf(int id, SurfaceType type, const Vec3& point, const Vec3& direction, double diameter = 0,
            bool hole = false) {
  Face f;
  f.id = FaceId{id};
  f.ideal.type = type;
  f.ideal.point = point;
  f.ideal.direction = direction;
  f.ideal.diameter = diameter;
  f.ideal.length = 10;
  f.ideal.hole = hole;
  if (type == SurfaceType::Cone) f.ideal.half_angle = 0.5;
  f.area = 100;
  f.box.extend(point - Vec3::Constant(1));
  f.box.extend(point + Vec3::Constant(1));
  return f;
}

} // namespace

std::string pmiFile(const std::string& records) {
  std::string six;
  for (int i = 501; i <= 516; ++i)
    six += fmt::format("#{}=ADVANCED_FACE('',(),#914,.T.);\n", i);
  for (int i = 0; i < 6; ++i)
    six +=
        fmt::format("#{0}=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#20,#900,#{1});\n", 920 + i, 511 + i);
  return "ISO-10303-21;\nHEADER;\nFILE_SCHEMA(('AP242'));\nENDSEC;\nDATA;\n"
         "#1=(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.));\n"
         "#2=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(25.4),#1);\n"
         "#3=(CONVERSION_BASED_UNIT('INCH',#2)LENGTH_UNIT()NAMED_UNIT(*));\n"
         "#4=PRODUCT_DEFINITION_SHAPE('','',#999);\n"
         "#5=(NAMED_UNIT(*)PLANE_ANGLE_UNIT()SI_UNIT($,.RADIAN.));\n"
         "#6=PLANE_ANGLE_MEASURE_WITH_UNIT(PLANE_ANGLE_MEASURE(0.0174532925199433),#5);\n"
         "#7=(CONVERSION_BASED_UNIT('DEGREE',#6)NAMED_UNIT(*)PLANE_ANGLE_UNIT());\n"
         "#8=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(0.001),#3);\n"
         "#9=(CONVERSION_BASED_UNIT('MIL',#8)LENGTH_UNIT()NAMED_UNIT(*));\n"
         "#11=SHAPE_ASPECT('hole','',#4,.T.);\n"
         "#12=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#11,#900,#501);\n"
         "#13=SHAPE_ASPECT('face','',#4,.T.);\n"
         "#14=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#13,#900,#502);\n"
         "#15=SHAPE_ASPECT('slot','',#4,.T.);\n"
         "#901=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#15,#900,#505);\n"
         "#902=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#15,#900,#506);\n"
         "#16=SHAPE_ASPECT('ball','',#4,.T.);\n"
         "#905=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#16,#900,#508);\n"
         "#17=SHAPE_ASPECT('cone','',#4,.T.);\n"
         "#906=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#17,#900,#507);\n"
         "#18=SHAPE_ASPECT('far face','',#4,.T.);\n"
         "#907=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#18,#900,#509);\n"
         "#19=SHAPE_ASPECT('side','',#4,.T.);\n"
         "#908=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#19,#900,#503);\n"
         "#20=SHAPE_ASPECT('six','',#4,.T.);\n" +
         six +
         "#21=DATUM_FEATURE('','',#4,.T.);\n"
         "#22=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#21,#900,#503);\n"
         "#23=DATUM('','',#4,.F.,'A');\n"
         "#24=SHAPE_ASPECT_RELATIONSHIP('','',#21,#23);\n"
         "#31=DATUM_FEATURE('','',#4,.T.);\n"
         "#32=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#31,#900,#504);\n"
         "#33=DATUM('','',#4,.F.,'B');\n"
         "#34=SHAPE_ASPECT_RELATIONSHIP('','',#33,#31);\n" // the other way round, as some have it
         "#35=DATUM_FEATURE('','',#4,.T.);\n"
         "#903=GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#35,#900,#510);\n"
         "#36=DATUM('','',#4,.F.,'C');\n"
         "#37=SHAPE_ASPECT_RELATIONSHIP('','',#35,#36);\n"
         "#41=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(0.1),#1);\n"
         "#42=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(0.01),#3);\n"
         "#43=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(12.),#1);\n"
         "#44=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(2.),#9);\n"
         "#45=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(15.),#1);\n"
         "#900=(GEOMETRIC_REPRESENTATION_CONTEXT(3)GLOBAL_UNIT_ASSIGNED_CONTEXT((#1,#5))"
         "REPRESENTATION_CONTEXT('',''));\n"
         "#990=ADVANCED_BREP_SHAPE_REPRESENTATION('',(#991),#900);\n"
         "#991=MANIFOLD_SOLID_BREP('',#992);\n"
         "#992=CLOSED_SHELL('',(#501,#502,#503,#504,#505,#506,#507,#508,#509,#510,#511,#512,#513,"
         "#514,#515,#516));\n"
         "#993=SHAPE_DEFINITION_REPRESENTATION(#4,#990);\n"
         "#914=PLANE('',#910);\n"
         "#910=AXIS2_PLACEMENT_3D('',#911,#912,#913);\n"
         "#911=CARTESIAN_POINT('',(3.,4.,30.));\n"
         "#912=DIRECTION('',(0.,0.,1.));\n"
         "#913=DIRECTION('',(1.,0.,0.));\n" +
         records + "ENDSEC;\nEND-ISO-10303-21;\n";
}

PartModel pmiPart() {
  PartModel part;
  using S = SurfaceType;
  const Vec3 left = Vec3::UnitX(), up = Vec3::UnitZ();
  const auto add = [&](S type, const Vec3& point, const Vec3& direction, double diameter = 0,
                       bool hole = false) {
    part.faces.push_back(
        faceOf(static_cast<int>(part.faces.size()), type, point, direction, diameter, hole));
  };
  add(S::Cylinder, {10, 10, 20}, up, 10, true);
  add(S::Plane, {0, 0, 30}, up);
  add(S::Plane, {-50, 0, 10}, -left);
  add(S::Cylinder, {-20, 10, 20}, up, 20);
  add(S::Plane, {0, 17, 25}, Vec3::UnitY());
  add(S::Plane, {0, 23, 25}, -Vec3::UnitY());
  add(S::Cone, {30, 30, 20}, up, 5, true);
  add(S::Sphere, {30, -30, 30}, up, 8, true);
  add(S::Plane, {0, 0, 0}, -up);
  add(S::Plane, {0, -10, 15}, -Vec3::UnitY());
  for (int i = 0; i < 6; ++i)
    add(S::Cylinder, {40, -25.0 + 10 * i, 20}, up, 8, true);
  part.surfaces = recogniseSurfaces(part);
  return part;
}

std::vector<FaceId> pmiFacesOf(int entity) {
  return entity >= 501 && entity <= 516 ? std::vector<FaceId>{FaceId{entity - 501}}
                                        : std::vector<FaceId>{};
}

Result<PartModel> pmiPartOf(const std::string& file) {
  const PlainStep plain = plainStep(file);
  const auto text = StepText::parse(plain.bytes);
  if (!text) return pass(text.error());
  PartModel part = pmiPart();
  part.bytes = file;
  part.schema = text->schema();
  for (Face& face : part.faces)
    face.entity = 501 + face.id.value;
  part.pmi = readPmi(*text, pmiFacesOf, part.notes);
  return part;
}

bool PmiAnswer::told(EntityNumber entity) const {
  return std::any_of(notes.begin(), notes.end(), [&](const Note& n) {
    return std::find(n.on.begin(), n.on.end(), entity) != n.on.end();
  });
}

namespace {

std::string line(const Specification& spec, const Requirement& r) {
  std::string text = describe(spec, r);
  if (r.association == AssociateBy::Tangent) {
    const auto at = text.find(" | ");
    text.insert(std::min(at, text.size()), " tangent");
  }
  text += " of ";
  for (std::size_t i = 0; i < r.features.size(); ++i) {
    if (i > 0) text += "|";
    const auto& faces = spec.feature(r.features[i]).faces;
    // Faces of one surface are joined by commas.
    for (std::size_t k = 0; k < faces.size(); ++k)
      text += (k ? "," : "") + std::to_string(faces[k].value);
  }
  if (r.upper_segment.valid())
    text += fmt::format(" below {}", spec.requirement(r.upper_segment).entity);
  for (const DatumReference& d : r.datums)
    for (const std::string& letter : d.letters) {
      if (letter == "A" || letter == "B" || letter == "C") continue;
      const Datum* datum = spec.datum(letter);
      text += " (" + letter;
      for (FeatureId f : datum ? datum->features : std::vector<FeatureId>{})
        for (FaceId face : spec.feature(f).faces)
          text += " " + std::to_string(face.value);
      for (const DatumTarget& t : datum ? datum->targets : std::vector<DatumTarget>{}) {
        const auto at = [](const Vec3& p) {
          return fmt::format("{:g},{:g},{:g}", p.x(), p.y(), p.z());
        };
        text += t.to ? " from " + at(t.point) + " to " + at(*t.to) : " at " + at(t.point);
        if (t.diameter > 0) text += fmt::format(" ø{:g}", t.diameter);
      }
      text += ")";
    }
  return text;
}

} // namespace

PmiAnswer pmiAnswer(const std::string& file) {
  PmiAnswer answer;
  const PlainStep plain = plainStep(file);
  const auto text = StepText::parse(plain.bytes);
  if (!text) {
    answer.notes.push_back({0, text.error().message});
    return answer;
  }
  PartModel part = pmiPart();
  part.pmi = readPmi(*text, pmiFacesOf, answer.notes);
  const Specification spec = specificationFromPmi(part, answer.notes);
  for (const Requirement& r : spec.requirements)
    answer.requirements[r.entity] = line(spec, r);
  return answer;
}

} // namespace alder::test
