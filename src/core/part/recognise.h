// Which faces together are one surface, and which ideal geometry it has.
#pragma once

#include "part/model.h"

namespace alder {

// Ideal geometry of one face from its CAD surface (mm); never throws.
Ideal idealOf(const TopoDS_Face& face);

// Partition of all faces: faces of one cylinder, cone, sphere or torus that share an edge are
// joined; planes and freeform faces stay single.
std::vector<Surface> recogniseSurfaces(const PartModel& part);

enum class Grouping { Surfaces, SlotIfParallel };
// The surfaces that a tolerance on `faces` is about: halves are completed, coplanar faces and
// coaxial cylinders of one diameter become one. With SlotIfParallel exactly two parallel opposite
// planes become a slot. Surface ids are those of the part where the surface is one of its own.
std::vector<Surface> surfacesOf(const PartModel& part, const std::vector<FaceId>& faces,
                                Grouping grouping);

bool sameIdeal(const Ideal& a, const Ideal& b);

} // namespace alder
