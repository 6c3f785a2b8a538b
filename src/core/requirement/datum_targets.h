// Datum targets as a person writes them, and which of them lie on a feature (ISO 5459 clause
// 6.2.3.5). CAD frame, mm.
#pragma once

#include "base/error.h"
#include "requirement/specification.h"

namespace alder {

// One after another, parted by semicolons: a point "10, 20, 0", an area "10, 20, 0 ø8", a line
// "10, 20, 0 to 30, 20, 0". Error says which target cannot be read.
Result<std::vector<DatumTarget>> targetsFromText(const std::string& text);
std::string describe(const std::vector<DatumTarget>& targets);

// The targets of all datums that the feature belongs to.
std::vector<DatumTarget> targetsOf(const Specification& spec, FeatureId feature);

// Places at which a target is touched, before they are brought to the surface: the point; along the
// line, at most 10 mm apart; the middle of the area and places round it.
Points placesOf(const DatumTarget& target);

} // namespace alder
