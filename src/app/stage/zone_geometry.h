// Tolerance zone and actual axis, plane or centre of one feature as the stage shows them, enlarged.
#pragma once

#include "judge/verdict.h"
#include "stage/scene_object.h"
#include "theme/theme.h"

namespace alder::app {

// `factor`: how much larger than life deviations are drawn. Machine frame. Surfaces are given by
// the faces of the part moved out to the limits of their zone; axes and centres by the zone itself
// and what is measured within it.
std::vector<SceneGeometry> zoneGeometry(const Plan& plan, const Requirement& r,
                                        const FeatureResult& f, double factor, const Theme& theme);

} // namespace alder::app
