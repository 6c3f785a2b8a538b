// Requirements and the features and datums they speak of (ISO 1101, ISO 5459, ISO 14405).
// Lengths mm, angles radians.
#pragma once

#include "base/id.h"
#include "base/table.h"
#include "fit/filter.h"
#include "part/model.h"
#include "requirement/construction.h"
#include <array>
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
  Value, // a figure computed from others by a formula
};
// The name used in files: lower case with underscores, e.g. "circular_runout".
std::string_view name(Characteristic kind);
std::optional<Characteristic> characteristicNamed(std::string_view name);
bool isDimension(Characteristic kind); // size, distance, angle, value: judged against two limits
bool isForm(Characteristic kind);
bool isOrientation(Characteristic kind); // parallelism, perpendicularity, angularity
bool isProfile(Characteristic kind);
bool isRunout(Characteristic kind);
bool hasAxis(const Ideal& ideal); // cylinder, cone

std::string_view name(MaterialModifier material); // "none", "maximum", "least"

enum class Zone { Planar, Diametral, Spherical };
std::string_view name(Zone zone);

// ISO GPS (8015, 1101, 5459, 14405); ASME Y14.5-2018; ASME Y14.5-2009, which still knows
// concentricity and symmetry.
enum class ToleranceStandard { Iso, Asme, Asme2009 };
std::string_view name(ToleranceStandard standard); // "ISO", "ASME", "ASME-2009"
std::optional<ToleranceStandard> standardNamed(std::string_view name);

// What a result cites: the ISO standard named, or the edition of ASME Y14.5.
std::string cited(ToleranceStandard standard, std::string_view iso);

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
  TwoPointMean,
  TwoPointRange, // largest less smallest
  TwoPointMedian,
  TwoPointMidRange, // middle of largest and smallest
  Circumference,    // of sections square to the axis: diameter of a circle as long, or as large
  Area,
};
// Modifier symbol of a size (ISO 14405-1:2016, table 1); empty: none, or the default.
std::string_view sizeSymbol(AssociateBy by);
std::string_view name(AssociateBy by); // "", "ls", "mz", "mi", "mc", "tangent", "median_line", ...
std::optional<AssociateBy> associateByNamed(std::string_view name);

// What a geometrical tolerance is laid on.
enum class Extracted { Standard, Surface, Axis, MedianLine };
std::string_view name(Extracted what); // "", "surface", "axis", "median_line"
std::optional<Extracted> extractedNamed(std::string_view name);

// In which direction a distance counts, or along which an angle is seen. Axes of the datum system
// where the requirement has one, else of the part. Radial: as distances from the Z axis.
enum class Along { Direct, X, Y, Z, Radial };
std::string_view name(Along along); // "", "x", "y", "z", "radial"
std::optional<Along> alongNamed(std::string_view name);
std::string words(Along along); // "along X"

// Which of the distances between the points of one feature and the other feature is meant.
enum class Extreme { Between, Smallest, Largest };
std::string_view name(Extreme extreme); // "", "smallest", "largest"
std::optional<Extreme> extremeNamed(std::string_view name);

// Touches of another feature, made with another tip, at other angles or in another set-up.
struct Portion {
  FeatureId of;
  // Its points only join its set-up to those in which that feature is touched before; it is judged
  // by the others.
  bool joins = false;
  friend bool operator==(const Portion&, const Portion&) = default;
};

// A surface of the part with a name, which requirements and touches refer to; or a constructed
// feature, which has no faces. A circle is a cylinder of no length, a line one of no diameter, a
// point a sphere of no diameter.
struct NominalFeature {
  FeatureId id;
  std::string name;
  Ideal ideal;
  std::vector<FaceId> faces; // ascending
  std::optional<Construction> from;
  std::optional<Portion> portion; // nothing speaks of it: its points are those of the other
  Filtering filtering;            // of its measured points
  bool as_touched = false;        // its nominal has no ends: it ends where its points do
  bool isConstructed() const { return from.has_value(); }
  friend bool operator==(const NominalFeature&, const NominalFeature&) = default;
};

struct DatumReference {
  std::vector<std::string> letters; // several: common datum
  MaterialModifier material = MaterialModifier::None;
  std::optional<double> boundary; // size of the virtual boundary that a modifier speaks of
  // Of "xyzuvw" the freedom that the datum may fix, u v w turning about x y z (ASME Y14.5
  // customised datum system; ISO 5459 complementary indication); empty: all it can.
  std::string may_fix;
  friend bool operator==(const DatumReference&, const DatumReference&) = default;
};

// Where alone a datum feature is touched (ISO 5459 clause 6.2.3.5): a point, a line from `point` to
// `to`, or a round area.
struct DatumTarget {
  Vec3 point = Vec3::Zero();
  std::optional<Vec3> to;
  double diameter = 0;
  friend bool operator==(const DatumTarget&, const DatumTarget&) = default;
};

struct Datum {
  std::string letter;
  std::vector<FeatureId> features; // several: one datum of several features
  std::vector<DatumTarget> targets;
  friend bool operator==(const Datum&, const Datum&) = default;
};

// Planes that a datum gives direction: parallel with it, square to it, or holding its axis.
enum class PlaneRelation { Parallel, Perpendicular, Including };
struct PlaneIndicator {
  PlaneRelation relation = PlaneRelation::Parallel;
  std::string datum;
  friend bool operator==(const PlaneIndicator&, const PlaneIndicator&) = default;
};

// Where a drawing asks for it: the middle of its text, mm from the lower left corner of the sheet.
struct DrawingSpot {
  std::string drawing; // by the name of its file
  int page = 1;
  double x = 0, y = 0;
  // Where its balloon stands on the sheet, mm; none: it has no place yet. Pinned by hand.
  struct Balloon {
    double x = 0, y = 0;
    bool pinned = false;
    friend bool operator==(const Balloon&, const Balloon&) = default;
  };
  std::optional<Balloon> balloon = {};
  friend bool operator==(const DrawingSpot&, const DrawingSpot&) = default;
};

struct Requirement {
  RequirementId id;
  int balloon = 0;
  Characteristic kind = Characteristic::Size;
  std::vector<FeatureId> features; // several: a pattern; of a distance or angle the first two sides
  double nominal = 0;              // of dimensions; radians for angles
  double lower = 0, upper = 0;     // limits themselves, not deviations; see limits.h
  double tolerance = 0;            // zone size; of dimensions upper less lower limit
  Zone zone = Zone::Planar;
  MaterialModifier material = MaterialModifier::None;
  std::vector<DatumReference> datums;
  // What geometry leaves unused of its tolerance widens the size (ISO 2692 R).
  bool reciprocity = false;
  double unequal = 0; // offset of the zone's middle, outward positive
  // The zone keeps its width and may lie anywhere along the normals (ISO 1101 OZ; ASME Y14.5-2018
  // dynamic profile).
  bool free_offset = false;
  bool radius = false;         // the size is stated as a radius
  RequirementId upper_segment; // valid: lower segment of a composite, free in translation
  std::string fit;             // code the limits come from
  // Limits or a tolerance that come from general tolerances, by their name, else empty; and the
  // decimals that the nominal is written with. See general_tolerances.h.
  std::string general;
  int written_decimals = 0;
  int decimals = 3;                                // of the figures shown
  EntityNumber entity = 0;                         // where the CAD file says it, 0 if typed here
  std::optional<ToleranceStandard> standard;       // else the specification's
  AssociateBy association = AssociateBy::Standard; // of the toleranced features
  AssociateBy datum_association = AssociateBy::Standard; // LeastSquares, or from outside
  Extracted of = Extracted::Standard;
  std::optional<Filtering> filtering; // of the raw points; else each feature's own
  double projected = 0;   // length of a projected zone (P), beyond the primary datum's side
  double unit_length = 0; // straightness and flatness hold over any length (square) of this size
  // By ISO the features of a pattern each by itself (SZ); by ASME the pattern is one, but not held
  // together with other requirements (SEP REQT).
  bool separate = false;
  // Requirements with the same number are held by one placement (ISO 5458 SIM1, SIM2; ASME
  // simultaneous requirement of lower segments); 0: as the standard has it.
  int together = 0;
  // The planes between which the flat zone of an axis lies (orientation plane indicator), and those
  // in which lines of a surface count (intersection plane indicator); see plane_indicator.h.
  std::optional<PlaneIndicator> zone_plane, section_plane;
  bool envelope = false; // size: the mating envelope within the limit too (ISO 14405-1 E)
  Along along = Along::Direct;
  Extreme extreme = Extreme::Between;
  std::string formula;               // of a value, see requirement/formula.h
  std::string unit;                  // of a value: "mm", "deg" or nothing
  std::optional<double> uncertainty; // expanded (k = 2), mm or radians; else the specification's
  std::optional<DrawingSpot> spot;
  std::string key;        // class of a key characteristic, as the customer calls it; empty: none
  std::string sheet_zone; // field of the drawing, as a list names it: "C4"

  // What shapes it beside kind, features, limits and datums, each field once, by its name in
  // routines and sheets; see exchange/routine/judging_json.h.
  static void judging(auto& self, auto& f) {
    f("unequal", self.unequal);
    f("standard", self.standard);
    f("association", self.association);
    f("datum_association", self.datum_association);
    f("of", self.of);
    f("filter", self.filtering);
    f.notNegative("projected", self.projected);
    f.notNegative("unit_length", self.unit_length);
    f("separate", self.separate);
    f("zone_plane", self.zone_plane);
    f("section_plane", self.section_plane);
    f("envelope", self.envelope);
    f("reciprocity", self.reciprocity);
    f("free_offset", self.free_offset);
    f.notNegative("together", self.together);
    f("along", self.along);
    f("extreme", self.extreme);
    f("formula", self.formula);
    f("unit", self.unit);
    f("general", self.general);
    f.notNegative("written_decimals", self.written_decimals);
    f.uncertainty("uncertainty", self.uncertainty, self.kind);
    f("key", self.key);
    f("sheet_zone", self.sheet_zone);
  }
  friend bool operator==(const Requirement&, const Requirement&) = default;
};

enum class GeneralRule { None, Iso2768, Iso22081, ByDecimals, BySize };
std::string_view name(GeneralRule rule); // "", "iso_2768", "iso_22081", "by_decimals", "by_size"
std::optional<GeneralRule> generalRuleNamed(std::string_view name);

// A row of one's own table of general tolerances: ± for sizes above the row before, up to this one.
struct GeneralRow {
  double up_to = 0, half = 0; // mm
  friend bool operator==(const GeneralRow&, const GeneralRow&) = default;
};

// For requirements without figures of their own; see general_tolerances.h.
struct GeneralTolerances {
  GeneralRule rule = GeneralRule::None;
  char linear = 'm';                   // of ISO 2768-1: f, m, c, v
  char geometrical = ' ';              // of ISO 2768-2: H, K, L; blank: none
  double length = 0;                   // ± mm of all by ISO 22081
  double angle = 0;                    // ± radians, of all rules but ISO 2768
  double profile = 0;                  // zone of the general surface profile by ISO 22081; 0: none
  std::array<double, 5> by_decimals{}; // ± mm by the decimals of the nominal; 0: none
  std::vector<GeneralRow> by_size;     // ascending
  friend bool operator==(const GeneralTolerances&, const GeneralTolerances&) = default;
};

struct Specification {
  Table<NominalFeature> features; // those of the part first
  std::vector<Datum> datums;
  Table<Requirement> requirements;
  ToleranceStandard standard = ToleranceStandard::Iso;
  double uncertainty = 0;  // expanded (k = 2) of lengths, mm; 0: verdicts do not regard it
  double near_share = 0.9; // from this share of its tolerance on a result is near its limit
  GeneralTolerances general;

  ToleranceStandard standardOf(const Requirement& r) const { return r.standard.value_or(standard); }
  // With its standard in it, for what is shown of a requirement by itself.
  Requirement withStandard(Requirement r) const {
    r.standard = standardOf(r);
    return r;
  }
  const NominalFeature& feature(FeatureId id) const { return features.at(id); }
  const Requirement& requirement(RequirementId id) const { return requirements.at(id); }
  const Datum* datum(std::string_view letter) const;
  // The size requirement of a feature, which material modifiers need.
  const Requirement* sizeOf(FeatureId feature) const;
  friend bool operator==(const Specification&, const Specification&) = default;
};

// A constructed feature stands on others, those perhaps on others again: what is touched in the
// end, ascending.
std::vector<FeatureId> touchedFor(const Specification& spec,
                                  const std::vector<FeatureId>& features);
// The way round when a constructed feature depends on itself: "Mid plane 1 -> Line 2 -> Mid plane
// 1".
std::optional<std::string> cycleIn(const Specification& spec);

// The requirements that one placement in the datum system must fulfil together with this one: by
// ASME all positions and profiles of the same datums, unless they are separate or lower segments.
// ISO GPS judges each for itself. By both those marked to be held together, lower segments with
// lower segments.
std::vector<const Requirement*> simultaneous(const Specification& spec, const Requirement& r);

// Those that are marked to be held together with it, itself among them; empty where it is marked
// and alone, or not marked.
std::vector<const Requirement*> heldTogether(const Specification& spec, const Requirement& r);

// "ø32 H7 (+0.025/0)", "position ø0.25 M | A | B | C": one line, no symbols outside Latin-1 and ø
// ±.
std::string describe(const Requirement& requirement);
// In the words of the standard that judges it: roundness is circularity by ASME.
std::string describe(const Specification& specification, const Requirement& requirement);

} // namespace alder
