#include "pmi_writer.h"

#include "part/step_units.h"
#include <Interface_Static.hxx>
#include <Message.hxx>
#include <Message_Messenger.hxx>
#include <Message_Printer.hxx>
#include <STEPCAFControl_Controller.hxx>
#include <STEPConstruct.hxx>
#include <STEPControl_Writer.hxx>
#include <StepData_StepModel.hxx>
#include <StepShape_AdvancedFace.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <Transfer_FinderProcess.hxx>
#include <XSControl_TransferWriter.hxx>
#include <XSControl_WorkSession.hxx>
#include <array>
#include <filesystem>
#include <fstream>
#include <sstream>
#include <unistd.h>

namespace alder::demo {
namespace {

std::string list(const std::vector<int>& ids) {
  std::string out = "(";
  for (std::size_t i = 0; i < ids.size(); ++i)
    out += (i ? ",#" : "#") + std::to_string(ids[i]);
  return out + ")";
}

std::string real(double v) {
  auto text = fmt::format("{:.12g}", v);
  if (text.find_first_of(".e") == std::string::npos) text += '.';
  if (const auto e = text.find('e'); e != std::string::npos) {
    text[e] = 'E';
    if (text.find('.') == std::string::npos) text.insert(e, ".");
  }
  return text;
}

constexpr std::array<const char*, 15> kEntities{
    "STRAIGHTNESS_TOLERANCE", "FLATNESS_TOLERANCE",         "ROUNDNESS_TOLERANCE",
    "CYLINDRICITY_TOLERANCE", "LINE_PROFILE_TOLERANCE",     "SURFACE_PROFILE_TOLERANCE",
    "PARALLELISM_TOLERANCE",  "PERPENDICULARITY_TOLERANCE", "ANGULARITY_TOLERANCE",
    "POSITION_TOLERANCE",     "COAXIALITY_TOLERANCE",       "CONCENTRICITY_TOLERANCE",
    "SYMMETRY_TOLERANCE",     "CIRCULAR_RUNOUT_TOLERANCE",  "TOTAL_RUNOUT_TOLERANCE"};

// The library writes through a file name; a private folder keeps runs apart.
Result<std::string> written(STEPControl_Writer& writer) {
  const auto path = std::filesystem::temp_directory_path() /
                    ("alderpoint-step-" + std::to_string(::getpid()) + ".step");
  const auto status = writer.Write(path.c_str());
  std::ifstream in(path, std::ios::binary);
  std::ostringstream bytes;
  bytes << in.rdbuf();
  std::error_code ignored;
  std::filesystem::remove(path, ignored);
  if (status != IFSelect_RetDone) return fail("the STEP writer failed");
  return bytes.str();
}

} // namespace

Result<PmiWriter> PmiWriter::begin(const TopoDS_Shape& shape, const std::string& product,
                                   const std::string& unit) {
  Message::DefaultMessenger()->ChangePrinters().Clear();
  STEPCAFControl_Controller::Init();
  Interface_Static::SetCVal("write.step.schema", "AP242DIS");
  Interface_Static::SetCVal("write.step.unit", unit.c_str());
  Interface_Static::SetCVal("write.step.product.name", product.c_str());
  STEPControl_Writer writer;
  if (writer.Transfer(shape, STEPControl_AsIs) != IFSelect_RetDone)
    return fail("the shape cannot be written as STEP");
  PmiWriter result;
  const auto process = writer.WS()->TransferWriter()->FinderProcess();
  const auto model = writer.Model();
  auto bytes = written(writer);
  if (!bytes) return pass(bytes.error());
  result.text_ = std::move(*bytes);
  // The library numbers its products; the name on the drawing has no number.
  for (std::size_t at = 0; (at = result.text_.find(product + " ", at)) != std::string::npos;) {
    at += product.size();
    const auto end = result.text_.find_first_not_of("0123456789", at + 1);
    if (end != std::string::npos && end > at + 1 && result.text_[end] == '\'')
      result.text_.erase(at, end - at);
  }
  for (TopExp_Explorer f(shape, TopAbs_FACE); f.More(); f.Next()) {
    const auto item = STEPConstruct::FindEntity(process, f.Current());
    if (!item.IsNull())
      result.entities_.emplace_back(TopoDS::Face(f.Current()), model->Number(item));
  }
  auto text = StepText::parse(result.text_);
  if (!text) return pass(text.error());
  result.next_ = model->NbEntities() + 1000;
  result.shape_ = text->ofType("PRODUCT_DEFINITION_SHAPE").front();
  result.representation_ = text->ofType("ADVANCED_BREP_SHAPE_REPRESENTATION").front();
  result.context_ = text->instance(result.representation_)->records[0].values.back().reference;
  const auto* units = text->instance(result.context_)->find("GLOBAL_UNIT_ASSIGNED_CONTEXT");
  for (const auto& v : units->values.front().items) {
    const auto measure = readUnit(*text, v.reference);
    if (!measure) continue;
    (measure->angle ? result.angle_unit_ : result.length_unit_) = v.reference;
    if (!measure->angle) result.mm_per_unit_ = measure->value;
  }
  return result;
}

int PmiWriter::add(const std::string& record) {
  added_ += "#" + std::to_string(next_) + "=" + record + ";\n";
  return next_++;
}

int PmiWriter::faceEntity(const TopoDS_Face& face) const {
  for (const auto& [shape, id] : entities_)
    if (shape.IsSame(face)) return id;
  return 0;
}

int PmiWriter::aspect(const std::string& name, const FaceShapes& faces, const std::string& type) {
  const auto head = fmt::format("('{}','',#{},.T.", name, shape_);
  const auto use = [&](int owner, const TopoDS_Face& face) {
    add(fmt::format("GEOMETRIC_ITEM_SPECIFIC_USAGE('','',#{},#{},#{})", owner, representation_,
                    faceEntity(face)));
  };
  if (faces.size() == 1) {
    const int id = add(type + head + ")");
    use(id, faces.front());
    return id;
  }
  const int id = type == "SHAPE_ASPECT"
                     ? add("COMPOSITE_GROUP_SHAPE_ASPECT" + head + ")")
                     : add("(COMPOSITE_GROUP_SHAPE_ASPECT()COMPOSITE_SHAPE_ASPECT()" + type +
                           "()SHAPE_ASPECT" + head + "))");
  for (const auto& face : faces) {
    const int part = add("SHAPE_ASPECT" + head + ")");
    use(part, face);
    add(fmt::format("SHAPE_ASPECT_RELATIONSHIP('','',#{},#{})", id, part));
  }
  return id;
}

std::string PmiWriter::lengthMeasure(double mm) {
  return "#" + std::to_string(add(fmt::format("LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE({}),#{})",
                                              real(mm / mm_per_unit_), length_unit_)));
}

std::string PmiWriter::measureItem(double value, bool angle, const std::string& name,
                                   int decimals) {
  const int format = add(fmt::format("VALUE_FORMAT_TYPE_QUALIFIER('NR2 2.{}')", decimals));
  const auto measure =
      angle ? fmt::format("PLANE_ANGLE_MEASURE({}),#{}", real(value), angle_unit_)
            : fmt::format("LENGTH_MEASURE({}),#{}", real(value / mm_per_unit_), length_unit_);
  return "#" + std::to_string(add(
                   fmt::format("({}()MEASURE_REPRESENTATION_ITEM()MEASURE_WITH_UNIT({})"
                               "QUALIFIED_REPRESENTATION_ITEM((#{}))REPRESENTATION_ITEM('{}'))",
                               angle ? "PLANE_ANGLE_MEASURE_WITH_UNIT" : "LENGTH_MEASURE_WITH_UNIT",
                               measure, format, name)));
}

void PmiWriter::datum(const std::string& letter, const FaceShapes& faces) {
  const int feature = aspect("datum feature " + letter, faces, "DATUM_FEATURE");
  const int id = add(fmt::format("DATUM('','',#{},.F.,'{}')", shape_, letter));
  add(fmt::format("SHAPE_ASPECT_RELATIONSHIP('','',#{},#{})", feature, id));
  datums_.emplace_back(letter, id);
}

void PmiWriter::characteristic(int dimension, double nominal, bool angle, int decimals) {
  const auto item = measureItem(nominal, angle, "nominal value", decimals);
  const int representation =
      add(fmt::format("SHAPE_DIMENSION_REPRESENTATION('',({}),#{})", item, context_));
  add(fmt::format("DIMENSIONAL_CHARACTERISTIC_REPRESENTATION(#{},#{})", dimension, representation));
}

void PmiWriter::limits(int dimension, double lower, double upper, bool angle) {
  const auto measure = [&](double v) {
    return angle ? "#" + std::to_string(add(fmt::format(
                             "PLANE_ANGLE_MEASURE_WITH_UNIT(PLANE_ANGLE_MEASURE({}),#{})", real(v),
                             angle_unit_)))
                 : lengthMeasure(v);
  };
  const auto low = measure(lower), high = measure(upper);
  const int range = add(fmt::format("TOLERANCE_VALUE({},{})", low, high));
  add(fmt::format("PLUS_MINUS_TOLERANCE(#{},#{})", range, dimension));
}

void PmiWriter::size(const SizeSpec& spec) {
  const bool angle = spec.name == "angle";
  const int of = aspect(spec.name, spec.faces);
  const int id = angle ? add(fmt::format("ANGULAR_SIZE(#{},'{}',.SMALL.)", of, spec.name))
                       : add(fmt::format("DIMENSIONAL_SIZE(#{},'{}')", of, spec.name));
  characteristic(id, spec.nominal, angle, spec.decimals);
  if (!spec.fit.empty()) {
    const bool hole = spec.fit[0] >= 'A' && spec.fit[0] <= 'Z';
    const int range =
        add(fmt::format("LIMITS_AND_FITS('{}','{}','{}','ISO 286-2')", spec.fit.substr(0, 1),
                        hole ? "hole" : "shaft", spec.fit.substr(1)));
    add(fmt::format("PLUS_MINUS_TOLERANCE(#{},#{})", range, id));
  } else {
    limits(id, spec.lower, spec.upper, angle);
  }
}

void PmiWriter::location(const std::string& type, const FaceShapes& from, const FaceShapes& to,
                         double nominal, double lower, double upper, bool angle) {
  const int a = aspect("from", from), b = aspect("to", to);
  const int id = add(fmt::format("{}('{}','',#{},#{}{})", type, angle ? "angle" : "linear distance",
                                 a, b, angle ? ",.SMALL." : ""));
  characteristic(id, nominal, angle, 2);
  limits(id, lower, upper, angle);
}

void PmiWriter::distance(const FaceShapes& from, const FaceShapes& to, double nominal, double lower,
                         double upper) {
  location("DIMENSIONAL_LOCATION", from, to, nominal, lower, upper, false);
}

void PmiWriter::angle(const FaceShapes& from, const FaceShapes& to, double nominal, double lower,
                      double upper) {
  location("ANGULAR_LOCATION", from, to, nominal, lower, upper, true);
}

int PmiWriter::datumSystem(const std::vector<DatumUse>& uses) {
  std::vector<int> compartments;
  const auto find = [&](const std::string& letter) {
    for (const auto& [l, id] : datums_)
      if (l == letter) return id;
    return 0;
  };
  for (const DatumUse& use : uses) {
    std::string base;
    if (const auto dash = use.letters.find('-'); dash == std::string::npos) {
      base = "#" + std::to_string(find(use.letters));
    } else {
      std::vector<int> elements;
      for (const auto& letter : {use.letters.substr(0, dash), use.letters.substr(dash + 1)})
        elements.push_back(
            add(fmt::format("DATUM_REFERENCE_ELEMENT('','',#{},.F.,#{},$)", shape_, find(letter))));
      base = "COMMON_DATUM_LIST(" + list(elements) + ")";
    }
    const char* modifiers =
        use.material == MaterialModifier::Maximum
            ? "(SIMPLE_DATUM_REFERENCE_MODIFIER(.MAXIMUM_MATERIAL_REQUIREMENT.))"
        : use.material == MaterialModifier::Least
            ? "(SIMPLE_DATUM_REFERENCE_MODIFIER(.LEAST_MATERIAL_REQUIREMENT.))"
            : "$";
    compartments.push_back(add(
        fmt::format("DATUM_REFERENCE_COMPARTMENT('','',#{},.F.,{},{})", shape_, base, modifiers)));
  }
  return add(fmt::format("DATUM_SYSTEM('','',#{},.F.,{})", shape_, list(compartments)));
}

int PmiWriter::tolerance(const ToleranceSpec& spec) {
  const std::string type = kEntities[static_cast<std::size_t>(spec.type)];
  const int of = aspect("", spec.faces);
  const auto magnitude = lengthMeasure(spec.magnitude);
  const auto base = fmt::format("('','',{},#{}", magnitude, of);
  const int system = spec.datums.empty() ? 0 : datumSystem(spec.datums);
  int id = 0;
  if (spec.material == MaterialModifier::None && !spec.unequal) {
    id = add(type + base + (system ? ",(#" + std::to_string(system) + "))" : ")"));
  } else {
    std::string record = "(GEOMETRIC_TOLERANCE" + base + ")";
    if (system) record += fmt::format("GEOMETRIC_TOLERANCE_WITH_DATUM_REFERENCE((#{}))", system);
    if (spec.material != MaterialModifier::None)
      record +=
          fmt::format("GEOMETRIC_TOLERANCE_WITH_MODIFIERS((.{}.))",
                      spec.material == MaterialModifier::Maximum ? "MAXIMUM_MATERIAL_REQUIREMENT"
                                                                 : "LEAST_MATERIAL_REQUIREMENT");
    record += type + "()";
    if (spec.unequal)
      record +=
          fmt::format("UNEQUALLY_DISPOSED_GEOMETRIC_TOLERANCE({})", lengthMeasure(*spec.unequal));
    id = add(record + ")");
  }
  if (spec.zone != ZoneForm::Unstated) {
    const char* form = spec.zone == ZoneForm::Spherical     ? "within a sphere"
                       : spec.zone == ZoneForm::Cylindrical ? "cylindrical or circular"
                                                            : "parallel planes";
    const int form_id = add(fmt::format("TOLERANCE_ZONE_FORM('{}')", form));
    add(fmt::format("TOLERANCE_ZONE('','',#{},.F.,(#{}),#{})", shape_, id, form_id));
  }
  if (spec.upper_segment)
    add(fmt::format("GEOMETRIC_TOLERANCE_RELATIONSHIP('composite','',#{},#{})", spec.upper_segment,
                    id));
  return id;
}

std::string PmiWriter::text() const {
  std::string all = text_;
  all.insert(all.rfind("ENDSEC;"), added_);
  return all;
}

} // namespace alder::demo
