// Product manufacturing information as the model states it, before it becomes requirements.
// Names follow ISO 10303-47 and ISO 1101. Lengths mm, angles radians, whatever the file's units.
#pragma once

#include "base/id.h"
#include "geometry/vec.h"
#include <optional>
#include <string>
#include <vector>

namespace alder {

enum class ToleranceType {
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
  Concentricity,
  Symmetry,
  CircularRunout,
  TotalRunout,
};

enum class ZoneForm { Unstated, Planar, Cylindrical, Spherical };
enum class MaterialModifier { None, Maximum, Least };

struct PmiDatumReference {
  std::vector<std::string> letters; // more than one: a common datum such as A-B
  MaterialModifier material = MaterialModifier::None;
  std::vector<std::string> modifiers; // all others, as the file names them
};

struct PmiDatum {
  int entity = 0;
  std::string letter;
  std::vector<FaceId> faces;
};

// A size, a distance or an angle.
struct PmiDimension {
  enum class Type { Diameter, Radius, Width, Distance, Angle };
  int entity = 0;
  std::string name;
  Type type = Type::Width;
  std::vector<FaceId> faces;  // of a size; first side of a distance or angle
  std::vector<FaceId> faces2; // second side
  std::optional<double> nominal;
  std::optional<double> lower, upper; // deviations from nominal
  std::string fit;                    // such as "H7"
  int decimals = -1;                  // as the file shows it, -1 if it does not say
  std::vector<std::string> modifiers;
};

struct PmiTolerance {
  int entity = 0;
  std::string name;
  ToleranceType type = ToleranceType::Flatness;
  double magnitude = 0;
  ZoneForm zone = ZoneForm::Unstated;
  MaterialModifier material = MaterialModifier::None;
  std::vector<std::string> modifiers;
  std::optional<double> unequal;   // offset of the zone's middle, outward positive
  std::optional<double> projected; // length of the projected zone
  std::optional<double> maximum;   // largest tolerance with bonus
  std::optional<double> unit_size; // per unit length or area
  std::vector<PmiDatumReference> datums;
  std::vector<FaceId> faces; // of several surfaces for a pattern
  bool all_over = false;
  int upper_segment = 0; // entity of the segment above in a composite indicator, 0 if none
};

struct Pmi {
  std::vector<PmiDatum> datums;
  std::vector<PmiDimension> dimensions;
  std::vector<PmiTolerance> tolerances;
};

// Something in the file that was not taken over, or taken over in part.
struct Note {
  int entity = 0; // 0 when it concerns the whole file
  std::string text;
};

} // namespace alder
