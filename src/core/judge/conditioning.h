// What is done to the points before a requirement is judged: outliers left out and profiles
// filtered, always from the points as they came, and constructed features computed.
#pragma once

#include "judge/actual.h"
#include "plan/constructions/constructed_feature.h"

namespace alder {

struct Conditioned {
  Measurements measured; // what the requirement needs, its constructed features included
  std::map<FeatureId, std::string> why; // what could not be computed, and why
  std::string how;                      // "Gaussian filter 15 undulations per revolution"
};

// Filters the requirement's own features by its settings, else each by its own; datum features each
// by their own. Error when a filter does not fit a feature's points.
Result<Conditioned> conditioned(const Plan& plan, const Requirement& requirement,
                                const Measurements& raw);

// The features of a requirement, of its datums, and of what is held at the same time.
std::vector<FeatureId> neededBy(const Specification& spec, const Requirement& requirement);

// One feature filtered. Profiles are the rings of round features, and the sections of any.
Result<MeasuredFeature> filteredFeature(const Plan& plan, const NominalFeature& feature,
                                        const MeasuredFeature& raw, const Filtering& filtering);

// The measured feature as constructions see it: least-squares geometry and its points.
Result<Shaped> measuredShape(const NominalFeature& feature, const MeasuredFeature& measured);

} // namespace alder
