// Where the part stands on the table.
#pragma once

#include "plan/plan.h"

namespace alder {

// A block from the table up to the lowest point of the part, where no fixture is given.
void addPedestal(Bench& bench, const PartModel& part, const Frame& placement);
// Chooses a placement on the table and adds a pedestal under the part to the bench's fixture.
Frame placeOnTable(const PartModel& part, const Specification& spec, Bench& bench);

} // namespace alder
