// The setup correction of measured points, and the file that it is handed on in.
#pragma once

#include "run/setup_correction.h"

namespace alder {

enum class CorrectionAxes { Part, Machine };

// `csv` as a run wrote it; `label` names it in messages.
Result<SetupCorrection> correctionOfPoints(const Plan& plan, const std::string& csv,
                                           const std::string& label, CorrectionAxes axes,
                                           const std::string& order);

// In the form that the ending asks for: .csv, .json, .txt (4x4), .step, or .nc by a template;
// without one by that which ships.
Done writeCorrection(const SetupCorrection& correction, const std::string& name,
                     const std::string& target, const std::string& form = {});

} // namespace alder
