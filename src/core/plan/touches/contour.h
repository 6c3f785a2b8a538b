// Places of an open contour on a surface: a section from one place to another, or a line that keeps
// its distance below an edge. CAD frame, mm.
#pragma once

#include "part/face_region.h"
#include "plan/touches/recipe.h"

namespace alder {

// A place every `pitch` mm, both ends included; where there is no material, as in a hole on the
// way, there is none. Empty when an end lies off the surface, or for a section where both are one.
std::vector<SurfacePoint> sectionPlaces(const FaceRegion& region, const ContourEnds& ends,
                                        double pitch);
std::vector<SurfacePoint> edgePlaces(const FaceRegion& region, const ContourEnds& ends,
                                     double pitch);

// Ends for a contour that is begun anew, from places that are touched now: those farthest apart.
ContourEnds likelyEnds(const Points& places, double below);

} // namespace alder
