// Steps of a routine as JSON; the format is described in docs/files.md.
#pragma once

#include "bench/json_fields.h"
#include "plan/steps.h"
#include "requirement/specification.h"

namespace alder {

Json toJson(const Steps& steps);
// Features that steps speak of must be among these.
Steps readSteps(const JsonFields& fields, const char* key, const Table<NominalFeature>& features);

} // namespace alder
