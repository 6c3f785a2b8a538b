// Where a feature is touched: spread points on planes, rings on cylinders and cones, a cap on
// spheres, a parameter grid on freeform faces; only on material, away from edges by a ball radius
// and the recipe's margin. CAD frame, mm.
#pragma once

#include "part/face_region.h"
#include "plan/touches/recipe.h"
#include <functional>
#include <string>

namespace alder {

struct Touch {
  Vec3 point, normal; // on the surface; outward. The machine moves against the normal.
  FaceId face;
  int row = 0; // ring or section it belongs to; slots: 0 and 1 are the sides
  friend bool operator==(const Touch&, const Touch&) = default;
};

// Says whether a place can be used at all, e.g. whether a ball fits there or a stylus reaches it.
using Usable = std::function<bool(const SurfacePoint&)>;

// May return fewer touches than asked for, also none. Ordered as the machine takes them; those at
// datum targets come last, each target in a row of its own.
std::vector<Touch> planTouches(const PartModel& part, const NominalFeature& feature,
                               const Recipe& recipe, double ball_radius, const Usable& usable,
                               const std::vector<DatumTarget>& targets = {});

// One touch where a person wants it. Error says why there can be none: off the material, too near
// an edge for the ball, in a place that is taken.
Result<Touch> touchAtPlace(const PartModel& part, const NominalFeature& feature,
                           const std::vector<Touch>& others, const Vec3& place, double ball_radius);

// What is wrong with touches as they are now: off the material, on another face, too near an edge
// for the ball. By touch; empty where nothing is.
std::vector<std::string> faultsOf(const PartModel& part, const NominalFeature& feature,
                                  const std::vector<Touch>& touches, double ball_radius);

// Touches of one target on the feature; none when it lies off the material, or too near an edge for
// the ball.
std::vector<Touch> touchesAt(const PartModel& part, const NominalFeature& feature,
                             const DatumTarget& target, double ball_radius, int row);

// The touches with those at the targets `before` replaced by those at the targets `after`.
std::vector<Touch> withTargets(const PartModel& part, const NominalFeature& feature,
                               std::vector<Touch> touches, double ball_radius,
                               const std::vector<DatumTarget>& before,
                               const std::vector<DatumTarget>& after);

// Do the touches fix the feature: enough of them, and spread widely enough to be judged?
// Of a contour along one line, a few on it do; what asks for more says so when it is judged.
bool touchesSuffice(const Ideal& ideal, const std::vector<Touch>& touches,
                    Stroke stroke = Stroke::Touches);

// How far apart they lie, mm: along the axis of what is round, the larger standard deviation along
// a plane; 0 for other shapes. The farther, the less noise turns what is fitted to them.
double spreadOf(const Ideal& ideal, const std::vector<Touch>& touches);

// The smaller standard deviation along a plane, mm; 0 for other shapes.
double widthOf(const Ideal& ideal, const std::vector<Touch>& touches);

// Does no gap between them leave more than half a turn open, in either half of their length, so
// that the largest or smallest cylinder is fixed by them and cannot tilt? Always for what is not
// round.
bool touchesAllRound(const Ideal& ideal, const std::vector<Touch>& touches);

} // namespace alder
