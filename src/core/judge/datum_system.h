// The datum system of a requirement, fitted in order to the measured datum features (ISO 5459):
// from outside the material, or by least squares where the requirement says so.
#pragma once

#include "fit/rigid_fit.h"
#include "judge/virtual_boundary.h"

namespace alder {

// A datum feature of size at M or L: its surface may not violate the boundary, which leaves it room
// in the system where the boundary is looser than the feature (ISO 2692 4.2.2; ASME datum shift).
struct DatumShift {
  FeatureId feature;
  VirtualBoundary boundary;
  // What may not violate it: the touched points; of a bore, shaft or ball that few touches show, its
  // envelope (a cylinder's ends) all round, since between them the points would allow too much.
  Points surface;
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
