// What the notes of a drawing say of all its dimensions: their unit, their general tolerances.
#pragma once

#include "requirement/typed/typed.h"

namespace alder {

std::optional<LengthUnit> unitIn(const std::string& note);
// "ISO 2768-mK", "DIN ISO 2768 - m", "ISO 22081 ..."; linear tolerances alone.
std::optional<GeneralTolerances> generalIn(const std::string& note);

} // namespace alder
