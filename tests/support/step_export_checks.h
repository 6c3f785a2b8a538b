// What a written model has to be, checked on files without geometry: read back by the reader of PMI
// it says what was to be written, or the writer has told. Each answers what is wrong, empty if
// nothing is.
#pragma once

#include "pmi_cases.h"
#include "requirement/specification.h"

namespace alder::test {

// Nothing was changed: the same bytes.
std::string exportUnchanged(const PmiCase& c);
// Its requirement was corrected: written anew, the others as they were.
std::string exportCorrected(const PmiCase& c);
// A requirement was taken away: gone, and the others as they were.
std::string exportWithout(const PmiCase& c);
// A datum was laid on another face: what refers to it refers to the new one.
std::string exportWithOtherDatum(const PmiCase& c);
// Requirements of every kind added by hand to a file that has none, in the units named by the
// numbers of `pmiFile`.
std::string exportMade(std::uint64_t seed, const std::string& length_unit,
                       const std::string& angle_unit);

} // namespace alder::test
