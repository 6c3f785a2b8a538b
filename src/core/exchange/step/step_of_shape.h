// The shape of a part as a STEP file without tolerances.
#pragma once

#include "part/model.h"

namespace alder {

// AP242, millimetres; all bodies, those that are left out too. Error: the CAD library's reason.
Result<std::string> stepOfShape(const PartModel& part);

} // namespace alder
