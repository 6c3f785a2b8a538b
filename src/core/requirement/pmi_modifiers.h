// Modifiers of tolerances, datum references and dimensions, by their names in ISO 10303-47 and
// ISO 10303-242, as a requirement holds them.
#pragma once

#include "requirement/specification.h"

namespace alder {

// False when the modifier has no meaning for the judge; the requirement is then unchanged.
bool takeModifier(Requirement& requirement, std::string_view name);
bool takeModifier(DatumReference& reference, std::string_view name);

// The other way, material modifiers apart: of a size as its texts have them, "envelope
// requirement"; of tolerances and datum references as enumerated, "SEPARATE_REQUIREMENT". What has
// no name among them is not in it.
std::vector<std::string> modifierNames(const Requirement& requirement);
std::vector<std::string> modifierNames(const DatumReference& reference);

} // namespace alder
