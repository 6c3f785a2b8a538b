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

// Places that another judge found, of the datum system and of mating envelopes: further starts. They
// count only where they are as good by this judge's own measure. Its programs are of first order and
// stop some 1e-9 mm short of the best size where the points hold a bore so loosely that this is
// micrometres in its place.
struct Suggested {
  std::optional<Frame> system;
  std::map<FeatureId, Frame> mating;
};

// Nothing for requirements that it does not know. The points must lie near the nominals.
std::optional<SecondFigure> secondFigure(const MadeBlock& block, const Requirement& requirement,
                                         const Suggested& suggested = {});

} // namespace alder::test
