// Product manufacturing information as the model states it, before it becomes requirements.
// Names follow ISO 10303-47 and ISO 1101. Lengths mm, angles radians, whatever the file's units.
#pragma once

#include "base/id.h"
#include "geometry/cut_plane.h"
#include "geometry/vec.h"
#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace alder {

using EntityNumber = std::int64_t; // of an instance in a STEP file, #12

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

// A point, with `to` a line, with a diameter a round area.
struct PmiDatumTarget {
  EntityNumber entity = 0;
  Vec3 point = Vec3::Zero();
  std::optional<Vec3> to;
  double diameter = 0;
};

struct PmiDatum {
  EntityNumber entity = 0;
  std::string letter;
  std::vector<FaceId> faces;
  std::vector<PmiDatumTarget> targets;
  std::vector<EntityNumber> made_of; // its features and targets, itself among them
};

// A size, a distance or an angle.
struct PmiDimension {
  enum class Type { Diameter, Radius, Width, Distance, Angle };
  EntityNumber entity = 0;
  std::string name;
  Type type = Type::Width;
  bool spherical = false;
  int selection = 0;          // of the two angles: 1 the large, -1 the small one, 0 not said
  std::vector<FaceId> faces;  // of a size; first side of a distance or angle
  std::vector<FaceId> faces2; // second side
  std::optional<double> nominal;
  std::optional<double> lower, upper; // deviations from nominal; one alone: a single limit
  std::string fit;                    // such as "H7"
  int decimals = -1;                  // as the file shows it, -1 if it does not say
  int count = 0;                      // of features that it says it is of ("6x"), 0 if none
  std::vector<std::string> modifiers;
};

struct PmiTolerance {
  EntityNumber entity = 0;
  std::string name;
  ToleranceType type = ToleranceType::Flatness;
  double magnitude = 0;
  ZoneForm zone = ZoneForm::Unstated;
  MaterialModifier material = MaterialModifier::None;
  std::vector<std::string> modifiers;
  std::optional<double> unequal;   // offset of the zone's middle, outward positive
  std::optional<double> projected; // length of the projected zone
  std::vector<FaceId> projected_from;
  std::optional<double> maximum;   // largest tolerance with bonus
  std::optional<double> unit_size; // per unit length or area
  std::vector<PmiDatumReference> datums;
  std::vector<FaceId> faces; // of several surfaces for a pattern
  bool all_over = false;
  EntityNumber upper_segment = 0; // of the segment above in a composite indicator, 0 if none
  int together = 0;               // simultaneous with those of the same number, 0: as the standard
};

// Where the designer drew a tolerance or dimension: the middle of its text or frame.
struct PmiCallout {
  EntityNumber of = 0;
  Vec3 at = Vec3::Zero();
};

// A view that the designer saved: a window in space, looked at against `towards`, the eye's side.
struct PmiView {
  EntityNumber entity = 0; // the camera
  std::string name;
  Vec3 corner = Vec3::Zero(); // of the window, lower left
  Vec3 right = Vec3::UnitX(), up = Vec3::UnitY(), towards = Vec3::UnitZ();
  double width = 0, height = 0;    // of the window; 0 where the file does not say
  std::optional<Vec3> eye;         // of a central projection
  bool cut = false;                // by section planes
  std::optional<CutPlane> section; // by this one alone; of several none is drawn
  std::vector<EntityNumber> shows; // tolerances and dimensions
};

struct Pmi {
  std::vector<PmiDatum> datums;
  std::vector<PmiDimension> dimensions;
  std::vector<PmiTolerance> tolerances;
  std::vector<PmiCallout> callouts;
  std::vector<PmiView> views;
};

// Something in the file that was not taken over, or taken over in part.
struct Note {
  EntityNumber entity = 0; // 0 when it concerns the whole file
  std::string text;
  std::vector<EntityNumber> on = {}; // tolerances and dimensions that it bears on
  bool seen = false;                 // by a person, who lets them count all the same
  friend bool operator==(const Note&, const Note&) = default;
};

} // namespace alder
