#include "plan/touches/recipe.h"

#include <algorithm>
#include <array>

namespace alder {
namespace {

// What the requirements on a feature ask of its touches.
struct Demand {
  double tightest = 1e9; // smallest tolerance
  bool form = false;     // roundness, cylindricity, flatness, profile, runout: shape is judged
  bool length = false;   // the shape along the axis matters
};

Demand demandOn(FeatureId feature, const Specification& spec) {
  Demand d;
  for (const Requirement& r : spec.requirements) {
    if (std::find(r.features.begin(), r.features.end(), feature) == r.features.end()) continue;
    if (r.tolerance > 0) d.tightest = std::min(d.tightest, r.tolerance);
    switch (r.kind) {
    case Characteristic::Cylindricity:
    case Characteristic::Straightness:
    case Characteristic::TotalRunout:
      d.length = true;
      [[fallthrough]];
    case Characteristic::Roundness:
    case Characteristic::CircularRunout:
    case Characteristic::Flatness:
    case Characteristic::LineProfile:
    case Characteristic::SurfaceProfile:
      d.form = true;
      break;
    default:
      break;
    }
  }
  return d;
}

void setRound(Recipe& r, const Ideal& i, const Demand& d) {
  r.per_row = i.diameter < 12 ? 4 : i.diameter < 40 ? 6 : i.diameter < 100 ? 8 : 12;
  if (d.form) r.per_row = std::max(r.per_row, 8);
  if (d.tightest < 0.02) r.per_row += 2;
  r.rows = d.length || i.length > 1.5 * i.diameter ? 3 : 2;
  if (d.length && i.length > 30) r.rows = 4;
}

} // namespace

std::string_view name(Stroke stroke) {
  static constexpr std::array<std::string_view, 5> kNames{"touches", "rows", "helix", "contour",
                                                          "edge"};
  return kNames[static_cast<std::size_t>(stroke)];
}

double tightestTolerance(FeatureId feature, const Specification& spec) {
  return demandOn(feature, spec).tightest;
}

Done validate(const Recipe& r) {
  if (r.rows < 1 || r.rows > 200) return fail("Rows must lie between 1 and 200.");
  if (r.per_row < 1 || r.per_row > 1000) return fail("Touches must lie between 1 and 1000.");
  if (!(r.edge_margin >= 0 && r.edge_margin <= 100))
    return fail("The edge margin must lie between 0 and 100 mm.");
  if (!(r.approach > 0 && r.approach <= 100))
    return fail("The approach must lie above 0 and up to 100 mm.");
  if (!(r.retract >= 0 && r.retract <= 100))
    return fail("The retract must lie between 0 and 100 mm.");
  if (!(r.search >= 0.1 && r.search <= 50))
    return fail("The search distance must lie between 0.1 and 50 mm.");
  if (!(r.speed >= 0 && r.speed <= 500)) return fail("The speed must lie between 0 and 500 mm/s.");
  if (!(r.first_depth >= 0) || !(r.last_depth >= 0)) return fail("A depth must not be below 0.");
  if (!(r.coverage > 0.02 && r.coverage <= 2 * kPi + 1e-9))
    return fail("The part of a turn must lie above 1 and up to 360 degrees.");
  if (!(r.contour.below > 0 && r.contour.below <= 500))
    return fail("The distance below the edge must lie above 0 and up to 500 mm.");
  if (!(r.pitch >= 0.02 && r.pitch <= 50))
    return fail("The step of a scan must lie between 0.02 and 50 mm.");
  return {};
}

std::vector<std::string> differences(const Recipe& a, const Recipe& b) {
  std::vector<std::string> found;
  const auto compare = [&](const char* words, const auto& x, const auto& y) {
    if (x != y) found.emplace_back(words);
  };
  compare("stroke", a.stroke, b.stroke);
  compare("rows", a.rows, b.rows);
  compare("count", a.per_row, b.per_row);
  compare("step", a.pitch, b.pitch);
  compare("contour", a.contour, b.contour);
  compare("start angle", a.start_angle, b.start_angle);
  compare("part of a turn", a.coverage, b.coverage);
  compare("direction", a.clockwise, b.clockwise);
  compare("first depth", a.first_depth, b.first_depth);
  compare("last depth", a.last_depth, b.last_depth);
  compare("depths from", a.from_end, b.from_end);
  compare("edge margin", a.edge_margin, b.edge_margin);
  compare("approach", a.approach, b.approach);
  compare("retract", a.retract, b.retract);
  compare("search", a.search, b.search);
  compare("speed", a.speed, b.speed);
  return found;
}

Recipe recipeFor(const NominalFeature& feature, const Specification& spec) {
  const Demand d = demandOn(feature.id, spec);
  const bool fine = d.tightest <= 0.03;
  Recipe r;
  std::string kind;
  switch (feature.ideal.type) {
  case SurfaceType::Plane:
    kind = "plane";
    r.rows = 1;
    r.per_row = (d.form ? 9 : 5) + (fine ? 4 : 0);
    break;
  case SurfaceType::Slot:
    kind = "slot";
    r.rows = 2;
    r.per_row = fine ? 6 : 4;
    break;
  case SurfaceType::Cylinder:
    kind = feature.ideal.hole ? (feature.ideal.diameter < 12 ? "small bore" : "bore") : "boss";
    setRound(r, feature.ideal, d);
    break;
  case SurfaceType::Cone:
    kind = "cone";
    setRound(r, feature.ideal, d);
    r.rows = std::max(r.rows, 2);
    break;
  case SurfaceType::Sphere:
    kind = "ball";
    r.rows = 3;
    r.per_row = fine ? 6 : 4;
    break;
  case SurfaceType::Torus:
  case SurfaceType::Freeform:
    kind = "freeform";
    r.rows = fine ? 5 : 4;
    r.per_row = fine ? 6 : 5;
    break;
  }
  r.name = kind + (fine ? ", fine" : "");
  return r;
}

int touchCount(const Recipe& r, SurfaceType type) {
  if (type == SurfaceType::Plane) return r.per_row;
  if (type == SurfaceType::Slot) return 2 * r.per_row;
  if (type == SurfaceType::Sphere) return 1 + (r.rows - 1) * r.per_row;
  return r.rows * r.per_row;
}

int leastTouches(SurfaceType type) {
  switch (type) {
  case SurfaceType::Plane:
    return 3;
  case SurfaceType::Sphere:
    return 4;
  case SurfaceType::Slot:
    return 4;
  case SurfaceType::Cylinder:
    return 5;
  case SurfaceType::Cone:
    return 6;
  default:
    return 6;
  }
}

} // namespace alder
