// One requirement over the parts that were measured: mean, spread, control limits, capability.
// Capability and performance indices by ISO 22514-2 for a normal distribution; individuals and
// moving range by ISO 7870-2 (constants for ranges of two). Figures in mm or radians, as the
// requirement counts.
#pragma once

#include "judge/verdict.h"

namespace alder {

// An index with its interval at 95 % confidence: of Cp and Pp by the chi-squared distribution, of
// Cpk and Ppk by Bissell (1990).
struct Index {
  double value = 0, low = 0, high = 0;
};

struct PartHistory {
  std::size_t count = 0;       // of parts that have a figure
  double mean = 0, spread = 0; // standard deviation of all
  double within = 0; // standard deviation from one part to the next: mean moving range / 1.128
  double lowest = 0, highest = 0;
  // Limits within which a process at rest stays; parts beyond them, or whose step from the part
  // before is beyond, by their place among the figures.
  double control_low = 0, control_high = 0, range_high = 0;
  std::vector<std::size_t> beyond;
  std::vector<std::size_t> outside; // of the requirement's limits
  // Nothing where there are too few parts, no spread, or only one limit (Cp and Pp).
  std::optional<Index> cp, cpk, pp, ppk;
};

// Nothing for a limit that is open: geometrical tolerances have an upper one only.
PartHistory historyOf(const std::vector<double>& figures, std::optional<double> lower,
                      std::optional<double> upper);

// The same against the limits of a requirement; of geometry those stated, without a bonus, which
// differs from part to part.
PartHistory historyOf(const Requirement& requirement, const std::vector<double>& figures);

} // namespace alder
