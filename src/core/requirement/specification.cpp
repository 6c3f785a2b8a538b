#include "requirement/specification.h"

#include "requirement/limits.h"
#include "requirement/modifiers.h"
#include "requirement/plane_indicator.h"

#include "base/units.h"
#include <algorithm>
#include <array>
#include <cmath>
#include <set>

namespace alder {
namespace {

constexpr std::array<std::string_view, 18> kNames{"straightness",
                                                  "flatness",
                                                  "roundness",
                                                  "cylindricity",
                                                  "line_profile",
                                                  "surface_profile",
                                                  "parallelism",
                                                  "perpendicularity",
                                                  "angularity",
                                                  "position",
                                                  "coaxiality",
                                                  "symmetry",
                                                  "circular_runout",
                                                  "total_runout",
                                                  "size",
                                                  "distance",
                                                  "angle",
                                                  "value"};

std::string limitsText(const Requirement& r, bool angle) {
  const auto convert = [&](double v) { return angle ? degrees(v) : v; };
  const double low = convert(r.lower - r.nominal), high = convert(r.upper - r.nominal);
  const auto signedFigure = [](double v) { return (v > 0 ? "+" : "") + shortFigure(v); };
  if (hasSingleLimit(r)) {
    const double off = hasUpper(r) ? high : low;
    return (std::abs(off) < 1e-9 ? "" : " " + signedFigure(off)) + (hasUpper(r) ? " MAX" : " MIN");
  }
  // As they are written: what differs beyond the last digit shown is no difference to a reader.
  if (high >= 0 && shortFigure(high) == shortFigure(-low)) return " ±" + shortFigure(high);
  return " " + signedFigure(high) + "/" + signedFigure(low);
}

} // namespace

std::string_view name(Characteristic kind) {
  return kNames[static_cast<std::size_t>(kind)];
}

std::optional<Characteristic> characteristicNamed(std::string_view wanted) {
  const auto found = std::find(kNames.begin(), kNames.end(), wanted);
  if (found == kNames.end()) return {};
  return static_cast<Characteristic>(found - kNames.begin());
}

bool isDimension(Characteristic kind) {
  return kind == Characteristic::Size || kind == Characteristic::Distance ||
         kind == Characteristic::Angle || kind == Characteristic::Value;
}

bool isForm(Characteristic kind) {
  return kind == Characteristic::Straightness || kind == Characteristic::Flatness ||
         kind == Characteristic::Roundness || kind == Characteristic::Cylindricity;
}

bool isOrientation(Characteristic kind) {
  return kind == Characteristic::Parallelism || kind == Characteristic::Perpendicularity ||
         kind == Characteristic::Angularity;
}

bool isProfile(Characteristic kind) {
  return kind == Characteristic::SurfaceProfile || kind == Characteristic::LineProfile;
}

bool isRunout(Characteristic kind) {
  return kind == Characteristic::CircularRunout || kind == Characteristic::TotalRunout;
}

bool hasAxis(const Ideal& i) {
  return i.type == SurfaceType::Cylinder || i.type == SurfaceType::Cone;
}

std::string_view name(MaterialModifier material) {
  return material == MaterialModifier::Maximum ? "maximum"
         : material == MaterialModifier::Least ? "least"
                                               : "none";
}

std::string_view name(Zone zone) {
  return zone == Zone::Diametral ? "diameter" : zone == Zone::Spherical ? "sphere" : "planar";
}

namespace {

constexpr std::array<std::string_view, 15> kAssociations{"",
                                                         "ls",
                                                         "mz",
                                                         "mi",
                                                         "mc",
                                                         "tangent",
                                                         "median_line",
                                                         "two_point_min",
                                                         "two_point_max",
                                                         "two_point_mean",
                                                         "two_point_range",
                                                         "two_point_median",
                                                         "two_point_mid_range",
                                                         "circumference",
                                                         "area"};
constexpr std::array<std::string_view, 5> kAlong{"", "x", "y", "z", "radial"};
constexpr std::array<std::string_view, 3> kExtremes{"", "smallest", "largest"};
constexpr std::array<std::string_view, 5> kGeneralRules{"", "iso_2768", "iso_22081", "by_decimals",
                                                        "by_size"};
constexpr std::array<std::string_view, 3> kStandards{"ISO", "ASME", "ASME-2009"};
constexpr std::array<std::string_view, 4> kExtracted{"", "surface", "axis", "median_line"};

template <class E, std::size_t N>
std::optional<E> find(const std::array<std::string_view, N>& names, std::string_view wanted) {
  const auto found = std::find(names.begin(), names.end(), wanted);
  if (found == names.end()) return {};
  return static_cast<E>(found - names.begin());
}

} // namespace

std::string_view name(ToleranceStandard standard) {
  return kStandards[static_cast<std::size_t>(standard)];
}
std::optional<ToleranceStandard> standardNamed(std::string_view wanted) {
  return find<ToleranceStandard>(kStandards, wanted);
}
std::string cited(ToleranceStandard standard, std::string_view iso) {
  return standard == ToleranceStandard::Iso    ? std::string(iso)
         : standard == ToleranceStandard::Asme ? "ASME Y14.5-2018"
                                               : "ASME Y14.5-2009";
}
std::string_view name(Along along) {
  return kAlong[static_cast<std::size_t>(along)];
}
std::optional<Along> alongNamed(std::string_view wanted) {
  return find<Along>(kAlong, wanted);
}
std::string words(Along along) {
  if (along == Along::Direct) return "directly";
  if (along == Along::Radial) return "from the axis Z";
  return "along " + std::string(1, static_cast<char>('W' + static_cast<int>(along)));
}
std::string_view name(GeneralRule rule) {
  return kGeneralRules[static_cast<std::size_t>(rule)];
}
std::optional<GeneralRule> generalRuleNamed(std::string_view wanted) {
  return find<GeneralRule>(kGeneralRules, wanted);
}
std::string_view name(Extreme extreme) {
  return kExtremes[static_cast<std::size_t>(extreme)];
}
std::optional<Extreme> extremeNamed(std::string_view wanted) {
  return find<Extreme>(kExtremes, wanted);
}
std::string_view name(AssociateBy by) {
  return kAssociations[static_cast<std::size_t>(by)];
}
std::optional<AssociateBy> associateByNamed(std::string_view wanted) {
  return find<AssociateBy>(kAssociations, wanted);
}
std::string_view name(Extracted what) {
  return kExtracted[static_cast<std::size_t>(what)];
}
std::optional<Extracted> extractedNamed(std::string_view wanted) {
  return find<Extracted>(kExtracted, wanted);
}

const Datum* Specification::datum(std::string_view letter) const {
  for (const Datum& d : datums)
    if (d.letter == letter) return &d;
  return nullptr;
}

const Requirement* Specification::sizeOf(FeatureId feature) const {
  for (const Requirement& r : requirements)
    if (r.kind == Characteristic::Size && r.association != AssociateBy::TwoPointRange &&
        std::find(r.features.begin(), r.features.end(), feature) != r.features.end())
      return &r;
  return nullptr;
}

std::vector<FeatureId> touchedFor(const Specification& spec,
                                  const std::vector<FeatureId>& features) {
  std::set<FeatureId> seen, touched;
  std::vector<FeatureId> open = features;
  while (!open.empty()) {
    const FeatureId id = open.back();
    open.pop_back();
    if (!seen.insert(id).second) continue;
    const NominalFeature& f = spec.feature(id);
    if (f.from)
      open.insert(open.end(), f.from->of.begin(), f.from->of.end());
    else
      touched.insert(id);
  }
  return {touched.begin(), touched.end()};
}

namespace {

// Depth first; `path` is the way so far.
bool returns(const Specification& spec, FeatureId id, std::vector<FeatureId>& path,
             std::set<FeatureId>& clear) {
  if (clear.count(id)) return false;
  const bool again = std::find(path.begin(), path.end(), id) != path.end();
  path.push_back(id);
  if (again) return true;
  if (const auto& from = spec.feature(id).from)
    for (FeatureId parent : from->of)
      if (returns(spec, parent, path, clear)) return true;
  path.pop_back();
  clear.insert(id);
  return false;
}

} // namespace

std::optional<std::string> cycleIn(const Specification& spec) {
  std::set<FeatureId> clear;
  for (const NominalFeature& f : spec.features) {
    std::vector<FeatureId> path;
    if (!returns(spec, f.id, path, clear)) continue;
    std::string text;
    bool inside = false;
    for (FeatureId id : path) {
      inside |= id == path.back(); // what leads to the circle is not part of it
      if (inside) text += (text.empty() ? "" : " -> ") + spec.feature(id).name;
    }
    return text;
  }
  return {};
}

std::vector<const Requirement*> simultaneous(const Specification& spec, const Requirement& r) {
  const auto located = [](const Requirement& x) {
    return x.kind == Characteristic::Position || isProfile(x.kind) ||
           x.kind == Characteristic::Coaxiality || x.kind == Characteristic::Symmetry;
  };
  const auto by_standard = [&](const Requirement& x) {
    return !x.separate && !x.upper_segment.valid() && !x.datums.empty() &&
           spec.standardOf(x) != ToleranceStandard::Iso;
  };
  std::vector<const Requirement*> all;
  if (!located(r)) return all;
  for (const Requirement& other : spec.requirements) {
    if (other.id == r.id || !located(other) || other.datums != r.datums) continue;
    const bool marked = r.together > 0 && other.together == r.together &&
                        other.upper_segment.valid() == r.upper_segment.valid();
    if (marked || (by_standard(r) && by_standard(other))) all.push_back(&other);
  }
  return all;
}

std::vector<const Requirement*> heldTogether(const Specification& spec, const Requirement& r) {
  std::vector<const Requirement*> group;
  if (r.together == 0 || isDimension(r.kind)) return group;
  for (const Requirement& other : spec.requirements)
    if (other.together == r.together && !isDimension(other.kind)) group.push_back(&other);
  if (group.size() == 1) group.clear();
  return group;
}

std::string_view sizeSymbol(AssociateBy by) {
  switch (by) {
  case AssociateBy::Standard:
  case AssociateBy::MedianLine:
    return "";
  case AssociateBy::LeastSquares:
    return "GG";
  case AssociateBy::MinimumZone:
    return "GC";
  case AssociateBy::MaximumInscribed:
    return "GX";
  case AssociateBy::MinimumCircumscribed:
    return "GN";
  case AssociateBy::Tangent:
    return "";
  case AssociateBy::TwoPointMin:
    return "SN";
  case AssociateBy::TwoPointMax:
    return "SX";
  case AssociateBy::TwoPointMean:
    return "SA";
  case AssociateBy::TwoPointRange:
    return "SR";
  case AssociateBy::TwoPointMedian:
    return "SM";
  case AssociateBy::TwoPointMidRange:
    return "SD";
  case AssociateBy::Circumference:
    return "CC";
  case AssociateBy::Area:
    return "CA";
  }
  return "";
}

std::string describe(const Requirement& r, ToleranceStandard standard) {
  if (isDimension(r.kind)) {
    const bool angle = r.kind == Characteristic::Angle;
    std::string text;
    if (r.kind == Characteristic::Value)
      return r.formula + " = " + shortFigure(r.nominal) + (r.unit.empty() ? "" : " " + r.unit) +
             limitsText(r, false);
    if (r.extreme != Extreme::Between) text = std::string(name(r.extreme)) + " ";
    if (r.kind == Characteristic::Size)
      text += r.radius && r.zone == Zone::Spherical ? "SR"
              : r.radius                            ? "R"
              : r.zone == Zone::Diametral           ? "ø"
              : r.zone == Zone::Spherical           ? "Sø"
                                                    : "";
    text += shortFigure(angle ? degrees(r.nominal) : r.nominal);
    if (angle) text += "°";
    if (!r.fit.empty()) text += " " + r.fit;
    if (r.along != Along::Direct) text += " " + words(r.along);
    text += limitsText(r, angle) + (r.envelope ? " E" : "");
    if (r.kind == Characteristic::Size)
      if (const auto symbol = sizeSymbol(r.association); !symbol.empty())
        text += " " + std::string(symbol);
    if (!r.general.empty()) text += " by " + r.general;
    return text;
  }
  const bool circularity =
      r.kind == Characteristic::Roundness && standard != ToleranceStandard::Iso;
  std::string text(circularity ? "circularity" : name(r.kind));
  std::replace(text.begin(), text.end(), '_', ' ');
  text += r.zone == Zone::Diametral ? " ø" : r.zone == Zone::Spherical ? " Sø" : " ";
  text += shortFigure(r.tolerance);
  for (const char letter : circledSigns(r))
    text += std::string(" ") + letter;
  for (const ModifierSign& sign : signsBehindValue(r, standard))
    text += " " + sign.plain;
  if (!r.datums.empty()) text += " | " + describe(r.datums);
  for (const NamedIndicator& i : planeIndicators(r))
    text += std::string(" ") + i.words + " " + symbol(i.planes);
  if (!r.general.empty()) text += " by " + r.general;
  return text;
}

std::string describe(const Requirement& r) {
  return describe(r, ToleranceStandard::Iso);
}

std::string describe(const Specification& specification, const Requirement& r) {
  return describe(r, specification.standardOf(r));
}

} // namespace alder
