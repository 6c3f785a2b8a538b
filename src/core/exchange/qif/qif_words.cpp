#include "exchange/qif/qif_words.h"

#include <algorithm>
#include <array>

namespace alder::qif {
namespace {

using K = Characteristic;

constexpr std::array<std::pair<FeatureKind, std::string_view>, 10> kFeatures{
    {{FeatureKind::Plane, "Plane"},
     {FeatureKind::Cylinder, "Cylinder"},
     {FeatureKind::Cone, "Cone"},
     {FeatureKind::Sphere, "Sphere"},
     {FeatureKind::Slot, "OppositeParallelPlanes"},
     {FeatureKind::Torus, "ToroidalSegment"},
     {FeatureKind::Freeform, "OtherShape"},
     {FeatureKind::Circle, "Circle"},
     {FeatureKind::Line, "Line"},
     {FeatureKind::Point, "Point"}}};

// The first of a kind that fits is written; what stands behind the line is read only.
const std::array<Stem, 35>& stems() {
  static const std::array<Stem, 35> kStems{{{"Straightness", K::Straightness, {}},
                                            {"Flatness", K::Flatness, {}},
                                            {"Circularity", K::Roundness, {}},
                                            {"Cylindricity", K::Cylindricity, {}},
                                            {"LineProfile", K::LineProfile, {}},
                                            {"SurfaceProfile", K::SurfaceProfile, {}},
                                            {"Parallelism", K::Parallelism, {}},
                                            {"Perpendicularity", K::Perpendicularity, {}},
                                            {"Angularity", K::Angularity, {}},
                                            {"Position", K::Position, {}},
                                            {"Coaxiality", K::Coaxiality, {}},
                                            {"Symmetry", K::Symmetry, {}},
                                            {"CircularRunout", K::CircularRunout, {}},
                                            {"TotalRunout", K::TotalRunout, {}},
                                            {"Diameter", K::Size, Zone::Diametral},
                                            {"Width", K::Size, Zone::Planar},
                                            {"SphericalDiameter", K::Size, Zone::Spherical},
                                            {"Radius", K::Size, Zone::Diametral, true},
                                            {"SphericalRadius", K::Size, Zone::Spherical, true},
                                            {"Width", K::Size, Zone::Planar, true},
                                            {"DistanceBetween", K::Distance, {}},
                                            {"AngleBetween", K::Angle, {}},
                                            {"UserDefinedLinear", K::Value, {}, false, "mm"},
                                            {"UserDefinedAngular", K::Value, {}, false, "deg"},
                                            {"UserDefinedUnit", K::Value, {}, false, ""},
                                            // read only
                                            {"Roundness", K::Roundness, {}},
                                            {"Concentricity", K::Coaxiality, {}},
                                            {"PointProfile", K::SurfaceProfile, {}},
                                            {"Angle", K::Angle, {}},
                                            {"Length", K::Distance, {}},
                                            {"Height", K::Distance, {}},
                                            {"Depth", K::Distance, {}},
                                            {"Thickness", K::Distance, {}},
                                            {"Linear", K::Distance, {}},
                                            {"Distance", K::Distance, {}}}};
  return kStems;
}

} // namespace

std::string_view stemOf(FeatureKind kind) {
  for (const auto& [of, stem] : kFeatures)
    if (of == kind) return stem;
  return {};
}

std::optional<FeatureKind> featureKindOf(std::string_view stem) {
  for (const auto& [of, name] : kFeatures)
    if (name == stem) return of;
  return {};
}

Zone usualZone(Characteristic kind, const Ideal& ideal) {
  if (kind == K::Size && ideal.type == SurfaceType::Sphere) return Zone::Spherical;
  const bool round =
      isOrientation(kind) || kind == K::Position || kind == K::Coaxiality || kind == K::Size;
  return round && hasAxis(ideal) ? Zone::Diametral : Zone::Planar;
}

const Stem& stemOf(const Specification& spec, const Requirement& r) {
  const auto& all = stems();
  std::optional<Zone> size;
  if (r.kind == K::Size && !r.features.empty()) {
    const SurfaceType type = spec.feature(r.features.front()).ideal.type;
    size = type == SurfaceType::Sphere                               ? Zone::Spherical
           : type == SurfaceType::Slot || type == SurfaceType::Plane ? Zone::Planar
                                                                     : Zone::Diametral;
  }
  const auto fits = std::find_if(all.begin(), all.end(), [&](const Stem& s) {
    return s.kind == r.kind && s.zone == size && s.radius == (r.radius && r.kind == K::Size) &&
           (r.kind != K::Value || s.unit == r.unit);
  });
  if (fits != all.end()) return *fits;
  // A value whose unit is another one has none that QIF knows.
  return *std::find_if(all.begin(), all.end(), [&](const Stem& s) {
    return s.kind == r.kind && (r.kind != K::Value || s.unit.empty());
  });
}

const Stem* characteristicStem(std::string_view name) {
  const auto& all = stems();
  const auto found =
      std::find_if(all.begin(), all.end(), [&](const Stem& s) { return s.name == name; });
  return found == all.end() ? nullptr : &*found;
}

std::string_view materialWord(MaterialModifier modifier) {
  return modifier == MaterialModifier::Maximum ? "MAXIMUM"
         : modifier == MaterialModifier::Least ? "LEAST"
                                               : "NONE";
}

std::optional<MaterialModifier> materialOf(std::string_view word) {
  if (word == "MAXIMUM") return MaterialModifier::Maximum;
  if (word == "LEAST") return MaterialModifier::Least;
  if (word == "NONE" || word == "REGARDLESS") return MaterialModifier::None;
  return {};
}

std::optional<std::string> stemIn(std::string_view element, std::string_view ending) {
  if (element.size() <= ending.size() || !element.ends_with(ending)) return {};
  return std::string(element.substr(0, element.size() - ending.size()));
}

} // namespace alder::qif
