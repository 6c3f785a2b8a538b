#include "plan/feature_edit.h"

#include "plan/references.h"
#include <algorithm>

namespace alder {
namespace {

Done mayGo(const Plan& plan, FeatureId id) {
  const std::string& gone = plan.nominal(id).name;
  Done may;
  visitFeatures(plan, [&](FeatureId of, const Referrer& by) {
    using Kind = Referrer::Kind;
    if (of != id || !may || by.kind == Kind::Original) return;
    may = by.kind == Kind::Construction
              ? fail("{} is constructed from {}; remove it first.", by.name, gone)
          : by.kind == Kind::Portion
              ? fail("{} is touched with {}; remove it first.", by.name, gone)
          : by.kind == Kind::Datum ? fail("{} is datum {}; it cannot go.", gone, by.name)
          : by.kind == Kind::Copy
              ? fail("{} is a copy in {}; leave the copy out instead.", gone, by.name)
          : by.kind == Kind::NamedFrame
              ? fail("Frame {} speaks of {}; change it first.", by.name, gone)
          : by.kind == Kind::PartFrame ? fail("{} is of the part frame; it cannot go.", gone)
                                       : fail("{} speaks of {}; remove it first.", words(by), gone);
  });
  return may;
}

} // namespace

Result<RemoveFeature> addFeature(Plan& plan, const AddFeature& e) {
  const bool constructed = e.nominal.isConstructed();
  if (!constructed && e.nominal.faces.empty()) return fail("A feature of the part needs a face.");
  const std::size_t touched = touchedCount(plan), count = plan.spec.features.size();
  const std::size_t at = e.place.value_or(constructed ? count : touched);
  if (at < (constructed ? touched : 0) || at > (constructed ? count : touched))
    return fail("The feature cannot be put in this place.");
  if (!e.nominal.id.valid() || plan.spec.features.holds(e.nominal.id))
    return fail("{} has the number of another feature.", e.nominal.name);
  // What ends where it is touched is another one with each set of touches.
  for (const NominalFeature& f : plan.spec.features)
    if (!constructed && !e.nominal.as_touched && !e.nominal.portion && f.faces == e.nominal.faces &&
        f.ideal.type == e.nominal.ideal.type)
      return fail("{} is in this routine already.", f.name);
  if (e.nominal.portion && !plan.spec.features.holds(e.nominal.portion->of))
    return fail("{} is a part of a feature that is not there.", e.nominal.name);
  Feature feature = e.feature;
  feature.id = e.nominal.id;
  plan.spec.features.insert(at, e.nominal);
  plan.features.insert(at, std::move(feature));
  return RemoveFeature{e.nominal.id};
}

Result<AddFeature> removeFeature(Plan& plan, const RemoveFeature& e) {
  if (!plan.spec.features.holds(e.feature)) return fail("The feature is not in this routine.");
  if (auto may = mayGo(plan, e.feature); !may) return pass(may.error());
  AddFeature inverse{plan.nominal(e.feature), plan.feature(e.feature),
                     plan.spec.features.placeOf(e.feature)};
  plan.spec.features.erase(e.feature);
  plan.features.erase(e.feature);
  return inverse;
}

} // namespace alder
