// The features of a routine on a newer model of its part: where they lie there, and which of their
// touches still hold.
#pragma once

#include "plan/plan.h"
#include "revision/model_comparison.h"

namespace alder {

struct CarriedFeature {
  FeatureId id;
  SurfaceFate fate = SurfaceFate::Stayed; // the worst of its surfaces
  NominalFeature nominal;                 // on the newer model; of a gone one as it was
  std::vector<Touch> touches;             // its own where they hold, moved with it where it moved
  Frame move = Frame::Identity();
  std::string why_anew; // why its touches are planned anew; empty: they are those above
};

// Touched features in the order of the routine; constructed ones are none.
std::vector<CarriedFeature> carriedFeatures(const Plan& plan, const PartModel& now,
                                            const ModelComparison& comparison);

// The faces of the newer model that faces of the older one became, ascending.
std::vector<FaceId> facesNow(const PartModel& before, const PartModel& now,
                             const ModelComparison& comparison, const std::vector<FaceId>& faces);

} // namespace alder
