#include "plan/recipe.h"

#include <algorithm>

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
