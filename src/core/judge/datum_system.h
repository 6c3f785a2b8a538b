// The datum system of a requirement, fitted in order to the measured datum features (ISO 5459; by
// least squares).
#pragma once

#include "fit/rigid_fit.h"
#include "judge/measurement.h"

namespace alder {

// `fit.placement` maps the CAD frame of the nominal into the measured part. Without datums
// everything stays free and the placement is the identity. Error names the datum that is missing.
struct DatumSystem {
  RigidFit fit;
  std::string how; // "A, B, C in order by least squares"
};

Result<DatumSystem> datumSystemOf(const Plan& plan, const Requirement& requirement,
                                  const Measurements& measured);

} // namespace alder
