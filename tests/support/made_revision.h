// Two states of one part, with what was changed between them known: by lot, and one with
// tolerances. The newer one is built in another order, and every other time written in another
// unit, so that nothing in the file can be matched by its number.
#pragma once

#include "revision/model_comparison.h"

namespace alder::test {

struct MadeChange {
  SurfaceFate fate = SurfaceFate::Gone;
  Vec3 move = Vec3::Zero();
};

struct MadeRevision {
  std::string before, now; // STEP
  std::vector<MadeChange> changes;
};

// A plate with holes (plain, stepped, countersunk), pockets, slots and bosses in a grid; each
// stays, moves, gets another size, goes or comes; the plate may become longer.
Result<MadeRevision> revisedPlate(unsigned seed);

// Plate in A | B | C with eight bores and a slot: sizes, positions, a flatness, a distance. Two
// bores moved, one is new, the slot is gone, three tolerances are others.
Result<MadeRevision> revisedSpecification();

} // namespace alder::test
