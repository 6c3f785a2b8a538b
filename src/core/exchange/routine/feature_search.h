// What a file of others defines, among the features of a plan. CAD frame, mm, radians.
#pragma once

#include "geometry/mesh.h"
#include "plan/plan.h"

namespace alder {

// Features as files tell them apart. A circle is a cylinder of no length, a line one of no
// diameter, a point a sphere of no diameter.
enum class FeatureKind {
  Plane,
  Cylinder,
  Cone,
  Sphere,
  Slot,
  Torus,
  Freeform,
  Circle,
  Line,
  Point
};
FeatureKind featureKindOf(const Ideal& ideal);

struct SoughtFeature {
  FeatureKind kind = FeatureKind::Freeform;
  std::optional<bool> hole;
  Vec3 point = Vec3::Zero();     // of a cone its apex
  Vec3 direction = Vec3::Zero(); // unit, or zero where it is not said
  double diameter = 0, half_angle = 0;
  bool located = false;
};

// How far the feature lies from what is sought; nothing when it is another one. A freeform surface
// is any of them.
std::optional<double> distanceTo(const NominalFeature& feature, const SoughtFeature& sought);

// The plan's feature that is touched there, for definitions without geometry.
std::optional<FeatureId> featureTouchedAt(const Plan& plan, const Points& points);
// The face of the feature that each touch lies on, and its row: touches at one height along an
// axis, or on one side of a slot. False: one of them lies on no face of it. `part` is the mesh of
// the part.
bool settleTouches(const Plan& plan, const MeshTree& part, FeatureId feature,
                   std::vector<Touch>& touches);

} // namespace alder
