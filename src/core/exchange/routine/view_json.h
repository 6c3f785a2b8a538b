// A view that a routine keeps, as it is written.
#pragma once

#include "bench/json_fields.h"
#include "plan/kept_view.h"

namespace alder {

Json toJson(const KeptView& view);
KeptView viewFrom(const JsonFields& f); // what is wrong is complained of

} // namespace alder
