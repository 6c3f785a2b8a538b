// Geometrical tolerances, their zones and how they belong together (ISO 10303-47; ISO 1101).
#pragma once

#include "part/pmi/datums.h"

namespace alder {

// By number of the entity.
std::vector<PmiTolerance> readTolerances(const PmiSource& source, const Aspects& aspects,
                                         const Datums& datums, const Teller& tell);

} // namespace alder
