// Steps of a routine as JSON; the format is described in docs/files.md.
#pragma once

#include "bench/json_fields.h"
#include "plan/steps.h"

namespace alder {

Json toJson(const Steps& steps);
// Features that steps speak of must be below `features`.
Steps readSteps(const JsonFields& fields, const char* key, std::size_t features);

} // namespace alder
