// Which characteristics a first article accounts for, and why.
#pragma once

#include "plan/plan.h"

namespace alder {

struct ArticleEntry {
  RequirementId requirement;
  std::string why; // of a delta article what changed; else empty
};

// Of a full article all, in the routine's order. Of a delta article what is new, is asked
// otherwise, whose features or datum features lie or are sized otherwise in the CAD frame, and what
// was outside then. None where a delta article has no baseline.
std::vector<ArticleEntry> articleEntries(const Plan& plan);

// What the baseline asked for and the routine does not any more: "4 (size ø8)".
std::vector<std::string> goneSince(const Plan& plan, const ArticleBaseline& baseline);

// The routine as it is now, for the delta article after this one. `outside`: characteristics with a
// nonconformance.
ArticleBaseline baselineOf(const Plan& plan, const std::vector<RequirementId>& outside,
                           const std::string& date);

// A baseline kept by another routine of the part, whose characteristics are known here by their
// numbers, and their features by their names.
ArticleBaseline carriedBaseline(const Plan& plan, const Plan& other, ArticleBaseline baseline);

} // namespace alder
