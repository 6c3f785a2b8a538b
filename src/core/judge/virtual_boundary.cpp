#include "judge/virtual_boundary.h"

#include "base/units.h"
#include "judge/material.h"
#include "requirement/modifiers.h"
#include <algorithm>
#include <cmath>

namespace alder {

double VirtualBoundary::beyond(const Ideal& nominal, const Vec3& p) const {
  const Vec3 r = p - nominal.point;
  const double along = r.dot(nominal.direction);
  const double off = nominal.type == SurfaceType::Sphere ? r.norm()
                     : nominal.type == SurfaceType::Slot ? std::abs(along)
                                                         : (r - along * nominal.direction).norm();
  return outside * (off - size / 2) + allowed / 2;
}

bool isOfSize(const NominalFeature& f) {
  const auto type = f.ideal.type;
  return (type == SurfaceType::Cylinder || type == SurfaceType::Slot ||
          type == SurfaceType::Sphere) &&
         f.ideal.diameter > 0 && !f.isConstructed();
}

// On how many heights the points lie, as far apart as points of a ring of so many are: touches that
// are strewn over a cylinder are no ring, though they come as one row.
static std::size_t levelsOf(const NominalFeature& f, const MeasuredFeature& m, std::size_t ring) {
  const double apart = kPi * f.ideal.diameter / static_cast<double>(ring);
  std::vector<double> heights;
  for (const Vec3& p : m.points)
    heights.push_back((p - f.ideal.point).dot(f.ideal.direction));
  std::sort(heights.begin(), heights.end());
  std::size_t levels = 0;
  double lowest = 0; // of a level; so that noise parts no ring
  for (const double height : heights)
    if (levels == 0 || height - lowest > apart) lowest = height, ++levels;
  return levels;
}

bool showSurface(const NominalFeature& f, const MeasuredFeature& m) {
  constexpr std::size_t kDense = 24, kDenseBall = 96; // as near to each other on half a ball
  if (f.ideal.type == SurfaceType::Slot) return true;
  if (f.ideal.type == SurfaceType::Sphere) return m.points.size() >= kDenseBall;
  return m.points.size() >= kDense * std::max(m.byRow().size(), levelsOf(f, m, kDense));
}

bool judgedByBoundary(const Requirement& r, const NominalFeature& f, const MeasuredFeature& m) {
  if (r.material != MaterialModifier::Maximum && r.material != MaterialModifier::Least)
    return false;
  if (!isOfSize(f) || isProfile(r.kind) || zoneProjection(r) > 0) return false;
  if (f.ideal.type == SurfaceType::Cylinder && r.zone == Zone::Planar) return false;
  if (r.of != Extracted::Surface && !showSurface(f, m)) return false;
  return r.association == AssociateBy::Standard &&
         (r.of == Extracted::Standard || r.of == Extracted::Surface);
}

Result<VirtualBoundary> virtualBoundaryOf(const Plan& plan, const Requirement& r, FeatureId id,
                                          const MeasuredFeature& measured) {
  const NominalFeature& f = plan.nominal(id);
  const bool maximum = r.material == MaterialModifier::Maximum;
  auto bonus = bonusOf(plan, r, id, measured);
  if (!bonus) return pass(bonus.error());
  auto mating = actualOf(f, measured, maximum ? matingEnvelope(f) : materialEnvelope(f));
  if (!mating) return pass(mating.error());
  const auto limits = sizeLimitsOf(plan, id); // bonusOf has seen to it that there are some
  const bool from_lower = f.ideal.hole == maximum;
  VirtualBoundary b;
  b.size = from_lower ? limits->lower - r.tolerance : limits->upper + r.tolerance;
  b.allowed = r.tolerance + *bonus;
  b.outside = from_lower ? -1 : 1;
  b.mating = mating->derived;
  return b;
}

} // namespace alder
