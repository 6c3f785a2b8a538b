#include "judge/material.h"

#include <algorithm>
#include <cmath>

namespace alder {

std::optional<SizeLimits> sizeLimitsOf(const Plan& plan, FeatureId feature) {
  const Requirement* size = plan.spec.sizeOf(feature);
  if (!size) return {};
  const double factor = size->radius ? 2 : 1;
  return SizeLimits{factor * size->lower, factor * size->upper};
}

Result<SizeLimits> materialLimitsOf(const Plan& plan, FeatureId id, MaterialModifier modifier) {
  const NominalFeature& f = plan.nominal(id);
  const auto limits = sizeLimitsOf(plan, id);
  if (!limits)
    return fail("{}: the material modifier needs a size with limits on the feature.", f.name);
  const bool maximum = modifier == MaterialModifier::Maximum;
  const bool from_lower = f.ideal.hole == maximum;
  if (!std::isfinite(from_lower ? limits->lower : limits->upper))
    return fail("{}: the {} material limit is the {} limit of its size, which is open.", f.name,
                name(modifier), from_lower ? "lower" : "upper");
  return *limits;
}

Result<double> bonusOf(const Plan& plan, const Requirement& r, FeatureId id,
                       const MeasuredFeature& measured) {
  if (r.material != MaterialModifier::Maximum && r.material != MaterialModifier::Least) return 0.0;
  const NominalFeature& f = plan.nominal(id);
  const auto limits = materialLimitsOf(plan, id, r.material);
  if (!limits) return pass(limits.error());
  const bool maximum = r.material == MaterialModifier::Maximum;
  const Criterion criterion = r.association == AssociateBy::LeastSquares ? Criterion::LeastSquares
                              : maximum                                  ? matingEnvelope(f)
                                                                         : materialEnvelope(f);
  auto actual = actualOf(f, measured, criterion);
  if (!actual) return pass(actual.error());
  if (!actual->size) return fail("{}: a material modifier needs a feature of size.", f.name);
  const bool from_lower = f.ideal.hole == maximum;
  const double departure =
      from_lower ? *actual->size - limits->lower : limits->upper - *actual->size;
  return std::clamp(departure, r.reciprocity ? -r.tolerance : 0.0, limits->upper - limits->lower);
}

} // namespace alder
