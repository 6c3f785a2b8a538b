// Requirements of every kind on a part, drawn by lot: all modifiers, datums and groupings that a
// model file can state.
#pragma once

#include "requirement/specification.h"

namespace alder::test {

// The same seed gives the same. Some twenty requirements, six datums. The part has three planes
// and a cylinder at least.
Specification madeSpecification(const PartModel& part, std::uint64_t seed);

} // namespace alder::test
