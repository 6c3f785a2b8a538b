// What a dimension is on the part as modelled, from the shapes of its features alone.
#pragma once

#include "requirement/specification.h"

namespace alder {

// mm or radians. Sizes of cylinders, spheres and slots; distances between planes, axes and points
// where these keep one; angles of cones (the whole or half of it) and between directions (of 0° to
// 180°), whichever is nearer to the nominal. Nothing elsewhere, and for what is not a dimension.
std::optional<double> modelFigure(const Specification& spec, const Requirement& requirement);

} // namespace alder
