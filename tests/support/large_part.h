// A plate with very many holes and tolerances: what a large casting or a die plate brings.
#pragma once

#include "random_parts.h"

namespace alder::test {

// `holes` stepped holes (three faces each) in rows, as many sizes and positions, in millimetres.
Result<RandomPart> largePart(int holes);

} // namespace alder::test
