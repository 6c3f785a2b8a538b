// Requirements and the features and datums they speak of (ISO 1101, ISO 5459, ISO 14405).
// Lengths mm, angles radians.
#pragma once

#include "base/id.h"
#include "part/model.h"
#include <optional>
#include <string>
#include <vector>

namespace alder {

enum class Characteristic {
  Straightness,
  Flatness,
  Roundness,
  Cylindricity,
  LineProfile,
  SurfaceProfile,
  Parallelism,
  Perpendicularity,
  Angularity,
  Position,
  Coaxiality,
  Symmetry,
  CircularRunout,
  TotalRunout,
  Size,
  Distance,
  Angle,
};
// The name used in files: lower case with underscores, e.g. "circular_runout".
std::string_view name(Characteristic kind);
std::optional<Characteristic> characteristicNamed(std::string_view name);
bool isDimension(Characteristic kind); // size, distance, angle: judged against two limits
bool isForm(Characteristic kind);
bool isOrientation(Characteristic kind); // parallelism, perpendicularity, angularity
bool isProfile(Characteristic kind);
bool isRunout(Characteristic kind);
bool hasAxis(const Ideal& ideal); // cylinder, cone

enum class Zone { Planar, Diametral, Spherical };
std::string_view name(Zone zone);

enum class ToleranceStandard { Iso, Asme };        // ISO GPS (8015, 1101, 5459, 14405); ASME Y14.5
std::string_view name(ToleranceStandard standard); // "ISO", "ASME"
std::optional<ToleranceStandard> standardNamed(std::string_view name);

// How the features of an evaluation are associated with their points. By the standard: forms and
// planes by minimum zone, datums from outside the material, sizes from point to point, axes as the
// extracted median line (ISO) or as that of the mating envelope (ASME).
enum class AssociateBy {
  Standard,
  LeastSquares,
  MinimumZone,
  MaximumInscribed,
  MinimumCircumscribed,
  Tangent,
  MedianLine,  // centres of the rings
  TwoPointMin, // sizes: the smallest local one alone
  TwoPointMax,
};
std::string_view name(AssociateBy by); // "", "ls", "mz", "mi", "mc", "tangent", "median_line", ...
std::optional<AssociateBy> associateByNamed(std::string_view name);

// What a geometrical tolerance is laid on.
enum class Extracted { Standard, Surface, Axis, MedianLine };
std::string_view name(Extracted what); // "", "surface", "axis", "median_line"
std::optional<Extracted> extractedNamed(std::string_view name);

// A surface of the part with a name, which requirements and touches refer to.
struct NominalFeature {
  FeatureId id;
  std::string name;
  Ideal ideal;
  std::vector<FaceId> faces; // ascending
};

struct DatumReference {
  std::vector<std::string> letters; // several: common datum
  MaterialModifier material = MaterialModifier::None;
  std::optional<double> boundary; // size of the virtual boundary that a modifier speaks of
};

struct Datum {
  std::string letter;
  std::vector<FeatureId> features; // several: one datum of several features
};

struct Requirement {
  RequirementId id;
  int balloon = 0;
  Characteristic kind = Characteristic::Size;
  std::vector<FeatureId> features; // several: a pattern; of a distance or angle the first two sides
  double nominal = 0;              // of dimensions; radians for angles
  double lower = 0, upper = 0;     // limits themselves, not deviations
  double tolerance = 0;            // zone size
  Zone zone = Zone::Planar;
  MaterialModifier material = MaterialModifier::None;
  std::vector<DatumReference> datums;
  double unequal = 0;          // offset of the zone's middle, outward positive
  bool radius = false;         // the size is stated as a radius
  RequirementId upper_segment; // valid: lower segment of a composite, free in translation
  std::string fit;             // code the limits come from
  int decimals = 3;            // of the figures shown
  int entity = 0;              // where the CAD file says it, 0 if typed here
  std::optional<ToleranceStandard> standard;             // else the specification's
  AssociateBy association = AssociateBy::Standard;       // of the toleranced features
  AssociateBy datum_association = AssociateBy::Standard; // LeastSquares, or from outside
  Extracted of = Extracted::Standard;
};

struct Specification {
  std::vector<NominalFeature> features; // by FeatureId
  std::vector<Datum> datums;
  std::vector<Requirement> requirements; // by RequirementId
  ToleranceStandard standard = ToleranceStandard::Iso;

  ToleranceStandard standardOf(const Requirement& r) const { return r.standard.value_or(standard); }
  const NominalFeature& feature(FeatureId id) const {
    return features[static_cast<std::size_t>(id.value)];
  }
  const Requirement& requirement(RequirementId id) const {
    return requirements[static_cast<std::size_t>(id.value)];
  }
  const Datum* datum(std::string_view letter) const;
  // The size requirement of a feature, which material modifiers need.
  const Requirement* sizeOf(FeatureId feature) const;
};

// "ø32 H7 (+0.025/0)", "position ø0.25 M | A | B | C": one line, no symbols outside Latin-1 and ø
// ±.
std::string describe(const Requirement& requirement);
// "A | B M | C-D"
std::string describe(const std::vector<DatumReference>& datums);

} // namespace alder
