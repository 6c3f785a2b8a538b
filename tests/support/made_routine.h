// Routines of the Heron as nobody would write them, with steps of all kinds.
#pragma once

#include "support.h"

namespace alder::test {

// Fewer features in another order, with steps that touch nothing in odd places, and groups.
Plan routineByLot(unsigned seed);
// Every kind of step there is: also moves, swaps, turns, frames, constructions and a repeat.
Plan routineOfEveryKind(bool with_rack);

} // namespace alder::test
