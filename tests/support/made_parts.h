// Parts made for tests, with tolerances whose content is known, in any unit and anywhere in space.
#pragma once

#include "pmi_writer.h"
#include "support.h"
#include <functional>
#include <gp_Trsf.hxx>

namespace alder::test {

// Turned and far away; 0 is no motion.
gp_Trsf placed(int k);

// Bracket: base 120 x 80 x 15, wall 15 x 80 x 90, boss ø30 with bore ø16, two bores ø12 through the
// wall, two ø9 through the base, a slot 20 wide. 15 requirements in A|B|C, three planes.
Result<std::string> bracketStep(const std::string& unit, int motion);
// Turned part ø40 / ø28 with a cone end; datums are its axes. 6 requirements, one with datum A-B.
Result<std::string> shaftStep(const std::string& unit, int motion);
// Plate 100 x 70 x 10 times `size`, two bores of 12 times `size`, no orientation fixed beyond A.
Result<std::string> plateStep(double size);

// Draft, route and rehearse with the shipped bench.
struct Job {
  Plan plan;
  Obstacles obstacles;
  Way way;
};
Result<Job> jobFor(const std::string& step);

} // namespace alder::test
