#include "route/touch_leverage.h"

#include "fit/small_linear.h"
#include "requirement/datum_targets.h"
#include <cmath>
#include <limits>

namespace alder {
namespace {

bool hasSize(const Ideal& i) {
  return i.type == SurfaceType::Cylinder || i.type == SurfaceType::Sphere ||
         i.type == SurfaceType::Slot;
}

// What a small motion of the surface and a change of its size do along the normal of a touch.
SmallVector rowOf(const Ideal& ideal, const Touch& t, const Vec3& middle, double reach) {
  SmallVector row(7);
  row << (t.point - middle).cross(t.normal) / reach, t.normal, hasSize(ideal) ? 1.0 : 0.0;
  return row;
}

} // namespace

double leverageAt(const Ideal& ideal, const std::vector<Touch>& touches,
                  const std::vector<Touch>& places) {
  constexpr double kNothing = 1e-6; // of the best held direction: a symmetry of the shape
  if (ideal.type == SurfaceType::Freeform || ideal.type == SurfaceType::Torus || places.empty())
    return 1;
  Vec3 middle = Vec3::Zero();
  for (const Touch& p : places)
    middle += p.point / static_cast<double>(places.size());
  double reach = 1e-3;
  for (const Touch& p : places)
    reach = std::max(reach, (p.point - middle).norm());
  const auto sumOf = [&](const std::vector<Touch>& all) {
    SmallMatrix sum = SmallMatrix::Zero(7, 7);
    for (const Touch& t : all) {
      const SmallVector row = rowOf(ideal, t, middle, reach);
      sum += row * row.transpose();
    }
    return sum;
  };
  // What touches at all places would hold; the rest are motions of the shape in itself.
  const Eigenpairs full = eigenpairs(sumOf(places));
  int first = 0;
  while (first < 7 && full.values[first] < kNothing * full.values[6])
    ++first;
  const SmallMatrix held = full.vectors.rightCols(7 - first);
  const Eigenpairs here = eigenpairs(held.transpose() * sumOf(touches) * held);
  if (here.values.size() == 0 ||
      here.values[0] < kNothing * kNothing * std::max(1.0, here.values[here.values.size() - 1]))
    return std::numeric_limits<double>::infinity();
  double most = 0;
  for (const Touch& p : places) {
    const SmallVector seen =
        here.vectors.transpose() * (held.transpose() * rowOf(ideal, p, middle, reach));
    double square = 0;
    for (int k = 0; k < seen.size(); ++k)
      square += seen[k] * seen[k] / here.values[k];
    most = std::max(most, square);
  }
  return std::sqrt(most);
}

bool touchedPoorly(const Plan& plan, const Feature& f) {
  const NominalFeature& n = plan.nominal(f.id);
  if (!f.covered() || n.faces.empty() || n.portion || f.access_forced ||
      f.recipe.stroke != Stroke::Touches)
    return false;
  const auto places = planTouches(*plan.part, n, f.recipe, plan.tip(f.access).edgeRoom(), {},
                                  targetsOf(plan.spec, f.id));
  // Those of its portions hold it too.
  std::vector<Touch> all;
  for (FeatureId id : withPortions(plan.spec, f.id))
    if (const Feature* portion = plan.features.find(id); portion && portion->covered())
      all.insert(all.end(), portion->touches.begin(), portion->touches.end());
  return leverageAt(n.ideal, all, places) > kMostLeverage;
}

} // namespace alder
