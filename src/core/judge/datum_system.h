// The datum system of a requirement, fitted in order to the measured datum features (ISO 5459):
// from outside the material, or by least squares where the requirement says so.
#pragma once

#include "fit/rigid_fit.h"
#include "judge/measurement.h"

namespace alder {

// How far a datum feature of size may lie from its place in the system, because its boundary is
// looser than the feature (ISO 2692 M and L on datums; ASME datum shift).
struct DatumShift {
  FeatureId feature;
  double reach = 0; // mm, from the axis of the actual feature
};

// `fit.placement` maps the CAD frame of the nominal into the measured part. Without datums
// everything stays free and the placement is the identity. Error names the datum that is missing.
struct DatumSystem {
  RigidFit fit;
  std::string how; // "A, B, C in order by least squares"
  // Of systems with modifiers: the freedom when the modified datums fix nothing, in the terms of a
  // fit of its own.
  std::optional<RigidFit> loose;
  std::vector<DatumShift> shifts;
};

Result<DatumSystem> datumSystemOf(const Plan& plan, const Requirement& requirement,
                                  const Measurements& measured);

// The same, and by ASME Y14.5 the further ones in which a primary datum plane that rocks may be
// held; a part is good if one of them makes it so.
Result<std::vector<DatumSystem>> candidateSystems(const Plan& plan, const Requirement& requirement,
                                                  const Measurements& measured);

} // namespace alder
