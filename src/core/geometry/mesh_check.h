// What a mesh encloses, and whether it does (mm).
#pragma once

#include "geometry/mesh.h"

namespace alder {

// Signed volume, mm^3: above 0 where the triangles run counter-clockwise seen from outside.
double volumeOf(const Mesh& mesh);
// Centre of mass of the solid that it encloses, of even density; of a mesh that encloses nothing
// that of its surface.
Vec3 centreOfMass(const Mesh& mesh);
// Edges that do not have a triangle on each side, running opposite ways. Vertices count as the same
// where they are at the same place.
int openEdges(const Mesh& mesh);

// Does a place of one body lie inside of the other, farther than `deep` from its surface? Faces
// that rest on each other do not count, a body wholly inside of the other does. Tried at the
// vertices of each, and on its edges between where they cross the other.
bool reachInto(const Mesh& first, const MeshTree& first_tree, const Mesh& second,
               const MeshTree& second_tree, double deep);

} // namespace alder
