// A requirement, as routines write it.
#pragma once

#include "bench/json_fields.h"
#include "requirement/specification.h"

namespace alder {

Json toJson(const Requirement& r);
// All but its id and its features, which the caller knows whether they are there. What is wrong is
// complained of.
Requirement requirementFrom(const JsonFields& f);

} // namespace alder
