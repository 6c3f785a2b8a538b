// General tolerances: what holds for dimensions that have no limits of their own. ISO 2768-1:1989,
// tables 1 to 3; ISO 22081:2021, one tolerance for all sizes and one for all angles; or by the
// number of decimals that a nominal is written with, as on drawings by ASME Y14.5.
#pragma once

#include "requirement/specification.h"
#include "requirement/typed/typed.h"
#include <functional>

namespace alder {

// "ISO 2768-m", "ISO 22081", "number of decimals"; empty: none.
std::string name(const GeneralTolerances& general);

// Length of the shorter leg of an angle, mm, by which ISO 2768-1 goes; nothing: not known.
using LegOf = std::function<std::optional<double>(const Requirement&)>;
LegOf legsOf(const PartModel& part, const Specification& spec);

// How far the dimension may be off its nominal on either side, mm or radians; `decimals` it is
// written with. Error where the rule has nothing for it.
Result<double> generalTolerance(const GeneralTolerances& general, const Requirement& dimension,
                                int decimals, const LegOf& leg);

// Gives the requirement its limits by the specification's rule, and marks it so.
Done giveGeneral(const Specification& spec, Requirement& dimension, int decimals, const LegOf& leg);
// The specification with another rule: what follows the old one follows the new. What that has
// nothing for keeps its limits as its own; `notes` says which.
Specification withGeneral(const Specification& spec, const GeneralTolerances& general,
                          const LegOf& leg, std::vector<std::string>& notes);
// Limits that were changed by hand are its own.
void ownLimits(Requirement& dimension);

} // namespace alder
