#include "judge/verdict_basis.h"

#include "judge/conditioning.h"
#include "requirement/formula.h"
#include <algorithm>

namespace alder {
namespace {

bool shareFeature(const Requirement& a, const std::set<FeatureId>& features) {
  return std::any_of(a.features.begin(), a.features.end(),
                     [&](FeatureId id) { return features.contains(id); });
}

bool hasModifier(const Requirement& r) {
  return r.material != MaterialModifier::None ||
         std::any_of(r.datums.begin(), r.datums.end(),
                     [](const DatumReference& d) { return d.material != MaterialModifier::None; });
}

class Collector {
 public:
  explicit Collector(const Specification& spec)
      : spec_(spec) {}

  VerdictBasis of(const Requirement& r) {
    judged(r);
    // What joins the set-ups, whichever they are.
    for (const NominalFeature& f : spec_.features)
      if (f.portion && f.portion->joins) basis_.features.insert({f.id, f.portion->of});
    return std::move(basis_);
  }

 private:
  // A requirement whose figure is needed.
  void judged(const Requirement& r) {
    if (!judged_.insert(r.id).second) return;
    basis_.requirements.insert(r.id);
    if (r.kind == Characteristic::Value) return formula(r);
    const auto needed = neededBy(spec_, r);
    for (FeatureId id : needed)
      feature(id);
    const std::set<FeatureId> own(r.features.begin(), r.features.end());
    const std::set<FeatureId> all(needed.begin(), needed.end());
    bool modified = hasModifier(r);
    for (const Requirement* other : simultaneous(spec_, r)) {
      basis_.requirements.insert(other->id);
      modified |= hasModifier(*other);
    }
    for (const Requirement& other : spec_.requirements) {
      // Sizes that give a bonus, and tolerances that widen a datum's boundary.
      if (modified && shareFeature(other, all)) basis_.requirements.insert(other.id);
      // A size may have what others leave unused (ISO 2692 R).
      if (r.kind == Characteristic::Size && other.reciprocity && shareFeature(other, own))
        judged(other);
    }
  }

  void formula(const Requirement& r) {
    const auto references = referencesIn(r.formula);
    if (!references) return; // it has no figure, whatever else there is
    for (const FormulaReference& reference : *references) {
      for (const Requirement& other : spec_.requirements)
        if (reference.balloon > 0 && other.balloon == reference.balloon) judged(other);
      for (const NominalFeature& f : spec_.features)
        if (reference.balloon == 0 && f.name == reference.feature) feature(f.id);
    }
  }

  void feature(FeatureId id) {
    if (!spec_.features.holds(id) || !basis_.features.insert(id).second) return;
    for (FeatureId portion : withPortions(spec_, id))
      basis_.features.insert(portion);
    if (const auto& from = spec_.feature(id).from)
      for (FeatureId parent : from->of)
        feature(parent);
  }

  const Specification& spec_;
  VerdictBasis basis_;
  std::set<RequirementId> judged_;
};

// All of it that is no feature and no requirement.
Specification settingsOf(const Specification& spec) {
  Specification settings = spec;
  settings.features.clear();
  settings.requirements.clear();
  return settings;
}

// A routine of points from elsewhere plans none.
const std::vector<Touch>& touchesOf(const Plan& plan, FeatureId id) {
  static const std::vector<Touch> none;
  const Feature* f = plan.features.find(id);
  return f ? f->touches : none;
}

SetupId setupOf(const Plan& plan, FeatureId id) {
  const Feature* f = plan.features.find(id);
  return f ? f->setup : SetupId{0};
}

// The order in which set-ups are joined, and how well they must agree.
bool sameSetups(const Plan& a, const Plan& b) {
  return std::equal(a.setups.begin(), a.setups.end(), b.setups.begin(), b.setups.end(),
                    [](const Setup& x, const Setup& y) {
                      return x.id == y.id && x.most_misfit == y.most_misfit;
                    });
}

bool sameRecords(const Plan& a, const Plan& b, const VerdictBasis& basis) {
  return std::all_of(
             basis.requirements.begin(), basis.requirements.end(),
             [&](RequirementId id) { return a.spec.requirement(id) == b.spec.requirement(id); }) &&
         std::all_of(basis.features.begin(), basis.features.end(), [&](FeatureId id) {
           return a.spec.feature(id) == b.spec.feature(id) &&
                  touchesOf(a, id) == touchesOf(b, id) && setupOf(a, id) == setupOf(b, id);
         });
}

bool stands(const Plan& before, const Plan& now, RequirementId id) {
  const Requirement *a = before.spec.requirements.find(id), *b = now.spec.requirements.find(id);
  if (!a || !b) return false;
  const VerdictBasis basis = basisOf(now.spec, *b);
  return basisOf(before.spec, *a) == basis && sameRecords(before, now, basis);
}

bool sameSettings(const Plan& before, const Plan& now) {
  return before.part == now.part && settingsOf(before.spec) == settingsOf(now.spec) &&
         sameSetups(before, now);
}

} // namespace

VerdictBasis basisOf(const Specification& spec, const Requirement& requirement) {
  return Collector(spec).of(requirement);
}

std::set<RequirementId> verdictsThatStand(const Plan& before, const Plan& now) {
  std::set<RequirementId> all;
  if (!sameSettings(before, now)) return all;
  for (const Requirement& r : now.spec.requirements)
    if (stands(before, now, r.id)) all.insert(r.id);
  return all;
}

Plan excerptFor(const Plan& plan, const VerdictBasis& basis) {
  Plan excerpt;
  excerpt.part = plan.part;
  excerpt.spec = settingsOf(plan.spec);
  excerpt.setup = plan.setup;
  for (const Setup& s : plan.setups) { // without what is done in them
    excerpt.setups.push_back({s.id, s.name});
    excerpt.setups.back().most_misfit = s.most_misfit;
  }
  for (const NominalFeature& f : plan.spec.features)
    if (basis.features.contains(f.id)) {
      excerpt.spec.features.push_back(f);
      Feature touched;
      touched.id = f.id;
      touched.touches = touchesOf(plan, f.id);
      if (const Feature* planned = plan.features.find(f.id)) touched.setup = planned->setup;
      excerpt.features.push_back(std::move(touched));
    }
  for (const Requirement& r : plan.spec.requirements)
    if (basis.requirements.contains(r.id)) excerpt.spec.requirements.push_back(r);
  return excerpt;
}

} // namespace alder
