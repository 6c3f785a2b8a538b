// The boundary of virtual size that the surface of a feature at maximum or least material may not
// violate: outside the material at M (ISO 2692 4.2, ASME Y14.5 virtual condition), inside it at L
// (ISO 2692 4.3). Its form is the feature's own: a cylinder, two planes or a sphere.
#pragma once

#include "judge/actual.h"

namespace alder {

struct VirtualBoundary {
  double size = 0;    // diameter or width
  double allowed = 0; // the tolerance with what the actual size gives, mm
  double outside = 1; // -1: the surface must stay outside (the bore of M, the shaft of L)
  Derived mating;     // axis, mid-plane or centre of the envelope from which the size was taken

  // How far a surface point, given where the nominal is, lies beyond what is allowed less half of
  // `allowed`: twice the largest of it is the deviation that an axis would have with a surface of
  // perfect form, and the surface is good where that is no more than `allowed`.
  double beyond(const Ideal& nominal, const Vec3& point) const;
};

// A cylinder, slot or sphere with a size of its own.
bool isOfSize(const NominalFeature& f);

// Whether the points show the surface: of a cylinder at least 24 to a ring, of a ball 96.
bool showSurface(const NominalFeature& f, const MeasuredFeature& measured);

// Whether the surface decides: a cylinder, slot or sphere at M or L, unless an axis, a median line, a
// projected zone or a criterion of fit is asked for, or the zone lies between planes. Few touches miss
// the place where a round surface comes nearest to its boundary: by as much as 1 % of its offset
// where they are 24 round it, the least that is taken for the surface; with fewer the axis or centre
// decides.
bool judgedByBoundary(const Requirement& r, const NominalFeature& f, const MeasuredFeature& measured);

// Error when the feature has no size limits, or its envelope cannot be fitted.
Result<VirtualBoundary> virtualBoundaryOf(const Plan& plan, const Requirement& r, FeatureId feature,
                                          const MeasuredFeature& measured);

} // namespace alder
