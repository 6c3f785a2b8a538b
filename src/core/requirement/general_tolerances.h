// General tolerances: what holds for requirements that have no figures of their own. ISO
// 2768-1:1989, tables 1 to 3, and ISO 2768-2:1989, tables 1 to 4; ISO 22081:2021, one tolerance for
// all sizes, one for all angles, one profile for all surfaces; by the number of decimals that a
// nominal is written with, as on drawings by ASME Y14.5; or a table of one's own by sizes.
#pragma once

#include "requirement/specification.h"
#include "requirement/typed/typed.h"
#include <functional>

namespace alder {

// "ISO 2768-m", "ISO 2768-mK", "ISO 22081", "number of decimals", "table"; empty: none.
std::string name(const GeneralTolerances& general);
// Of such a name the classes of ISO 2768; nothing: it is no name of theirs.
std::optional<GeneralTolerances> iso2768Named(std::string_view classes); // "m", "mK"

// A table as a person types or pastes it: a line for each row, "6 0.1", "up to 30: ±0.2",
// "over 30 up to 120 0.3". Error names the line.
Result<std::vector<GeneralRow>> generalRows(std::string_view text);
std::string textOf(const std::vector<GeneralRow>& rows);

// The length by which ISO 2768 goes, mm; nothing: not known. Of an angle (two features, or a cone)
// its shorter leg; of a single feature the longer side of its surface, its diameter or its length.
using DecidingLength = std::function<std::optional<double>(const Requirement&)>;
DecidingLength decidingLengths(const PartModel& part, const Specification& spec);

// How far the dimension may be off its nominal on either side, mm or radians; `decimals` it is
// written with. Error where the rule has nothing for it.
Result<double> generalTolerance(const GeneralTolerances& general, const Requirement& dimension,
                                int decimals, const DecidingLength& length);
// The zone of a geometrical tolerance that has no figure. Error as above.
Result<double> generalZone(const Specification& spec, const Requirement& geometrical,
                           const DecidingLength& length);

// Gives the requirement its limits or its tolerance by the specification's rule, and marks it so.
Done giveGeneral(const Specification& spec, Requirement& requirement, int decimals,
                 const DecidingLength& length);
// The specification with another rule: what follows the old one follows the new. What that has
// nothing for keeps its limits as its own; `notes` says which.
Specification withGeneral(const Specification& spec, const GeneralTolerances& general,
                          const DecidingLength& length, std::vector<std::string>& notes);
// Limits that were changed by hand are its own.
void ownLimits(Requirement& requirement);

} // namespace alder
