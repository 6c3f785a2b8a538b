// Whatever in a plan speaks of a feature by its id, visited in one place: so it is found out
// whether something still stands on a feature that is to go, and whether all that is spoken of is
// there.
#pragma once

#include "plan/plan.h"
#include <functional>
#include <set>

namespace alder {

// Who speaks of it.
struct Referrer {
  enum class Kind {
    Construction,
    Portion,
    Datum,
    Requirement,
    Step,
    Original,
    Copy,
    NamedFrame,
    PartFrame
  };
  Kind kind;
  std::string name; // of the constructed feature, the portion, datum, repeat or frame; balloon of a
                    // requirement
};
// "Requirement 12", "Datum B", "A step": begins a sentence.
std::string words(const Referrer& by);

using FeatureVisit = std::function<void(FeatureId, const Referrer&)>;
void visitFeatures(const Specification& spec, const FeatureVisit& visit);
void visitFeatures(const Steps& steps, const FeatureVisit& visit);
void visitFeatures(const std::vector<PartFrame>& frames, const FeatureVisit& visit);
void visitFeatures(const Plan& plan, const FeatureVisit& visit); // all of them, and the part frame
// Requirements that steps ask for. Formulas name theirs by balloon, see withoutRequirement.
void visitRequirements(const Steps& steps, const std::function<void(RequirementId)>& visit);

// Takes out features that nothing of the specification speaks of and that `known` has not.
void dropUnasked(Specification& spec, const Specification& known);

// Steps that no longer measure, copy or evaluate what is gone; what asks for it otherwise stays.
Steps withoutGone(const Steps& steps, const std::set<FeatureId>& features,
                  const std::set<RequirementId>& requirements);

// Means the same in another routine: speaks of nothing of this one.
bool isGeneral(const StepBody& body);

// Error names the first that speaks of a feature or requirement which is not in the specification.
Done allThere(const Specification& spec);
Done allThere(const Plan& plan);

} // namespace alder
