// Requirements, features and datums out of the tolerance data of a CAD part.
#pragma once

#include "requirement/specification.h"

namespace alder {

// Balloons follow the order in the file. `notes` receives what is not taken over or interpreted.
Specification specificationFromPmi(const PartModel& part, std::vector<Note>& notes);

// "Bore ø32", "Plane 3": what a person would call the surface; numbered where several share it.
std::string featureName(const Ideal& ideal);

// A name that no other feature has: "Bore ø6 · 2" where there is one of that kind.
std::string freeFeatureName(const Specification& spec, std::string wanted);

} // namespace alder
