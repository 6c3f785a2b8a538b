// A second judge that shares no code with the first: slow, plain, by definition. Every fit is a
// smallest largest deviation under constraints, solved as a row of linear programs (GLPK) from several
// starts.
#pragma once

#include "made_block.h"

namespace alder::test {

struct SecondFigure {
  // Twice the largest deviation; of a feature at M or L how much of the virtual boundary its surface
  // leaves unused, as a diameter (negative: violated).
  double figure = 0;
  bool is_margin = false;
};

// Nothing for requirements that it does not know. The points must lie near the nominals.
std::optional<SecondFigure> secondFigure(const MadeBlock& block, const Requirement& requirement);

} // namespace alder::test
