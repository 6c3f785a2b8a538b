// Steps of a routine as JSON; the format is described in docs/files.md.
#pragma once

#include "bench/json_fields.h"
#include "plan/steps/steps.h"
#include "requirement/specification.h"

namespace alder {

Json toJson(const Steps& steps);
// For another routine, or for a program that was made of this one: features by name as well, and
// requirements by number.
Json toTravellingJson(const Steps& steps, const Specification& spec);
// Features and requirements that steps speak of must be among these.
Steps readSteps(const JsonFields& fields, const char* key, const Specification& spec);

} // namespace alder
