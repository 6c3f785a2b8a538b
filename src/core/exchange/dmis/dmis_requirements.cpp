#include "exchange/dmis/dmis_requirements.h"

#include "requirement/limits.h"
#include <algorithm>
#include <cmath>

namespace alder::dmis {
namespace {

// One that the plan has is that one.
bool hasLike(const Plan& plan, const Requirement& r) {
  constexpr double kSame = 1e-5;
  const auto& all = plan.spec.requirements;
  return std::any_of(all.begin(), all.end(), [&](const Requirement& other) {
    return other.kind == r.kind && other.features == r.features &&
           sameLimit(other.tolerance, r.tolerance, kSame) &&
           sameLimit(other.lower, r.lower, kSame) && sameLimit(other.upper, r.upper, kSame) &&
           other.datums.size() == r.datums.size();
  });
}

// DMIS tells no shape of a zone: round about axes, between planes elsewhere.
void setZone(Requirement& r, const Ideal& ideal) {
  const bool located = isOrientation(r.kind) || r.kind == Characteristic::Position ||
                       r.kind == Characteristic::Coaxiality || r.kind == Characteristic::Size;
  if (r.kind == Characteristic::Size && ideal.type == SurfaceType::Sphere) r.zone = Zone::Spherical;
  if (!located || r.zone == Zone::Spherical) return;
  r.zone = hasAxis(ideal) ? Zone::Diametral : Zone::Planar;
}

// Deviations alone were said: the nominal is the feature's.
void setNominal(Requirement& r, const Ideal& ideal) {
  const bool cone_angle =
      r.kind == Characteristic::Angle && r.features.size() == 1 && r.nominal == 0;
  if (r.kind != Characteristic::Size && !cone_angle) return;
  r.nominal = cone_angle ? 2 * ideal.half_angle : ideal.diameter / (r.radius ? 2 : 1);
  r.lower += r.nominal, r.upper += r.nominal;
}

} // namespace

bool ProgramRequirements::define(const std::string& label, const Statement& tolerance,
                                 const Units& units) {
  const auto r = requirementFor(tolerance, units);
  if (r) tolerances_[label] = *r;
  return r.has_value();
}

void ProgramRequirements::output(const std::string& label, const std::vector<FeatureId>& features) {
  auto& of = outputs_[label];
  if (of.empty()) order_.push_back(label);
  if (std::find(of.begin(), of.end(), features) == of.end()) of.push_back(features);
}

namespace {

Requirement asked(const Plan& plan, Requirement r, const std::vector<FeatureId>& features) {
  r.features = features;
  const Ideal& ideal = plan.nominal(r.features.front()).ideal;
  setNominal(r, ideal);
  if (isDimension(r.kind))
    r.tolerance = r.upper - r.lower;
  else
    r.upper = r.tolerance;
  setZone(r, ideal);
  return r;
}

} // namespace

void ProgramRequirements::addTo(Plan& plan) const {
  int balloon = 0;
  for (const Requirement& r : plan.spec.requirements)
    balloon = std::max(balloon, r.balloon);
  for (const std::string& label : order_) {
    std::vector<std::vector<FeatureId>> results = outputs_.at(label);
    std::vector<FeatureId> all;
    for (const auto& features : results)
      for (FeatureId id : features)
        if (std::find(all.begin(), all.end(), id) == all.end()) all.push_back(id);
    const Requirement& tolerance = tolerances_.at(label);
    if (hasLike(plan, asked(plan, tolerance, all))) continue;
    if (as_one_.count(label) > 0) results = {all};
    for (const auto& features : results) {
      Requirement r = asked(plan, tolerance, features);
      if (hasLike(plan, r)) continue;
      r.id = plan.spec.requirements.next();
      r.balloon = ++balloon;
      plan.spec.requirements.push_back(std::move(r));
    }
  }
}

} // namespace alder::dmis
