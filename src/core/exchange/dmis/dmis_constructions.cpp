#include "exchange/dmis/dmis_constructions.h"

#include "exchange/dmis/dmis_own_features.h"
#include "plan/constructions/constructed_feature.h"
#include <algorithm>

namespace alder::dmis {
namespace {

// By the word of what is constructed and that of how.
std::optional<ConstructionKind> kindOf(const std::string& what, const std::string& how) {
  using enum ConstructionKind;
  if (how == "BF") {
    if (what == "CIRCLE" || what == "ARC") return CircleThrough;
    if (what == "PLANE") return PlaneThrough;
    if (what == "LINE") return LineThrough;
  }
  if (how == "INTOF") return Intersection;
  if (how == "MIDPT" || how == "MIDLI" || how == "MIDPL") return Middle;
  if (how == "PROJPT" || how == "PROJLI" || how == "PROJCT") return Projection;
  if (how == "PIERCE") return Pierce;
  return {};
}

} // namespace

Result<FeatureId>
constructedBy(Plan& plan, const Statement& s, const std::string& name,
              const std::function<std::optional<FeatureId>(const std::string&)>& labelled) {
  const auto is = [&](std::size_t i) {
    return i < s.arguments.size() ? upperCase(s.arguments[i]) : "";
  };
  const auto kind = kindOf(is(0), is(2));
  if (!kind) return fail("{} {} is not constructed here", is(0), is(2));
  Construction construction;
  construction.kind = *kind;
  for (std::size_t i = 3; i < s.arguments.size(); ++i) {
    if (!referenceIn(s.arguments[i])) return fail("{} is not understood", s.arguments[i]);
    const auto parent = labelled(s.arguments[i]);
    if (!parent) return fail("{} is no feature of this part", s.arguments[i]);
    construction.of.push_back(*parent);
  }
  // What runs through is as wide as what it runs through, wherever that was touched.
  const bool through = *kind == ConstructionKind::PlaneThrough ||
                       *kind == ConstructionKind::LineThrough ||
                       *kind == ConstructionKind::CircleThrough;
  for (FeatureId of : construction.of)
    if (through && plan.nominal(of).ideal.type == SurfaceType::Plane)
      return fail("it fits the points of planes, which have no centres");
  for (const NominalFeature& f : plan.spec.features)
    if (f.from && *f.from == construction) return f.id;
  auto spec = withConstructed(plan, construction, nameFrom(plan.spec, name));
  if (!spec) return pass(spec.error());
  plan.spec = std::move(*spec);
  Feature feature;
  feature.id = plan.spec.features.back().id;
  plan.features.push_back(feature);
  return feature.id;
}

} // namespace alder::dmis
