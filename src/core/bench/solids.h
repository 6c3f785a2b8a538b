// Simple solids as triangles.
#pragma once

#include "geometry/mesh.h"

namespace alder {

// A prism of 32 sides around the cylinder, so that clash checks err on the safe side by at most
// 0.5 % of the radius. All triangles get tag 0.
// A ball whose facets all lie outside of it or touch it, by at most 1 % of its radius.
void appendBall(Mesh& mesh, const Vec3& centre, double diameter);
void appendCylinder(Mesh& mesh, const Vec3& from, const Vec3& to, double diameter);

} // namespace alder
