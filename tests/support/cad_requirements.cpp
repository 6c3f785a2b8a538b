#include "cad_requirements.h"

#include "base/units.h"
#include "requirement/limits.h"
#include <Interface_Static.hxx>
#include <STEPCAFControl_Reader.hxx>
#include <Standard_Failure.hxx>
#include <TCollection_HAsciiString.hxx>
#include <TDF_LabelSequence.hxx>
#include <TDocStd_Document.hxx>
#include <XCAFDimTolObjects_DatumObject.hxx>
#include <XCAFDimTolObjects_DimensionObject.hxx>
#include <XCAFDimTolObjects_GeomToleranceObject.hxx>
#include <XCAFDoc_Datum.hxx>
#include <XCAFDoc_DimTolTool.hxx>
#include <XCAFDoc_Dimension.hxx>
#include <XCAFDoc_DocumentTool.hxx>
#include <XCAFDoc_GeomTolerance.hxx>
#include <XCAFDoc_View.hxx>
#include <XCAFDoc_ViewTool.hxx>
#include <XCAFView_Object.hxx>
#include <algorithm>
#include <fmt/format.h>
#include <map>
#include <set>
#include <sstream>

namespace alder::test {
namespace {

using K = Characteristic;

std::string figure(double v) {
  return fmt::format("{:.6g}", std::abs(v) < 1e-9 ? 0.0 : v);
}

std::string kindOf(XCAFDimTolObjects_GeomToleranceType type) {
  static const std::map<int, K> kKinds{
      {XCAFDimTolObjects_GeomToleranceType_Angularity, K::Angularity},
      {XCAFDimTolObjects_GeomToleranceType_CircularRunout, K::CircularRunout},
      {XCAFDimTolObjects_GeomToleranceType_CircularityOrRoundness, K::Roundness},
      {XCAFDimTolObjects_GeomToleranceType_Coaxiality, K::Coaxiality},
      {XCAFDimTolObjects_GeomToleranceType_Cylindricity, K::Cylindricity},
      {XCAFDimTolObjects_GeomToleranceType_Flatness, K::Flatness},
      {XCAFDimTolObjects_GeomToleranceType_Parallelism, K::Parallelism},
      {XCAFDimTolObjects_GeomToleranceType_Perpendicularity, K::Perpendicularity},
      {XCAFDimTolObjects_GeomToleranceType_Position, K::Position},
      {XCAFDimTolObjects_GeomToleranceType_ProfileOfLine, K::LineProfile},
      {XCAFDimTolObjects_GeomToleranceType_ProfileOfSurface, K::SurfaceProfile},
      {XCAFDimTolObjects_GeomToleranceType_Straightness, K::Straightness},
      {XCAFDimTolObjects_GeomToleranceType_Symmetry, K::Symmetry},
      {XCAFDimTolObjects_GeomToleranceType_TotalRunout, K::TotalRunout}};
  const auto found = kKinds.find(type);
  return found == kKinds.end() ? "?" : std::string(name(found->second));
}

std::string modifierOf(XCAFDimTolObjects_GeomToleranceModif m) {
  switch (m) {
  case XCAFDimTolObjects_GeomToleranceModif_Reciprocity_Requirement:
    return "R";
  case XCAFDimTolObjects_GeomToleranceModif_Separate_Requirement:
    return "SEP";
  case XCAFDimTolObjects_GeomToleranceModif_Tangent_Plane:
    return "T";
  case XCAFDimTolObjects_GeomToleranceModif_Maximum_Material_Requirement:
    return "M";
  case XCAFDimTolObjects_GeomToleranceModif_Least_Material_Requirement:
    return "L";
  default:
    return fmt::format("modifier{}", static_cast<int>(m));
  }
}

std::string joined(const std::set<std::string>& all) {
  std::string text;
  for (const std::string& each : all)
    text += " " + each;
  return text;
}

// By the place in the reference, letters of a common datum in order.
std::string datumsOf(const XCAFDoc_DimTolTool& tool, const TDF_Label& tolerance) {
  TDF_LabelSequence labels;
  tool.GetDatumWithObjectOfTolerLabels(tolerance, labels);
  std::map<int, std::set<std::string>> places;
  std::map<int, std::set<std::string>> modifiers;
  for (int i = 1; i <= labels.Length(); ++i) {
    Handle(XCAFDoc_Datum) datum;
    if (!labels.Value(i).FindAttribute(XCAFDoc_Datum::GetID(), datum)) continue;
    const auto object = datum->GetObject();
    const int place = object->GetPosition();
    places[place].insert(object->GetName()->ToCString());
    const auto all = object->GetModifiers();
    for (int k = 1; k <= all.Length(); ++k) {
      const auto m = all.Value(k);
      const int first = XCAFDimTolObjects_DatumSingleModif_DegreeOfFreedomConstraintU;
      if (m == XCAFDimTolObjects_DatumSingleModif_MaximumMaterialRequirement)
        modifiers[place].insert("M");
      else if (m == XCAFDimTolObjects_DatumSingleModif_LeastMaterialRequirement)
        modifiers[place].insert("L");
      else if (m >= first && m < first + 6)
        modifiers[place].insert(std::string(1, "uvwxyz"[m - first]));
      else
        modifiers[place].insert(fmt::format("modifier{}", static_cast<int>(m)));
    }
  }
  std::string text;
  for (const auto& [place, letters] : places)
    text += (text.empty() ? " of" : " |") + joined(letters) + joined(modifiers[place]);
  return text;
}

std::string toleranceLine(const XCAFDoc_DimTolTool& tool, const TDF_Label& label) {
  Handle(XCAFDoc_GeomTolerance) attribute;
  if (!label.FindAttribute(XCAFDoc_GeomTolerance::GetID(), attribute)) return {};
  const auto o = attribute->GetObject();
  std::string text = kindOf(o->GetType()) + " " + figure(o->GetValue());
  if (o->GetTypeOfValue() == XCAFDimTolObjects_GeomToleranceTypeValue_Diameter)
    text += " diametral";
  if (o->GetTypeOfValue() == XCAFDimTolObjects_GeomToleranceTypeValue_SphericalDiameter)
    text += " spherical";
  std::set<std::string> modifiers;
  const auto all = o->GetModifiers();
  for (int i = 1; i <= all.Length(); ++i)
    modifiers.insert(modifierOf(all.Value(i)));
  if (o->GetMaterialRequirementModifier() == XCAFDimTolObjects_GeomToleranceMatReqModif_M)
    modifiers.insert("M");
  if (o->GetMaterialRequirementModifier() == XCAFDimTolObjects_GeomToleranceMatReqModif_L)
    modifiers.insert("L");
  text += joined(modifiers);
  if (o->GetZoneModifier() == XCAFDimTolObjects_GeomToleranceZoneModif_Projected)
    text += " projected " + figure(o->GetValueOfZoneModifier());
  return text + datumsOf(tool, label);
}

std::string dimensionLine(const TDF_Label& label) {
  Handle(XCAFDoc_Dimension) attribute;
  if (!label.FindAttribute(XCAFDoc_Dimension::GetID(), attribute)) return {};
  const auto o = attribute->GetObject();
  std::string text;
  switch (o->GetType()) {
  case XCAFDimTolObjects_DimensionType_Size_Diameter:
    text = "diameter";
    break;
  case XCAFDimTolObjects_DimensionType_Size_SphericalDiameter:
    text = "spherical diameter";
    break;
  case XCAFDimTolObjects_DimensionType_Size_Radius:
    text = "radius";
    break;
  case XCAFDimTolObjects_DimensionType_Size_SphericalRadius:
    text = "spherical radius";
    break;
  case XCAFDimTolObjects_DimensionType_Size_Thickness:
    text = "thickness";
    break;
  case XCAFDimTolObjects_DimensionType_Size_Angular:
  case XCAFDimTolObjects_DimensionType_Location_Angular:
    text = "angle";
    break;
  case XCAFDimTolObjects_DimensionType_Location_LinearDistance:
    text = "distance";
    break;
  default:
    text = fmt::format("type{}", static_cast<int>(o->GetType()));
  }
  text += " " + figure(o->GetValue());
  bool hole = false;
  XCAFDimTolObjects_DimensionFormVariance form;
  XCAFDimTolObjects_DimensionGrade grade;
  if (o->IsDimWithPlusMinusTolerance())
    text += " " + figure(std::abs(o->GetLowerTolValue())) + "/" + figure(o->GetUpperTolValue());
  else if (o->GetClassOfTolerance(hole, form, grade))
    text += hole ? " fit of a hole" : " fit of a shaft";
  return text;
}

} // namespace

std::vector<std::string> cadRequirements(const std::string& step) {
  Handle(TDocStd_Document) document = new TDocStd_Document("BinXCAF");
  STEPCAFControl_Reader reader;
  reader.SetGDTMode(true);
  std::istringstream in(step);
  if (reader.ChangeReader().ReadStream("checked", in) != IFSelect_RetDone ||
      !reader.Transfer(document))
    return {"not read"};
  const auto tool = XCAFDoc_DocumentTool::DimTolTool(document->Main());
  TDF_LabelSequence dimensions, tolerances;
  tool->GetDimensionLabels(dimensions);
  tool->GetGeomToleranceLabels(tolerances);
  std::vector<std::string> lines;
  const auto shapes = [&](const TDF_Label& label) {
    TDF_LabelSequence first, second;
    tool->GetRefShapeLabel(label, first, second);
    return fmt::format(" on {}+{}", first.Length(), second.Length());
  };
  for (int i = 1; i <= dimensions.Length(); ++i)
    lines.push_back(dimensionLine(dimensions.Value(i)) + shapes(dimensions.Value(i)));
  for (int i = 1; i <= tolerances.Length(); ++i)
    lines.push_back(toleranceLine(*tool, tolerances.Value(i)) + shapes(tolerances.Value(i)));
  std::sort(lines.begin(), lines.end());
  return lines;
}

namespace {

std::string dimensionWords(const Specification& spec, const Requirement& r, double mm_per_unit) {
  const bool angle = r.kind == K::Angle;
  const auto& ideal = spec.feature(r.features.front()).ideal;
  std::string text = angle ? "angle" : r.kind == K::Distance ? "distance" : "";
  if (r.kind == K::Size) {
    text = ideal.type == SurfaceType::Slot ? "thickness" : r.radius ? "radius" : "diameter";
    if (ideal.type == SurfaceType::Sphere) text = "spherical " + text;
  }
  const double per = angle ? 180 / kPi : 1;
  text += " " + figure(angle ? r.nominal : r.nominal / mm_per_unit);
  if (!r.fit.empty())
    text += r.fit[0] < 'a' ? " fit of a hole" : " fit of a shaft";
  else if (!hasSingleLimit(r)) // of which that library reads the figure alone
    text += " " + figure(std::abs(r.lower - r.nominal) * per) + "/" +
            figure((r.upper - r.nominal) * per);
  return text;
}

std::string toleranceWords(const Requirement& r) {
  std::string text = std::string(name(r.kind)) + " " + figure(r.tolerance);
  if (r.zone == Zone::Diametral) text += " diametral";
  if (r.zone == Zone::Spherical) text += " spherical";
  std::set<std::string> modifiers;
  if (r.material == MaterialModifier::Maximum) modifiers.insert("M");
  if (r.material == MaterialModifier::Least) modifiers.insert("L");
  if (r.reciprocity) modifiers.insert("R");
  if (r.separate) modifiers.insert("SEP");
  if (r.association == AssociateBy::Tangent) modifiers.insert("T");
  text += joined(modifiers);
  if (r.projected > 0) text += " projected " + figure(r.projected);
  bool first = true;
  for (const DatumReference& d : r.datums) {
    std::set<std::string> own;
    if (d.material == MaterialModifier::Maximum) own.insert("M");
    if (d.material == MaterialModifier::Least) own.insert("L");
    for (const char c : d.may_fix)
      own.insert(std::string(1, c));
    text += (first ? " of" : " |") + joined({d.letters.begin(), d.letters.end()}) + joined(own);
    first = false;
  }
  return text;
}

} // namespace

std::vector<std::string> cadWords(const Specification& spec, double mm_per_unit) {
  std::vector<std::string> lines;
  for (const Requirement& r : spec.requirements) {
    const bool modified = r.material != MaterialModifier::None || r.separate;
    if (r.unit_length > 0 || (r.unequal != 0 && (r.datums.empty() || modified))) continue;
    const bool two = (r.kind == K::Distance || r.kind == K::Angle) && r.features.size() == 2;
    std::size_t first = 0, second = 0;
    for (std::size_t i = 0; i < r.features.size(); ++i)
      (two && i > 0 ? second : first) += spec.feature(r.features[i]).faces.size();
    lines.push_back(
        (isDimension(r.kind) ? dimensionWords(spec, r, mm_per_unit) : toleranceWords(r)) +
        fmt::format(" on {}+{}", first, second));
  }
  std::sort(lines.begin(), lines.end());
  return lines;
}

std::vector<CadView> cadViews(const std::string& step) {
  Handle(TDocStd_Document) document = new TDocStd_Document("BinXCAF");
  STEPCAFControl_Reader reader;
  reader.SetGDTMode(true);
  reader.SetViewMode(true);
  std::istringstream in(step);
  if (reader.ChangeReader().ReadStream("checked", in) != IFSelect_RetDone ||
      !reader.Transfer(document))
    return {};
  TDF_LabelSequence labels;
  XCAFDoc_DocumentTool::ViewTool(document->Main())->GetViewLabels(labels);
  std::vector<CadView> views;
  for (int i = 1; i <= labels.Length(); ++i) {
    Handle(XCAFDoc_View) attribute;
    if (!labels.Value(i).FindAttribute(XCAFDoc_View::GetID(), attribute)) continue;
    const auto o = attribute->GetObject();
    const gp_Dir z = o->ViewDirection(), y = o->UpDirection();
    views.push_back({o->Name()->ToCString(),
                     {z.X(), z.Y(), z.Z()},
                     {y.X(), y.Y(), y.Z()},
                     o->WindowHorizontalSize(),
                     o->WindowVerticalSize()});
  }
  return views;
}

} // namespace alder::test
