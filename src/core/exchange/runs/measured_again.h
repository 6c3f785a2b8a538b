// Features measured again take the place of what a stored run holds of them.
#pragma once

#include "run/run.h"

namespace alder {

// The points of the run with those of `features` as they are in `again`. What they replace stays in
// the text as lines that count for nothing, with the moment (seconds since 1970) above the table.
// Error when `again` lacks one of the features, or the text is no table of points.
Result<std::string> withMeasuredAgain(const Plan& plan, const std::string& csv,
                                      const std::string& label, const Run& again,
                                      const std::vector<FeatureId>& features, std::int64_t seconds);

// "Bore ø32 and Plane · 2 measured again on 2026-11-26 14:03", one line for each time.
std::vector<std::string> measuredAgainIn(const std::string& csv);

} // namespace alder
