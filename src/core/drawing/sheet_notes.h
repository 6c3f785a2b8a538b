// What the notes of a drawing say of all its dimensions: their unit, their general tolerances.
#pragma once

#include "requirement/typed/typed.h"

namespace alder {

std::optional<LengthUnit> unitIn(const std::string& note);
// "ISO 2768-mK", "DIN ISO 2768 - m", "ISO 22081 ..."; linear tolerances alone.
std::optional<GeneralTolerances> generalIn(const std::string& note);
// "1:2", "SCALE 1/2", "Scale 2 : 1"; 0.5 and 2.
std::vector<double> scalesIn(const std::string& text);

} // namespace alder
