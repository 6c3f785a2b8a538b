#include "exchange/routine/feature_search.h"

#include "plan/touches/nominal_surface.h"
#include <algorithm>
#include <cmath>
#include <map>

namespace alder {

FeatureKind featureKindOf(const Ideal& i) {
  switch (i.type) {
  case SurfaceType::Plane:
    return FeatureKind::Plane;
  case SurfaceType::Cylinder:
    return i.diameter <= 0 ? FeatureKind::Line
           : i.length <= 0 ? FeatureKind::Circle
                           : FeatureKind::Cylinder;
  case SurfaceType::Cone:
    return FeatureKind::Cone;
  case SurfaceType::Sphere:
    return i.diameter <= 0 ? FeatureKind::Point : FeatureKind::Sphere;
  case SurfaceType::Slot:
    return FeatureKind::Slot;
  case SurfaceType::Torus:
    return FeatureKind::Torus;
  case SurfaceType::Freeform:
    break;
  }
  return FeatureKind::Freeform;
}

namespace {

constexpr double kSamePlace = 0.01, kSameAngle = 1e-3; // mm, rad

double offAxis(const Vec3& p, const Vec3& point, const Vec3& direction) {
  const Vec3 d = p - point;
  return (d - d.dot(direction) * direction).norm();
}

} // namespace

std::optional<double> distanceTo(const NominalFeature& f, const SoughtFeature& d) {
  const Ideal& i = f.ideal;
  if (featureKindOf(i) != d.kind) return {};
  if (!d.located) return d.kind == FeatureKind::Freeform ? std::optional(0.0) : std::nullopt;
  if (d.hole && d.kind != FeatureKind::Plane && *d.hole != i.hole) return {};
  if (d.kind == FeatureKind::Sphere) {
    if (std::abs(d.diameter - i.diameter) > kSamePlace) return {};
    const double off = (d.point - i.point).norm();
    return off < kSamePlace ? std::optional(off) : std::nullopt;
  }
  const double cosine = d.direction.dot(i.direction);
  const bool along = (d.kind == FeatureKind::Plane ? cosine : std::abs(cosine)) > 1 - kSameAngle;
  if (d.kind != FeatureKind::Point && !along) return {};
  double off = 0;
  if (d.kind == FeatureKind::Plane || d.kind == FeatureKind::Slot)
    off = std::abs((d.point - i.point).dot(i.direction));
  else if (d.kind == FeatureKind::Cone) {
    if (std::abs(d.half_angle - i.half_angle) > kSameAngle) return {};
    const double to_vertex = i.diameter / 2 / std::tan(std::max(i.half_angle, 1e-9));
    off = (d.point - (i.point - to_vertex * i.direction)).norm();
  } else if (d.kind == FeatureKind::Cylinder)
    off = offAxis(d.point, i.point, i.direction);
  else
    off = (d.point - i.point).norm();
  // A slot of any lie along its mid-plane; its width says which.
  if (d.kind != FeatureKind::Plane && d.kind != FeatureKind::Cone &&
      std::abs(d.diameter - i.diameter) > kSamePlace)
    return {};
  if (off > kSamePlace) return {};
  return (d.point - i.point).norm();
}

std::optional<FeatureId> featureTouchedAt(const Plan& plan, const Points& points) {
  constexpr double kTouched = 0.05; // mm
  if (points.empty()) return {};
  std::optional<std::pair<double, FeatureId>> best;
  for (const NominalFeature& f : plan.spec.features) {
    if (f.isConstructed() || f.faces.empty()) continue;
    const NominalSurface surface(plan.part, f);
    double worst = 0;
    for (const Vec3& p : points) {
      double nearest = 1e300;
      for (FaceId face : f.faces)
        nearest = std::min(nearest, std::abs(surface.distance(face, p)));
      worst = std::max(worst, nearest);
      if (worst >= kTouched) break;
    }
    if (worst < kTouched && (!best || worst < best->first)) best = {worst, f.id};
  }
  return best ? std::optional(best->second) : std::nullopt;
}

namespace {

// Rings and sides: touches at one height along the axis, or on one side of a slot, are a row.
void setRows(const NominalFeature& f, std::vector<Touch>& touches) {
  const Ideal& i = f.ideal;
  if (i.type == SurfaceType::Slot) {
    for (Touch& t : touches)
      t.row = (t.point - i.point).dot(i.direction) > 0 ? 1 : 0;
    return;
  }
  if (i.type != SurfaceType::Cylinder && i.type != SurfaceType::Cone) return;
  constexpr double kSameHeight = 0.05; // mm
  std::map<double, int> heights;       // of rows
  for (Touch& t : touches) {
    const double h = (t.point - i.point).dot(i.direction);
    const auto known = heights.upper_bound(h - kSameHeight);
    if (known != heights.end() && known->first < h + kSameHeight) {
      t.row = known->second;
    } else {
      t.row = static_cast<int>(heights.size());
      heights.emplace(h, t.row);
    }
  }
}

} // namespace

bool settleTouches(const Plan& plan, const MeshTree& part, FeatureId feature,
                   std::vector<Touch>& touches) {
  const NominalFeature& f = plan.nominal(feature);
  const NominalSurface surface(plan.part, f);
  for (Touch& t : touches) {
    constexpr double kOnIt = 0.5; // mm; programs round their figures, and parts are not perfect
    const auto at = part.nearest({{t.point, t.point}, Vec3::Zero(), 0}, 2 * kOnIt, [&](int tag) {
      return std::find(f.faces.begin(), f.faces.end(), FaceId{tag}) == f.faces.end() ||
             surface.normal(FaceId{tag}, t.point).dot(t.normal) < 0.9;
    });
    if (!at || std::abs(surface.distance(FaceId{at->tag}, t.point)) > kOnIt) return false;
    t.face = FaceId{at->tag};
  }
  setRows(f, touches);
  return true;
}

} // namespace alder
