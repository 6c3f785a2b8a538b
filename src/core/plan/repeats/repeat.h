// Steps that are repeated elsewhere on the part: which features the copies touch there, what they
// have of their originals, and all steps as they are done.
//
// Nothing is kept of what a copy has: it follows its original for as long as it is what follows
// from it. What a person changes on a copy alone stays so.
#pragma once

#include "plan/edit.h"

namespace alder {

// The features that the steps within a repeat measure, in order.
std::vector<FeatureId> originalsOf(const Steps& steps, std::size_t repeat);

// The step whose copies the feature is of; nothing where it is none.
struct CopyPlace {
  std::size_t step = 0, copy = 0;
  FeatureId original;
};
std::optional<CopyPlace> copyPlaceOf(const Steps& steps, FeatureId feature);

// The steps as they are done: behind those within a repeat the same again for each copy, with ids
// of their own. What was not found on the part is not among them.
struct StepsDone {
  Steps steps;
  std::vector<StepId> origin; // the step of the routine that each comes from; of a copy the repeat
};
StepsDone stepsDone(const Plan& plan);

// What a feature has as a copy of another.
Feature copyOf(const Plan& plan, FeatureId original, const Motion& motion, FeatureId copy);
// Is it still as its original is?
bool followsOriginal(const Plan& plan, FeatureId copy);
// The edits that make it so again.
std::vector<Edit> asOriginal(const Plan& plan, FeatureId copy);

// Why a copy does not measure the like of one of its originals; empty where it does.
std::string whyNoCopy(const Plan& plan, std::size_t repeat, std::size_t copy, FeatureId original);

// The group and what follows from it for repeats: copies found or let go, features taken into the
// routine, measure steps of their own taken out of it, touches, angles, hops and requirements of
// copies as their originals now have them.
Result<EditGroup> withCopies(const Plan& plan, EditGroup group);

// Where the part has the like of these features, as a rule that says where.
Pattern likelyPattern(const Plan& plan, const std::vector<FeatureId>& features);

// A repeat around these steps, and its id.
Result<std::pair<Edit, StepId>> repeatSteps(const Plan& plan, const std::vector<StepId>& ids);

} // namespace alder
