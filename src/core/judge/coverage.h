// Whether the planned touches suffice to judge a requirement: tried on points as an exact part would
// bring them, without and with the machine's probing noise, so that what a fit, a datum system or a
// filter lacks is told when the routine is planned, not after the run.
#pragma once

#include "base/progress.h"
#include "plan/plan.h"
#include <map>
#include <memory>
#include <mutex>

namespace alder {

struct Tried {
  std::string why; // not covered, in one sentence; empty: covered
  // Root mean square of what probing noise alone does to the result, as a share of the tolerance.
  double noise = 0;
  friend bool operator==(const Tried&, const Tried&) = default;
};

// Noise of more than this share leaves the verdict to chance. Where the touches' places make it so
// large, the requirement does not count as covered.
constexpr double kMostNoise = 0.2;

// By requirement. Features that are not touched come first in `why`; then what the judge says; then
// touches so close together that noise turns what is fitted to them. Cancelled: what was found so far.
using Coverage = std::map<RequirementId, Tried>;
Coverage coverageOf(const Plan& plan, const Progress& progress = {});
Tried coverageOf(const Plan& plan, const Requirement& requirement);


// What was found, each for its state of the plan. Several threads may use one.
class CoverageMemory {
 public:
  void keep(RequirementId id, Tried tried, std::shared_ptr<const Plan> plan);
  // What stands for this plan too, since neither the touches nor what is asked for differ.
  std::optional<Tried> find(const Plan& plan, const Requirement& requirement) const;

 private:
  struct Kept {
    Tried tried;
    std::shared_ptr<const Plan> plan;
  };
  mutable std::mutex mutex_;
  std::map<RequirementId, Kept> all_;
};
// By what stands; the rest is tried and kept as it is found, so that a cancelled one loses nothing.
Coverage coverageOf(const std::shared_ptr<const Plan>& plan, CoverageMemory& memory,
                    const Progress& progress = {});

} // namespace alder
